#!/usr/bin/env bash
# 10,000 ticks of all that is fired, swung, aimed and suffered as one number, from builds of the core that have nothing in
# common but its source: it must be the same from all. `digest.sh long` plays ten minutes of a match in place of 2.5.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

# digest NAME COMPILER FLAGS...: each layer is compiled as one file. RUN is what starts the program.
digest() {
    local name=$1 compiler=$2 directory=build/digest/$1 layer file
    shift 2
    mkdir -p "$directory"
    for layer in core arsenal weapon scene ballistics vitals skirmish digest; do
        for file in $([ $layer = digest ] && echo tests/digest/digest.cpp || ls src/$layer/*.cpp); do
            echo "#include \"$file\""
        done > "$directory/$layer.cpp"
    done
    printf '%s\n' scene ballistics digest skirmish vitals weapon core arsenal | xargs -P "$(nproc)" -I LAYER \
        "${CACHED[@]}" "$compiler" -std=c++20 -ffp-contract=off -DEIGEN_INITIALIZE_MATRICES_BY_ZERO -Wno-psabi -I. -Iinclude -Itests/digest -isystem /usr/include/eigen3 "$@" \
        -c "$directory/LAYER.cpp" -o "$directory/LAYER.o" || fail "the digest does not build: $name"
    "$compiler" ${LINK:-} "$directory"/*.o -o "$directory/digest"
    printf '%-12s %s\n' "$name" "$(${RUN:-} "$directory/digest" $LENGTH)"
}

CACHED=(env CCACHE_BASEDIR="$PWD" CCACHE_NOHASHDIR=1)
! command -v ccache > /dev/null || CACHED+=(ccache)

LENGTH=${1:-}
# The headers of Random123 lie where a compiler for another machine does not look.
{
    digest gcc-O0 g++ -O0
    digest gcc-O3 g++ -O3
    digest clang-O2 clang++ -O2
    LINK=-static RUN=qemu-aarch64 digest aarch64-O3 aarch64-linux-gnu-g++ -O3 -isystem /usr/include
} | tee build/digest.txt
[ "$(awk '{print $2}' build/digest.txt | sort -u | wc -l)" -eq 1 ] || fail "not all builds give the same number"
