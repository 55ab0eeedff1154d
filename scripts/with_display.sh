#!/usr/bin/env bash
# Runs a command with a display of its own, 1280x800, without a screen: with_display.sh COMMAND [WORD...]
set -euo pipefail
number=$(mktemp)
trap 'kill "$server" 2> /dev/null || true; rm -f "$number"' EXIT
Xvfb -displayfd 3 -screen 0 1280x800x24 +extension GLX -nolisten tcp 3> "$number" > /dev/null 2>&1 &
server=$!
for _ in $(seq 600); do
    [ -s "$number" ] && break
    kill -0 "$server" 2> /dev/null || { echo "error: Xvfb does not start" >&2; exit 1; }
    sleep 0.05
done
[ -s "$number" ] || { echo "error: Xvfb has no display" >&2; exit 1; }
export DISPLAY=":$(tr -d '[:space:]' < "$number")" SDL_AUDIODRIVER=dummy
export XDG_RUNTIME_DIR=${XDG_RUNTIME_DIR:-/tmp}
"$@"
