#!/usr/bin/env bash
# Builds the programs in SOURCE against Avrek as a user would: with one layer and with all.
# run.sh cmake|pkg-config BUILD SOURCE COMPILER SANITIZERS: installs the build BUILD to a scratch folder first.
# run.sh subdirectory BUILD SOURCE COMPILER SANITIZERS: takes the source tree in: all of it, and the core without exceptions.
set -euo pipefail
way=$1 build=$2 source=$3 compiler=$4 sanitizers=$5
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
flags="-O0${sanitizers:+ -fsanitize=$sanitizers}"

if [ "$way" = subdirectory ]; then
    # taken_in DIRECTORY FLAGS OPTION... TARGET...: configures with the options and builds the targets.
    taken_in() {
        local into=$1 more=$2 options=()
        shift 2
        while [ "${1#-}" != "$1" ]; do options+=("$1"); shift; done
        cmake -G Ninja -S "$source/subdirectory" -B "$into" -DCMAKE_CXX_COMPILER="$compiler" -DCMAKE_BUILD_TYPE=Debug \
              -DCMAKE_CXX_FLAGS="$flags $more" -DCMAKE_CXX_FLAGS_DEBUG= -DCMAKE_UNITY_BUILD=ON -DCMAKE_UNITY_BUILD_BATCH_SIZE=12 \
              -DAVREK_SOURCE="$source/../.." "${options[@]}" > "$scratch/log"
        cmake --build "$into" --parallel 2 --target "$@" > "$scratch/log" || { cat "$scratch/log"; exit 1; }
    }
    taken_in "$build/consumer" -fno-exceptions -DAVREK_DATA=OFF -DAVREK_NET=OFF weapon_only core_only
    "$build/consumer/weapon_only"
    "$build/consumer/core_only"
    taken_in "$build/consumer-whole" "" everything
    "$build/consumer-whole/everything" "$source/../../data/halm-ring.toml"
    exit
fi

cmake --install "$build" --prefix "$scratch/prefix" > "$scratch/log"
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
cmake -G Ninja -S "$source" -B "$scratch/build" -DCMAKE_CXX_COMPILER="$compiler" -DCMAKE_PREFIX_PATH="$scratch/prefix" \
      -DCMAKE_CXX_FLAGS="$flags" -DCMAKE_CXX_COMPILER_WORKS=1 > "$scratch/log"
cmake --build "$scratch/build" --parallel 2 > "$scratch/log" || { cat "$scratch/log"; exit 1; }
"$scratch/build/weapon_only"
"$scratch/build/everything" "$arsenal"
