#!/usr/bin/env bash
# Installs what is missing, builds, and runs every test.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages build plot test
build release
build release --target all_verify_interface_header_sets
ctest --preset release --parallel "$(nproc)" "$@"
