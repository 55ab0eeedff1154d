#!/usr/bin/env bash
# Installs the build BUILD to a scratch folder, moves it, and builds the programs in SOURCE against it.
# run.sh BUILD SOURCE COMPILER SANITIZERS
set -euo pipefail
build=$1 source=$2 compiler=$3 sanitizers=$4
scratch=$(mktemp -d)
trap 'rm -rf "$scratch"' EXIT
flags="-O0${sanitizers:+ -fsanitize=$sanitizers}"

cmake --install "$build" --prefix "$scratch/prefix" > "$scratch/log"
arsenal=$scratch/prefix/share/avrek/halm-ring.toml
"$scratch/prefix/bin/avrek" check "$arsenal"

export PKG_CONFIG_PATH
PKG_CONFIG_PATH=$(dirname "$(find "$scratch/prefix" -name avrek.pc)")
# shellcheck disable=SC2046
"$compiler" -std=c++20 $flags $(pkg-config --cflags avrek) \
    "$source/weapon_only.cpp" -o "$scratch/by_pkg_config" \
    $(pkg-config --libs avrek) &

cmake -G Ninja -S "$source" -B "$scratch/build" -DCMAKE_CXX_COMPILER="$compiler" -DCMAKE_PREFIX_PATH="$scratch/prefix" \
      -DCMAKE_CXX_FLAGS="$flags" > "$scratch/log"
cmake --build "$scratch/build" --parallel 2 > "$scratch/log" || { cat "$scratch/log"; exit 1; }
"$scratch/build/weapon_only"
"$scratch/build/everything" "$arsenal"

wait $!
"$scratch/by_pkg_config"
