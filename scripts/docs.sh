#!/usr/bin/env bash
# Builds the reference of the public headers, and the guides, as HTML with a search that works offline: out/reference/html/index.html.
# A public type, function, enumeration or constant without a comment, and a comment that Doxygen cannot follow, are errors. Copying
# and moving need no words, nor does a data member whose name and type say it all.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

install_packages docs
mkdir -p out/reference
AVREK_VERSION=$(sed -n 's/.*project(Avrek.*VERSION \([0-9.]*\).*/\1/p' CMakeLists.txt) doxygen docs/Doxyfile
faults=$(grep '/include/avrek/' out/reference/warnings |
    grep -vE '\(variable\) of (struct|class) .* is not documented|Member (operator=|([A-Za-z]+))\((const )?([A-Za-z]+) &&?[a-z]*\)( noexcept)? \(function\)' ||
    true)
[ -z "$faults" ] || { echo "$faults"; fail "the reference has gaps"; }
echo "out/reference/html/index.html"
