#!/usr/bin/env bash
# Installs what is missing, builds, and runs every test. Words are handed to ctest.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages build plot test
build release
ctest --preset release --parallel "$(nproc)" "$@"
