#!/usr/bin/env bash
# Tries the two commands of the README on a computer that is made for it and thrown away: Debian 12 with nothing on it,
# no PHP, no Composer, no Node, in a container of the system's own (systemd-nspawn). What is committed is tried.
# Takes as long as a set-up and the whole test run, needs root and Debian's packages. "./geschenk test-install --bare"
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/../.."
checkout=$PWD
work=$checkout/var/test-bare
machine=$work/machine
port=${GESCHENK_TEST_PORT:-8443}
tests=(./geschenk test)
[ "${1:-}" != quick ] || tests+=(quick)

say() { printf '\033[1m·\033[0m %s\n' "$*"; }
stop() { printf 'test-install: %s\n' "$*" >&2; exit 1; }
# inside COMMAND…: with what this computer reaches its packages by, and nothing else of it.
inside() {
  systemd-nspawn --quiet --register=no --keep-unit --directory="$machine" --as-pid2 --chdir=/srv/geschenk \
    --setenv=LC_ALL=C.UTF-8 --setenv=NODE_EXTRA_CA_CERTS=/etc/ssl/certs/ca-certificates.crt \
    --setenv=GESCHENK_PORT="$port" --setenv=CI="${CI:-}" -- "$@"
}
trap 'rm -rf "$machine"' EXIT

[ "$(id -u)" = 0 ] || stop "a computer is made, which is for root"
mkdir -p "$work"
if ! command -v debootstrap >/dev/null || ! command -v systemd-nspawn >/dev/null; then
  say "Installing packages: debootstrap systemd-container"
  apt-get install -y -qq --no-install-recommends debootstrap systemd-container >"$work/apt.log" 2>&1
fi
say "Making a computer: Debian 12 and nothing on it, in $machine"
rm -rf "$machine"
debootstrap --variant=minbase --include=ca-certificates,git bookworm "$machine" http://deb.debian.org/debian \
  >"$work/debootstrap.log" 2>&1 || stop "see $work/debootstrap.log"
# Packages come from where this computer has its own from.
cp -a /etc/apt/. "$machine/etc/apt/"
[ ! -d /etc/apt/sources.list.d ] || [ -z "$(ls /etc/apt/sources.list.d)" ] || rm -f "$machine/etc/apt/sources.list"
mkdir -p "$machine/etc/ssl/certs" "$machine/root/.config"
cp -aL /etc/ssl/certs/ca-certificates.crt "$machine/etc/ssl/certs/"
for settings in .npmrc .config/composer; do
  [ ! -e "$HOME/$settings" ] || cp -a "$HOME/$settings" "$machine/root/$settings"
done
git clone -q "$checkout" "$machine/srv/geschenk"
for command in php composer node npm; do
  # shellcheck disable=SC2016 # the machine's own shell reads it
  ! inside sh -c 'command -v "$1"' sh "$command" >/dev/null 2>&1 \
    || stop "$command is there, so this computer is not bare"
done

say "./geschenk demo"
begun=$SECONDS
inside ./geschenk demo --cable=0 >"$work/demo.log" 2>&1 &
demo=$!
until curl -fsS --max-time 5 "http://127.0.0.1:$port/api/session" >"$work/session.json" 2>/dev/null; do
  kill -0 "$demo" 2>/dev/null || { tail -n 40 "$work/demo.log" >&2; stop "the demonstration did not start"; }
  [ $((SECONDS - begun)) -lt 1800 ] || stop "the demonstration did not start within half an hour"
  sleep 1
done
grep -q '"desk":true' "$work/session.json" || stop "what answers is no demonstration"
printf '  ✓ it answers after %d s\n' $((SECONDS - begun))
pkill -TERM -P "$demo" || true
wait "$demo" 2>/dev/null || true

say "${tests[*]}"
begun=$SECONDS
inside "${tests[@]}" >"$work/test.log" 2>&1 || { tail -n 60 "$work/test.log" >&2; stop "see $work/test.log"; }
printf '  ✓ all passed after %d s\n' $((SECONDS - begun))
say "On it now: $(inside php -r 'echo "PHP ", PHP_VERSION;'), Node of Debian $(inside node --version), \
$(du -sm "$machine/srv/geschenk" | cut -f1) MB in the checkout, $(du -sm "$machine" | cut -f1) MB altogether"
