# What the scripts share. Source it; it runs nothing.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$ROOT"

say() { printf '\033[1m▸ %s\033[0m\n' "$*"; }
fail() { printf 'make: %s\n' "$*" >&2; exit 1; }

# Runs a command as root: as it is for root, through sudo for others.
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else fail "this needs root once, and sudo is not here. As root, run: $*"
  fi
}

need_toolchain() {
  local tool
  for tool in cargo node npm cc; do
    command -v "$tool" >/dev/null || fail "$tool is missing. Rumek builds with cargo, node 20.19 or later, npm, make and cc."
  done
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
    fail "node $(node --version) is too old: 20.19 or later is needed."
}

# The newest PostgreSQL's programs; empty where there is none.
postgres_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

port_busy() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
