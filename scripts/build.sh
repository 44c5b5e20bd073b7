#!/usr/bin/env bash
# Builds the web part and then the binary that carries it: debug | release.
source "$(dirname "$0")/lib.sh"
PROFILE=${1:-release}

# The web part is built again only when something of it changed.
stamp=web/dist/.built
if [ ! -e "$stamp" ] || [ -n "$(find web/src web/public web/index.html web/*.ts web/package-lock.json -newer "$stamp" -print -quit 2>/dev/null)" ]; then
  say "Building the web part"
  (cd web && npm run --silent build)
  node scripts/notices.mjs
  touch "$stamp"
fi
say "Building rumek ($PROFILE; minutes the first time)"
if [ "$PROFILE" = release ]; then cargo build --workspace --release --quiet; else cargo build --workspace --quiet; fi
