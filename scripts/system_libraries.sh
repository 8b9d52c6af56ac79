#!/bin/sh
# Bring the shared libraries that Qt's X11 plugin needs, a virtual screen, and a browser for the tests of the field book; as root install them, else print the line to run.
set -eu
wanted="libxcb-icccm4 libxcb-keysyms1 libxcb-cursor0 libxcb-image0 libxcb-render-util0 libxkbcommon-x11-0 libegl1 libgl1 \
libdbus-1-3 libfontconfig1 libglib2.0-0 libgssapi-krb5-2 libx11-xcb1 libxkbcommon0 libxcb-randr0 libxcb-shape0 \
libxcb-shm0 libxcb-sync1 libxcb-xfixes0 libxcb-xkb1 xvfb xauth chromium chromium-driver python3-venv"
command -v dpkg-query >/dev/null 2>&1 || { echo "No Debian-like package manager: make sure Qt 6's X11 libraries and Xvfb are installed."; exit 0; }
missing=""
for package in $wanted; do
  case "$package" in
    # A python that brings its own venv module needs no Debian package for it.
    python3-venv) python3 -c 'import ensurepip, venv' 2>/dev/null && continue ;;
    # Renamed on newer releases.
    libglib2.0-0) dpkg-query -W -f='${Status}' libglib2.0-0t64 2>/dev/null | grep -q "ok installed" && continue ;;
  esac
  dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q "ok installed" || missing="$missing $package"
done
[ -z "$missing" ] && exit 0
if [ "$(id -u)" = 0 ]; then
  echo "Installing system libraries:$missing"
  apt-get update -qq
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing >/dev/null
else
  echo "These system libraries are missing. Run this one line, then the same make command again:"
  echo "  sudo apt-get install -y$missing"
  exit 1
fi
