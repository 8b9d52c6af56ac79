#!/bin/sh
# Run a command on the screen there is; without one, on a virtual screen, and say how to look at it.
set -eu
if [ -n "${DISPLAY:-}" ] || [ -n "${WAYLAND_DISPLAY:-}" ]; then
  exec "$@"
fi
number=90
while [ -e "/tmp/.X${number}-lock" ]; do number=$((number + 1)); done
Xvfb ":$number" -screen 0 1280x800x24 -nolisten tcp >/dev/null 2>&1 &
server=$!
trap 'kill "$server" 2>/dev/null || true' EXIT INT TERM
tries=0
while [ ! -e "/tmp/.X11-unix/X$number" ] && [ "$tries" -lt 50 ]; do sleep 0.1; tries=$((tries + 1)); done
echo "No display here: running on virtual screen :$number (1280x800)."
echo "To look at it: DISPLAY=:$number import -window root shot.png   (ImageMagick), or attach any VNC server to :$number. Ctrl+C ends it."
DISPLAY=":$number" "$@"
