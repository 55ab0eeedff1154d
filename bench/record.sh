#!/usr/bin/env bash
# Measures the library against a ray kernel library and against fixed pieces of work, in one run, and appends the ratios to
# bench/record.csv with the commit. With --check it appends nothing: it holds the ratios against the median of the last five
# records, says which are more than 10 % below it, and fails if one is more than 30 % below it in three tries.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages build test bench
cmake --preset release > /dev/null # finds the ray kernel library where it was not there before
build release --target avrek_bench
exec python3 bench/record.py build/release/bench/avrek_bench bench/record.csv "$@"
