#!/usr/bin/env bash
# 10,000 ticks of all that is fired, swung, aimed and suffered as one number, from builds of the core that have nothing in
# common but its source, the release build among them: it must be the same from all. Each runs while the next one is built.
# `digest.sh long` plays ten minutes of a match in place of 2.5.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

layers=(scene ballistics skirmish vitals weapon core arsenal)

# compile DIRECTORY COMPILER FLAGS... < NAMES: DIRECTORY/NAME.cpp for each name.
compile() {
    local directory=$1 compiler=$2
    shift 2
    xargs -P "$(nproc)" -I NAME "${CACHED[@]}" "$compiler" -std=c++20 -ffp-contract=off -DEIGEN_INITIALIZE_MATRICES_BY_ZERO \
        -Wno-psabi -I. -Iinclude -Itests/digest -isystem /usr/include/eigen3 "$@" \
        -c "$directory/NAME.cpp" -o "$directory/NAME.o" || fail "the digest does not build: $directory"
}

# start NAME: runs what has been built, with RUN as what starts it, beside what comes next.
start() {
    ${RUN:-} "build/digest/$1/digest" $LENGTH > "build/digest/$1/number" &
    runs+=("$1:$!")
}

# digest NAME COMPILER FLAGS...: each layer is compiled as one file.
digest() {
    local name=$1 compiler=$2 directory=build/digest/$1 layer
    shift 2
    mkdir -p "$directory"
    echo '#include "tests/digest/digest.cpp"' > "$directory/digest.cpp"
    for layer in "${layers[@]}"; do
        printf '#include "%s"\n' src/$layer/*.cpp > "$directory/$layer.cpp"
    done
    printf '%s\n' "${layers[@]:0:2}" digest "${layers[@]:2}" | compile "$directory" "$compiler" "$@"
    "$compiler" ${LINK:-} "$directory"/*.o -o "$directory/digest"
    start "$name"
}

# digest_of_libraries NAME DIRECTORY FLAGS...: the layers are libraries in DIRECTORY already, which GCC has compiled.
digest_of_libraries() {
    local directory=build/digest/$1 libraries=$2
    mkdir -p "$directory"
    echo '#include "tests/digest/digest.cpp"' > "$directory/digest.cpp"
    echo digest | compile "$directory" g++ "${@:3}"
    g++ "$directory/digest.o" -L"$libraries" -Wl,--start-group "${layers[@]/#/-lavrek_}" -Wl,--end-group -o "$directory/digest"
    start "$1"
}

CACHED=(env CCACHE_BASEDIR="$PWD" CCACHE_NOHASHDIR=1)
! command -v ccache > /dev/null || CACHED+=(ccache)

LENGTH=${1:-}
runs=()
trap 'kill $(jobs -p) 2> /dev/null || true' EXIT
# The slowest to run come first. The headers of Random123 lie where a compiler for another machine does not look.
LINK=-static RUN=qemu-aarch64 digest aarch64-O3 aarch64-linux-gnu-g++ -O3 -isystem /usr/include
# As the test library_by_subdirectory builds them: in another project, without exceptions.
tests/consumer/run.sh subdirectory "$PWD/build/release" "$PWD/tests/consumer" g++ ""
digest_of_libraries gcc-O0 build/release/consumer/avrek -O0
digest clang-O2 clang++ -O2
# The libraries that are installed.
build release --target "${layers[@]/#/avrek_}"
digest_of_libraries release build/release -O3
for run in "${runs[@]}"; do
    wait "${run#*:}" || fail "the digest does not run: ${run%:*}"
    printf '%-12s %s\n' "${run%:*}" "$(cat "build/digest/${run%:*}/number")"
done > build/digest.txt
cat build/digest.txt
[ "$(awk '{print $2}' build/digest.txt | sort -u | wc -l)" -eq 1 ] || fail "not all builds give the same number"
