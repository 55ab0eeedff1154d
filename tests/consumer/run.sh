#!/usr/bin/env bash
# Builds the programs in SOURCE against Avrek as a user would: with one layer and with all.
# run.sh cmake|pkg-config BUILD SOURCE COMPILER SANITIZERS: installs the build BUILD to a scratch folder first.
# run.sh subdirectory BUILD SOURCE COMPILER SANITIZERS: takes the source tree in: the core, without exceptions. All of it is
# taken in by .ci/run, which runs tests in such a build.
set -euo pipefail
way=$1 build=$2 source=$3 compiler=$4 sanitizers=$5
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
flags="-O0${sanitizers:+ -fsanitize=$sanitizers}"

# Runs a command whose output is shown only when it fails.
quietly() {
    "$@" > "$scratch/log" 2>&1 || { cat "$scratch/log"; exit 1; }
}

if [ "$way" = subdirectory ]; then
    quietly cmake -G Ninja -S "$source/subdirectory" -B "$build/consumer" -DCMAKE_CXX_COMPILER="$compiler" -DCMAKE_BUILD_TYPE=Debug \
          -DCMAKE_CXX_FLAGS="$flags -fno-exceptions" -DCMAKE_CXX_FLAGS_DEBUG= -DCMAKE_UNITY_BUILD=ON -DCMAKE_UNITY_BUILD_BATCH_SIZE=12 \
          -DAVREK_SOURCE="$source/../.." -DAVREK_DATA=OFF -DAVREK_NET=OFF
    quietly cmake --build "$build/consumer" --parallel 2 --target weapon_only core_only
    "$build/consumer/weapon_only"
    "$build/consumer/core_only"
    exit
fi

quietly cmake --install "$build" --prefix "$scratch/prefix"
arsenal=$scratch/prefix/share/avrek/halm-ring.toml

if [ "$way" = pkg-config ]; then
    export PKG_CONFIG_PATH
    PKG_CONFIG_PATH=$(dirname "$(find "$scratch/prefix" -name avrek.pc)")
    for program in weapon_only everything; do
        # shellcheck disable=SC2046
        "$compiler" -std=c++20 $flags $(pkg-config --cflags avrek) "$source/$program.cpp" -o "$scratch/$program" \
            $(pkg-config --libs avrek)
    done
    "$scratch/weapon_only"
    "$scratch/everything" "$arsenal"
    exit
fi

"$scratch/prefix/bin/avrek" check "$arsenal"
quietly cmake -G Ninja -S "$source" -B "$scratch/build" -DCMAKE_CXX_COMPILER="$compiler" -DCMAKE_PREFIX_PATH="$scratch/prefix" \
      -DCMAKE_CXX_FLAGS="$flags" -DCMAKE_CXX_COMPILER_WORKS=1
quietly cmake --build "$scratch/build" --parallel 2
"$scratch/build/weapon_only"
"$scratch/build/everything" "$arsenal"
