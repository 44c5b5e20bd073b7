#!/usr/bin/env bash
# Serves Rumek: demo | serve. Ctrl-C stops everything that was started here.
source "$(dirname "$0")/lib.sh"
MODE=${1:-demo}
export RUMEK_PORT=${RUMEK_PORT:-7341}
port_busy "$RUMEK_PORT" && fail "port $RUMEK_PORT is busy: another Rumek, or another program, is using it. Set RUMEK_PORT to another."

scripts/setup.sh serve
scripts/build.sh release

STARTED=
stop() {
  if [ "$STARTED" = started ]; then
    say "Stopping the database"
    scripts/postgres.sh stop
  fi
}
trap stop EXIT
trap : INT TERM

say "Starting the database"
STARTED=$(scripts/postgres.sh start | tail -1)
if [ "$MODE" = demo ]; then DATABASE=rumek_demo; else DATABASE=rumek; fi
RUMEK_DATABASE_URL=$(scripts/postgres.sh url "$DATABASE")
export RUMEK_DATABASE_URL

# In the background and waited for, so that a signal to this script alone ends the server too.
target/release/rumek "$MODE" &
SERVER=$!
trap 'kill -TERM $SERVER 2>/dev/null || :' INT TERM
CODE=0
wait $SERVER || CODE=$?
while kill -0 $SERVER 2>/dev/null; do
  CODE=0
  wait $SERVER || CODE=$?
done
exit $CODE
