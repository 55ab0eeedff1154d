#!/usr/bin/env bash
# The check of the prose, then clang-tidy, file by file and with nothing precompiled, so that includes that are missing are found too.
# lint.sh [FILE...]: these files; without any, what the commits of the last four hours have changed. LINT_SECONDS bounds how
# long it takes: what is not looked at by then is counted. Files that were clean are remembered by their contents.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/common.sh

scripts/prose.sh
install_packages build test bench ci
cmake --preset lint > /dev/null || fail "preset lint does not configure" # each time: there may be new files
mkdir -p build/lint/schemas && flatc --cpp -o build/lint/schemas schemas/*.fbs
if [ $# -eq 0 ]; then
    base=$(git rev-list -1 --before="$(git log -1 --format=%ct | awk '{print $1 - 14400}')" HEAD)
    mapfile -t files < <(git diff --name-only --diff-filter=d "${base:-HEAD~1}" -- \
        'src/*.cpp' 'cli/*.cpp' 'examples/*.cpp')
    set -- "${files[@]}"
fi
[ $# -gt 0 ] || { echo "no source has changed"; exit 0; }

export clean=${XDG_CACHE_HOME:-$HOME/.cache}/avrek-lint
export deadline=$(($(date +%s) + ${LINT_SECONDS:-86400}))
mkdir -p "$clean"
lint_one() {
    local command key
    [ "$(date +%s)" -lt "$deadline" ] || { echo "left out: $1"; return 0; }
    # A key of the preprocessed file and the checks tells whether it has been looked at.
    command=$(python3 -c '
import json, sys
for one in json.load(open("build/lint/compile_commands.json")):
    if one["file"].endswith("/" + sys.argv[1]):
        print("cd", one["directory"], "&&", one["command"].rsplit(" -o ", 1)[0], "-E -P", one["file"])
        break' "$1")
    [ -n "$command" ] || { echo "not part of the build: $1"; return 0; }
    command=${command//*ccache /}
    key=$( (cd build/lint && bash -c "$command" 2> /dev/null; cat ../../.clang-tidy; echo "$1") | sha256sum | cut -c1-32)
    [ ! -f "$clean/$key" ] || return 0
    clang-tidy --quiet -p build/lint "$1" 2> >(grep -v 'warnings generated' >&2) || return 1
    touch "$clean/$key"
}
export -f lint_one
printf '%s\n' "$@" | xargs -P "$(nproc)" -I FILE bash -c 'lint_one FILE' | tee build/lint/log || fail "clang-tidy has findings"
echo "$# files; $(grep -c '^left out' build/lint/log || true) were left out for want of time"
