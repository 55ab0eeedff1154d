#!/usr/bin/env bash
# Installs the build BUILD to a scratch folder, moves it, and builds the programs in SOURCE against it.
# run.sh cmake|pkg-config BUILD SOURCE COMPILER SANITIZERS
set -euo pipefail
way=$1 build=$2 source=$3 compiler=$4 sanitizers=$5
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
flags="-O0${sanitizers:+ -fsanitize=$sanitizers}"

cmake --install "$build" --prefix "$scratch/prefix" > "$scratch/log"
arsenal=$scratch/prefix/share/avrek/halm-ring.toml

if [ "$way" = pkg-config ]; then
    export PKG_CONFIG_PATH
    PKG_CONFIG_PATH=$(dirname "$(find "$scratch/prefix" -name avrek.pc)")
    # shellcheck disable=SC2046
    "$compiler" -std=c++20 $flags $(pkg-config --cflags avrek) "$source/weapon_only.cpp" -o "$scratch/weapon_only" \
        $(pkg-config --libs avrek)
    "$scratch/weapon_only"
    exit
fi

"$scratch/prefix/bin/avrek" check "$arsenal"
cmake -G Ninja -S "$source" -B "$scratch/build" -DCMAKE_CXX_COMPILER="$compiler" -DCMAKE_PREFIX_PATH="$scratch/prefix" \
      -DCMAKE_CXX_FLAGS="$flags" -DCMAKE_CXX_COMPILER_WORKS=1 > "$scratch/log"
cmake --build "$scratch/build" --parallel 2 > "$scratch/log" || { cat "$scratch/log"; exit 1; }
"$scratch/build/weapon_only"
"$scratch/build/everything" "$arsenal"
