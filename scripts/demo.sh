#!/usr/bin/env bash
# Installs what is missing, builds, and runs the full example on the demo data. Pictures go to out/.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages build plot test
build release --target avrek_cli example_first_shot example_own_raycast
mkdir -p out
avrek=build/release/avrek
arsenal=data/halm-ring.toml

say() {
    printf '\n$ %s\n' "$*"
    "$@"
}

say $avrek check $arsenal
say $avrek range thorn-rifle $arsenal --at 35 --for 1.2 --seed 3 --plot out/range.png
say $avrek ttk $arsenal
say build/release/examples/first_shot $arsenal
say build/release/examples/own_raycast
printf '\nThe picture of the range is out/range.png.\n'
