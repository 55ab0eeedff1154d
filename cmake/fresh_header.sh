#!/bin/sh
# Runs a compiler through the cache: fresh_header.sh CACHE COMPILER [ARGUMENTS]. An old precompiled header goes
# first, since the preprocessor, and so the cache, would take it in place of the headers.
before=
for word in "$@"; do
    case "$before $word" in
    "-o "*.gch | "-o "*.pch) rm -f "$word" ;;
    esac
    before=$word
done
exec "$@"
