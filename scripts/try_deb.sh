#!/bin/sh
# Install the Debian package in a clean root, start it, and remove it without remains. Who is not root cannot make one, and is told that it was
# skipped; for root whatever is in the way is a failure.
# try_deb.sh PACKAGE.deb [MIRROR]
set -eu
deb=$(realpath "$1")
root=$(mktemp -d /tmp/robust-ledger-root.XXXXXX)
chmod 755 "$root"
fail() { echo "FAILED, the package was not installed in a clean root: $1"; exit 1; }
[ "$(id -u)" = 0 ] || { echo "SKIPPED, the package was not installed in a clean root: only root can make one (run it as root)"; exit 0; }
# An archive that does not answer at once is asked again.
thrice() { "$@" || { sleep 10; "$@"; } || { sleep 30; "$@"; }; }
command -v debootstrap >/dev/null 2>&1 || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends debootstrap >/dev/null; } \
  || fail "debootstrap cannot be installed here"
# shellcheck disable=SC1091
suite=$(. /etc/os-release && echo "$VERSION_CODENAME")
mirror=${2:-$(grep -rhE '^(URIs:|deb )' /etc/apt/sources.list /etc/apt/sources.list.d 2>/dev/null | grep -oE '[a-z]+://[^ ]+' | grep -E '/debian/?$' | grep -v security | head -1)}
[ -n "$mirror" ] || fail "no archive of Debian packages is known here"
done_with() { umount "$root/proc" 2>/dev/null || true; rm -rf "$root"; }
trap done_with EXIT
thrice debootstrap --variant=minbase "$suite" "$root" "$mirror" >"$root.log" 2>&1 || { tail -3 "$root.log"; fail "the clean root could not be made"; }
rm -f "$root.log"
cp -L /etc/resolv.conf "$root/etc/resolv.conf" 2>/dev/null || true
cp -r /etc/apt/sources.list.d/. "$root/etc/apt/sources.list.d/"
rm -f "$root/etc/apt/sources.list"
[ -f /etc/apt/sources.list ] && cp /etc/apt/sources.list "$root/etc/apt/sources.list"
cp -r /etc/apt/apt.conf.d/. "$root/etc/apt/apt.conf.d/" 2>/dev/null || true
mount -t proc proc "$root/proc" 2>/dev/null || true
in_root() { chroot "$root" /usr/bin/env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin HOME=/root LC_ALL=C.UTF-8 DEBIAN_FRONTEND=noninteractive \
  http_proxy="${http_proxy:-}" https_proxy="${https_proxy:-}" "$@"; }
thrice in_root apt-get update -qq || fail "packages cannot be fetched in the clean root"
thrice in_root apt-get install -y -qq --no-install-recommends python3 >/dev/null 2>&1 || fail "Python cannot be installed in the clean root"
made_with=$(dpkg-deb -f "$deb" Depends | grep -oE 'python3 \(>= 3\.[0-9]+' | grep -oE '3\.[0-9]+')
there=$(in_root python3 -c 'import sys; print("%d.%d" % sys.version_info[:2])')
[ "$made_with" = "$there" ] || fail "it was made with Python $made_with, and Debian's own here is $there"
listed() { (cd "$root" && find . -xdev \( -path ./proc -o -path ./tmp -o -path ./var/cache -o -path ./var/log -o -path ./var/lib/apt \) -prune -o -print | sort); }
cp "$deb" "$root/tmp/robust-ledger.deb"
depends=$(dpkg-deb -f "$deb" Depends | tr ',' '\n' | sed 's/(.*//; s/|.*//' | tr -d ' ' | grep -v '^python3$' | tr '\n' ' ')
# shellcheck disable=SC2086
thrice in_root apt-get install -y -qq --no-install-recommends $depends desktop-file-utils shared-mime-info appstream xvfb xauth >/dev/null 2>&1 \
  || fail "the libraries it has need of cannot be fetched"
listed >"$root/tmp/before"
echo "Installing."
in_root dpkg -i /tmp/robust-ledger.deb >/dev/null
in_root robust-ledger --version
in_root desktop-file-validate /usr/share/applications/robust-ledger.desktop
in_root appstreamcli validate --no-net /usr/share/metainfo/org.robustledger.desk.metainfo.xml
kind=$(in_root grep -F '*.ledger.json' /usr/share/mime/globs2)
echo "Kind of a job's file: $kind"
in_root robust-ledger doctor
in_root robust-ledger plan /usr/share/robust-ledger/examples/marrow-lane.ledger.json | head -3
echo "Starting the desk."
in_root sh -c 'ROBUST_LEDGER_HOME=/tmp/state timeout -s TERM 20 xvfb-run -a robust-ledger --demo; code=$?; [ $code = 0 ] || [ $code = 124 ] || [ $code = 143 ] || exit $code'
in_root sh -c 'ROBUST_LEDGER_HOME=/tmp/state robust-ledger book /usr/share/robust-ledger/examples'
echo "Removing."
in_root dpkg --purge robust-ledger >/dev/null
listed >"$root/tmp/after"
# What the system keeps of any package: its lists of kinds and icons, and the package manager's own records.
remains=$(comm -13 "$root/tmp/before" "$root/tmp/after" | grep -vE '^\./(var/lib/dpkg|var/cache|usr/share/mime/|usr/share/applications/mimeinfo.cache|root$|root/\.)' || true)
[ -z "$remains" ] || { echo "It left behind:"; echo "$remains"; exit 1; }
echo "Installed, started and removed without remains."
