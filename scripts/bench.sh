#!/usr/bin/env bash
# Measures: the core by criterion, then the server's own share of a plan.
source "$(dirname "$0")/lib.sh"
scripts/setup.sh web
say "The core, one charge and one whole plan (criterion)"
cargo bench -p rumek-core
say "A log of a million lines, in and drawn"
cargo bench -p rumek-server --bench logs
scripts/build.sh release
say "The server's own share of POST /api/plan beside an empty JSON route"
node scripts/load.mjs target/release/rumek
say "A shelf of 10,000 packs and 100,000 runs"
scripts/postgres.sh start
URL=$(scripts/postgres.sh fresh rumek_bench | tail -1)
node scripts/shelf.mjs target/release/rumek "$URL"
say "In the browser: from a key, from Enter, from opening the page"
scripts/setup.sh test
node scripts/paint.mjs target/release/rumek
