#!/usr/bin/env bash
# Runs the calls in the documents again, the long ones too, and puts in what they print.
# refresh.sh [DOCUMENT...]: these; without any, all.
set -euo pipefail
cd "$(dirname "$0")/.."
[ $# -gt 0 ] || set -- README.md docs/*.md
for document in "$@"; do
    [ "$document" != docs/arsenal.md ] || python3 scripts/key_tables.py build/release/avrek "$document"
    python3 tests/docs/documents_test.py build/release/avrek build/release/examples . "$document" --long --write
done
