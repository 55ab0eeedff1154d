#!/usr/bin/env bash
# Runs clang-tidy over every source, with the compile commands of a configured preset (clang if none is named).
set -euo pipefail
cd "$(dirname "$0")/.."
preset=${1:-clang}
git ls-files 'src/*.cpp' 'cli/*.cpp' 'examples/*.cpp' |
    xargs --max-procs="$(nproc)" --max-args=4 clang-tidy --quiet -p "build/$preset" 2> >(grep -v 'warnings generated' >&2)
