#!/usr/bin/env bash
# Every check that is not a test.
source "$(dirname "$0")/lib.sh"
scripts/setup.sh check

say "Rust: format"
cargo fmt --all --check
say "Rust: lint"
cargo clippy --workspace --all-targets --quiet -- -D warnings
say "Web: types and lint"
(cd web && npm run --silent types && npm run --silent lint)
say "Web: nothing exported that nobody asks for"
(cd web && npm run --silent unused)
say "Layers: no arrow up, no circle of files"
node scripts/floors.mjs
say "Lines of judgement: each once, used where it says"
node scripts/lines.mjs
say "Generated files are current"
scripts/client.sh check
say "Licences, bans, sources"
cargo deny --log-level error check licenses bans sources
node scripts/web-licences.mjs
say "Page weight"
scripts/build.sh debug
node scripts/page-weight.mjs
say "Styles: each class in one file, sizes and turns once"
node scripts/styles.mjs
say "Test share"
node scripts/test-share.mjs
say "Every check passed."
