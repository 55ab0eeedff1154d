#!/usr/bin/env bash
# Compiles every public header by itself, as many at a time as there are cores: each includes what it uses. Eigen, which
# takes most of the time, is precompiled for those that include it, through others too.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

into=build/headers
mkdir -p "$into"
export flags="-std=c++20 -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Werror -DEIGEN_INITIALIZE_MATRICES_BY_ZERO
    -Iinclude -isystem /usr/include/eigen3"

grep -rhE '^#include <Eigen/' include | sort -u > "$into/eigen.h"
# Those that include Eigen, then those that include one of them, until no more are found.
grep -rlE '^#include <Eigen/' include > "$into/with_eigen"
found=0
while [ "$found" -ne "$(wc -l < "$into/with_eigen")" ]; do
    found=$(wc -l < "$into/with_eigen")
    grep -rlxFf <(sed 's|^include/\(.*\)|#include <\1>|' "$into/with_eigen") include > "$into/more" || true
    sort -u -o "$into/with_eigen" "$into/with_eigen" "$into/more"
done
[ "$found" -gt 0 ] || fail "no public header includes Eigen: has its path changed?"

# compile_alone HEADER [OPTION...]
compile_alone() {
    local header=${1#include/}
    shift
    g++ $flags "$@" -fsyntax-only -x c++ - <<< "#include <$header>" ||
        { echo "error: <$header> does not compile by itself" >&2; return 1; }
}
export -f compile_alone
compile_all() {
    xargs -P "$(nproc)" -I HEADER bash -c "compile_alone HEADER $*" || fail "a public header does not compile by itself"
}

g++ $flags -x c++-header "$into/eigen.h" -o "$into/eigen.h.gch"
compile_all -include "$into/eigen.h" < "$into/with_eigen"
find include -name '*.h' | grep -vxFf "$into/with_eigen" | compile_all
printf '%s headers compile by themselves, %s of them without Eigen\n' "$(find include -name '*.h' | wc -l)" \
    "$(find include -name '*.h' | grep -cvxFf "$into/with_eigen")"
