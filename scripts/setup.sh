#!/usr/bin/env bash
# Installs what is missing for: web | serve | test | check | all.
source "$(dirname "$0")/lib.sh"
WHAT=${1:-all}

apt_install() {
  say "Installing Debian packages: $*"
  command -v apt-get >/dev/null || fail "these are installed with apt-get, which is not here. Install by hand: $*"
  as_root env DEBIAN_FRONTEND=noninteractive apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

need_postgres() {
  [ -n "$(postgres_bin)" ] && command -v psql >/dev/null && return
  # Rumek keeps a cluster of its own; Debian's default one would only take port 5432.
  if [ ! -e /etc/postgresql-common/createcluster.conf ]; then
    as_root mkdir -p /etc/postgresql-common
    echo 'create_main_cluster = false' | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null
  fi
  apt_install postgresql postgresql-common
}

need_browser() {
  local missing=()
  command -v chromium >/dev/null || missing+=(chromium)
  command -v chromedriver >/dev/null || missing+=(chromium-driver)
  [ ${#missing[@]} = 0 ] || apt_install "${missing[@]}" fonts-liberation fonts-dejavu-core
}

need_web() {
  local stamp=web/node_modules/.rumek-lock
  cmp -s web/package-lock.json "$stamp" && return
  say "Installing the web packages"
  (cd web && npm ci --ignore-scripts --no-audit --no-fund --loglevel=error)
  cp web/package-lock.json "$stamp"
}

need_deny() {
  cargo deny --version >/dev/null 2>&1 && return
  say "Installing cargo-deny, which checks licences (once, some minutes)"
  cargo install --locked --quiet cargo-deny@0.20.2
}

need_toolchain
case $WHAT in
  web) need_web ;;
  serve) need_postgres; need_web ;;
  test) need_postgres; need_browser; need_web ;;
  check) need_web; need_deny ;;
  all) need_postgres; need_browser; need_web; need_deny ;;
  *) fail "setup: web, serve, test, check or all; not $WHAT" ;;
esac
