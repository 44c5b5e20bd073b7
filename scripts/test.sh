#!/usr/bin/env bash
# Every test: the web part's, the core's, the store's, the server's and the browser's.
source "$(dirname "$0")/lib.sh"
scripts/setup.sh test

say "Web: types, lint, unit tests"
(cd web && npm run --silent types && npm run --silent lint && npm test --silent)
scripts/build.sh debug
say "Rust: unit, property, golden, API and browser tests"
if cargo nextest --version >/dev/null 2>&1; then
  cargo run --quiet -p rumek-testkit -- cargo nextest run --workspace
  node scripts/slowest.mjs
else
  cargo test --workspace --quiet --lib --bins --tests
fi
say "Rust: the examples of the documentation"
cargo test --workspace --quiet --doc
say "Every test passed."
