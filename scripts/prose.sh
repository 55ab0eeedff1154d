#!/usr/bin/env bash
# Finds sentences in comments and documents that the language rules of docs/development.md forbid: beginnings with "of",
# "by which", "what" or "who", and the words "whom", "whoever" and "of which". Prints each with its place; the exit status is 1 if there are any.
# prose.sh [FILE...]: these files; without any, all that are tracked.
set -euo pipefail
cd "$(dirname "$0")/.."
if [ $# -eq 0 ]; then
    mapfile -t files < <(git ls-files '*.h' '*.cpp' '*.md' '*.toml' '*.fbs' '*.sh')
    set -- "${files[@]}"
fi
code=() documents=()
for file in "$@"; do
    case $file in
        scripts/prose.sh) ;;
        *.md) documents+=("$file") ;;
        *) code+=("$file") ;;
    esac
done
found=0
words='\b([Ww]hom|[Ww]hoever|[Oo]f which)\b'
# A line that only goes on with a sentence does not begin one: a capital letter does, and so does a comment behind code.
[ ${#code[@]} -eq 0 ] || ! grep -nHE "(//|#|///<).*$words|///< ([Oo]f|[Bb]y which) |^[[:space:]]*(///?|#) (Of|By which|What|Whose|Who|And) |[^[:space:]/].* // (of|by which) " \
    "${code[@]}" || found=1
# Blocks of output are not prose.
for file in "${documents[@]}"; do
    ! awk -v words="[Ww]hom[^a-z]|[Ww]hoever|[Oo]f which" -v file="$file" '
        /^```/ { block = !block; begins = 1; next }
        block { next }
        $0 ~ words || (begins && /^[|>*-]* *(Of|By which) /) { print file ":" FNR ":" $0; found = 1 }
        { begins = /^$/ }
        END { exit !found }' "$file" || found=1
done
[ $found -eq 0 ] || { echo "these sentences begin or are joined in a way that slows reading; see docs/development.md" >&2; exit 1; }
