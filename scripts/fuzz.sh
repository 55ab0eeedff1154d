#!/usr/bin/env bash
# Runs each fuzz target of the asan preset from its corpus in the repository, as many at a time as there are cores.
# fuzz.sh [SECONDS]: how long each runs. What they find stays in out/fuzz.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh
export seconds=${1:-20}

targets=(arsenal client intents level peer replay restore wire)
build asan --target "${targets[@]/#/fuzz_}"
mkdir -p "${targets[@]/#/out/fuzz/}"
fuzz_one() {
    local dictionary=() log=out/fuzz/$1.log
    [ ! -f "fuzz/$1.dict" ] || dictionary=(-dict="fuzz/$1.dict")
    build/asan/fuzz/fuzz_$1 -max_total_time="$seconds" -timeout=20 -artifact_prefix="out/fuzz/$1-" "${dictionary[@]}" \
        "out/fuzz/$1" "fuzz/corpus/$1" > "$log" 2>&1 || { tail -n 40 "$log"; return 1; }
    printf '%-8s %s\n' "$1" "$(tail -n 1 "$log")"
}
export -f fuzz_one
printf '%s\n' "${targets[@]}" | xargs -P "$(nproc)" -I TARGET bash -c 'fuzz_one TARGET' || fail "a fuzz target has found something"
