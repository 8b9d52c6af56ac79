#!/bin/sh
# Bring the system's packages of packaging/libraries.txt: those of the desk and of running from source, with "tests" also the browser that the
# tests of the field book have need of. As root they are installed, else the line to run is printed; a missing browser stops nobody.
set -eu
list="$(dirname "$0")/../packaging/libraries.txt"
command -v dpkg-query >/dev/null 2>&1 || { echo "No Debian-like package manager: make sure Qt 6's X11 libraries and Xvfb are installed."; exit 0; }
there() { dpkg-query -W -f='${Status}' "$1" 2>/dev/null | grep -q "ok installed"; }
missing_of() {
  sed -n "/^\[$1\]/,/^\[/p" "$list" | grep -v '^\[' | while read -r name bar newer; do
    # A python that brings its own venv module needs no package for it.
    [ "$name" = python3-venv ] && python3 -c 'import ensurepip, venv' 2>/dev/null && continue
    there "$name" || { [ "$bar" = "|" ] && there "$newer"; } || printf ' %s' "$name"
  done
}
missing="$(missing_of desk)$(missing_of source)"
wanted="$missing"
[ "${1:-}" = tests ] && wanted="$wanted$(missing_of tests)"
[ -z "$wanted" ] && exit 0
if [ "$(id -u)" = 0 ]; then
  echo "Installing system libraries:$wanted"
  apt-get update -qq
  # shellcheck disable=SC2086
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $wanted >/dev/null
  exit 0
fi
echo "These system packages are missing. This one line brings them:"
echo "  sudo apt-get install -y$wanted"
[ -z "$missing" ] && { echo "Only tests have need of them; going on without."; exit 0; }
echo "Then the same make command again."
exit 1
