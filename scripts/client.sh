#!/usr/bin/env bash
# What is generated from the code: write it, or check that what is committed is current.
source "$(dirname "$0")/lib.sh"
MODE=${1:-check}
scripts/setup.sh web
OUT=docs/formats
CLIENT=web/src/api/schema.d.ts
if [ "$MODE" = check ]; then
  OUT=$(mktemp -d)
  trap 'rm -rf "$OUT"' EXIT
  CLIENT=$OUT/schema.d.ts
fi
cargo build --workspace --quiet
target/debug/rumek openapi "$OUT"
web/node_modules/.bin/openapi-typescript "$OUT/openapi.json" -o "$CLIENT" >/dev/null
# What the web knows of chemistries, kinds and lines without asking.
for name in kinds lines; do
  KEPT=web/src/api/$name.json
  if [ "$MODE" = check ]; then
    cmp -s "$OUT/$name.json" "$KEPT" || fail "$KEPT is stale: run make client and commit."
  else
    cp "$OUT/$name.json" "$KEPT"
  fi
done
# … and of the shapes of documents.
SHAPES=web/src/api/shapes.json
if [ "$MODE" = check ]; then
  node scripts/shapes.mjs "$OUT/openapi.json" "$OUT/shapes"
  cmp -s "$OUT/shapes" "$SHAPES" || fail "$SHAPES is stale: run make client and commit."
else
  node scripts/shapes.mjs "$OUT/openapi.json" "$SHAPES"
fi
[ "$MODE" = check ] || exit 0
for file in "$OUT"/*.json; do
  diff -u "docs/formats/$(basename "$file")" "$file" || fail "docs/formats is stale: run make client and commit."
done
diff -u web/src/api/schema.d.ts "$CLIENT" || fail "the web client is stale: run make client and commit."
