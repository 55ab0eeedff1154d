#!/usr/bin/env bash
# Runs the whole suite of the release build again and again while every core is kept busy by something else: a test that
# depends on the clock fails here. stress.sh [TIMES]
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

build release
trap 'kill $(jobs -p) 2> /dev/null' EXIT
for _ in $(seq "$(nproc)"); do
    while :; do :; done &
done
for run in $(seq "${1:-10}"); do
    ctest --preset release --parallel "$(nproc)" --quiet --output-log build/stress.log ||
        { grep -E 'Failed|Timeout' build/stress.log; fail "run $run under load has failures"; }
    echo "run $run under load: no failure"
done
