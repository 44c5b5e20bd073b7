#!/usr/bin/env bash
# Takes every picture of docs/screenshots from the demo data.
source "$(dirname "$0")/lib.sh"
scripts/setup.sh test
scripts/build.sh debug
say "Taking the pictures"
cargo test --workspace --quiet --test browser -- --ignored take_every_picture
say "They are in ${RUMEK_SHOTS:-docs/screenshots}."
