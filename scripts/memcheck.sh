#!/usr/bin/env bash
# Valgrind's memcheck over a bout, a networked match, and states that are saved and restored. Takes some minutes, too long
# for the continuous integration.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages build plot test memcheck
build release --target avrek_cli avrek_tests
mkdir -p out
check() {
    printf '\n== memcheck: %s\n' "$*"
    valgrind --quiet --error-exitcode=9 --leak-check=full --errors-for-leak-kinds=definite "$@" > out/memcheck.txt 2>&1 ||
        { tail -n 60 out/memcheck.txt; fail "memcheck has found something, or the program failed"; }
}

check build/release/avrek bout --crew 4 --seed 2 --for 5 --record out/memcheck.replay
check build/release/avrek replay out/memcheck.replay
check build/release/avrek match --crew 3 --seed 3 --for 3 --link station-lan
AVREK_RESTORES=3 check build/release/tests/avrek_tests --gtest_filter='Skirmish.GoesBack*:Bytes.*:OwnState.*Predicts'
printf '\nmemcheck is clean\n'
