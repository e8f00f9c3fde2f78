#!/usr/bin/env bash
# Installs Geschenk on a computer that is made for it and thrown away: Debian 12 with systemd, nginx and php-fpm from
# Debian's packages, in a container of the system's own (systemd-nspawn). Then it tries what an installation promises.
# Takes a few minutes, needs root and Debian's packages. "./geschenk test-install"
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/../.."
checkout=$PWD
work=$checkout/var/test-install
machine=$work/machine
port=${GESCHENK_TEST_PORT:-8443}
password='the heron waits for low tide'
failures=0

say() { printf '\033[1m·\033[0m %s\n' "$*"; }
stop() { printf 'test-install: %s\n' "$*" >&2; exit 1; }

# check WORDS COMMAND…: what has to be so.
check() {
  local words=$1; shift
  if "$@" >"$work/check.log" 2>&1; then printf '  ✓ %s\n' "$words"; else
    printf '  ✗ %s\n' "$words"
    sed 's/^/      /' "$work/check.log" | tail -n 15
    failures=$((failures + 1))
  fi
}
not() { ! "$@"; }

leader() { pgrep -P "$nspawn" | head -n 1; }
inside() {
  nsenter -t "$(leader)" -m -u -i -p -w -- env -i PATH=/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin \
    HOME=/root LC_ALL=C.UTF-8 bash -c "$1"
}
boot() {
  systemd-nspawn --quiet --register=no --keep-unit --directory="$machine" --boot >>"$work/console.log" 2>&1 &
  nspawn=$!
  local _
  for _ in $(seq 100); do
    [ -n "$(leader)" ] && inside 'systemctl is-system-running --wait' >"$work/boot.log" 2>&1 && return
    grep -qx degraded "$work/boot.log" 2>/dev/null && return
    sleep 0.3
  done
  stop "the computer did not start, see $work/console.log"
}
power_off() {
  inside 'systemctl poweroff' >/dev/null 2>&1 || true
  wait "$nspawn" 2>/dev/null || true
  nspawn=
}
nspawn=
# The machine's own files may be mounted still when a test was cut short.
trap '[ -z "$nspawn" ] || { power_off; }; rm -rf "$machine"' EXIT

# ask PATH CURL-OPTIONS…: over TLS, by the name that it was given, with the certificate that was made.
ask() {
  local path=$1; shift
  curl -sS --max-time 20 --cacert "$machine/etc/geschenk/tls/certificate.pem" \
    --connect-to "shop.test:$port:127.0.0.1:$port" "$@" "https://shop.test:$port$path"
}
# Whatever this computer's own OpenSSL thinks of it.
tls_1_1() {
  openssl s_client -connect "127.0.0.1:$port" -servername "$1" -tls1_1 -cipher ALL:@SECLEVEL=0 </dev/null 2>&1 || true
}
code() { ask "$@" -o /dev/null -w '%{http_code}'; }
is_code() { local wanted=$1 found; shift; found=$(code "$@"); echo "$found"; [ "$found" = "$wanted" ]; }
head_of() { ask "$@" -o /dev/null -D -; }
# Read to its end: who closes a pipe early makes a failure of what went well.
has() { local pattern=$1; shift; "$@" | tee /dev/stderr | grep -iE "$pattern" >/dev/null; }
token() { sed -n 's/.*"token":"\([0-9a-f.A-Za-z_-]*\)".*/\1/p'; }
# sign_in NAME PASSWORD: into a jar of cookies of that name
sign_in() {
  local jar=$work/$1.jar said
  rm -f "$jar"
  said=$(ask /api/session -c "$jar")
  ask /api/session -b "$jar" -c "$jar" -f -H "X-Geschenk-Token: $(token <<<"$said")" \
    -H 'Content-Type: application/json' --data "{\"username\":\"$1\",\"password\":\"$2\"}"
}

[ "$(id -u)" = 0 ] || stop "a computer is made, which is for root"
mkdir -p "$work"
if ! command -v debootstrap >/dev/null || ! command -v systemd-nspawn >/dev/null; then
  say "Installing packages: debootstrap systemd-container"
  apt-get install -y -qq --no-install-recommends debootstrap systemd-container >"$work/apt.log" 2>&1
fi
say "Building what is installed"
./geschenk build

say "Making a computer: Debian 12, in $machine"
rm -rf "$machine"
debootstrap --variant=minbase --include=systemd,systemd-sysv,dbus,ca-certificates,curl,lsb-base,iproute2 bookworm \
  "$machine" http://deb.debian.org/debian >"$work/debootstrap.log" 2>&1 || stop "see $work/debootstrap.log"
# Packages come from where this computer has its own from.
cp -a /etc/apt/. "$machine/etc/apt/"
[ ! -d /etc/apt/sources.list.d ] || [ -z "$(ls /etc/apt/sources.list.d)" ] || rm -f "$machine/etc/apt/sources.list"
mkdir -p "$machine/srv/geschenk/public"
git ls-files -z --cached --others --exclude-standard | xargs -0 cp --parents -t "$machine/srv/geschenk"
cp -a vendor "$machine/srv/geschenk/"
cp -a public/build "$machine/srv/geschenk/public/"
boot

say "Installing"
install="cd /srv/geschenk && ./geschenk install --port=$port"
check "a name that is none is refused" not inside "$install --name='a b'"
check "a key that is not the certificate's is refused" not inside "$install --certificate=/etc/hosts --key=/etc/passwd"
check "nothing was changed by that" not inside 'test -e /opt/geschenk || test -e /etc/geschenk'
check "it installs" inside "$install --name=shop.test --name=127.0.0.1"
cp "$work/check.log" "$work/install.log"
check "says that the disk is not encrypted" grep -q 'NOT ENCRYPTED' "$work/install.log"
check "says how the first user is made" grep -q 'geschenk user add' "$work/install.log"

say "Doors"
check "it answers over TLS, by its name" is_code 200 /api/session
check "and has no stand-in desk" has '"desk":false' ask /api/session
for name in shop.test other.example; do
  check "TLS 1.1 is refused to $name, for what it is" has 'alert protocol version' tls_1_1 "$name"
done
check "plain HTTP is not answered" not curl -fsS --max-time 5 "http://127.0.0.1:$port/api/session"
check "another name is not answered" is_code 421 / -H 'Host: evil.example'
check "no version is told" not has '^(server: nginx/|x-powered-by)' head_of /
check "pages have a content security policy" has "^content-security-policy: default-src 'none'" head_of /
check "browsers are told to stay with TLS" has '^strict-transport-security: max-age=31536000' head_of /api/session
script=$(ask / | grep -o '/build/assets/[^"]*\.js' | head -n 1)
check "built files are compressed" has '^content-encoding: gzip' head_of "$script" -H 'Accept-Encoding: gzip'
check "and kept by their hashed names" has '^cache-control: public, max-age=31536000, immutable' head_of "$script"
for header in 'x-content-type-options: nosniff' "content-security-policy: default-src 'none'" \
  'referrer-policy: no-referrer' 'strict-transport-security'; do
  for path in "$script" /sheet.css /mark.svg; do check "$path carries $header" has "^$header" head_of "$path"; done
done
check "answers of the application are not compressed" not has '^content-encoding' head_of /api/session \
  -H 'Accept-Encoding: gzip'
for path in /.env /index.php /index.php/api/session /build/.vite/manifest.json /install/nginx.conf /../../etc/passwd \
  /api/standin/phones; do
  check "$path is not there" has '^(404|401|400)$' code "$path" --path-as-is
done
head -c 300000 /dev/zero >"$work/long"
check "a long body is refused before it is read" is_code 413 /api/session --data-binary "@$work/long"
check "the demonstration's users are not there" not sign_in jette ribbon-and-tag

say "Users"
check "the first user is made" inside "echo '$password' | geschenk user add ada --manager"
check "and signs in" sign_in ada "$password"
check "with a cookie for TLS and the server alone" grep -qE '^#HttpOnly_shop.test.*TRUE.*geschenk' "$work/ada.jar"
check "reads the log" is_code 200 /api/log -b "$work/ada.jar"

say "Rights"
owners=$(inside "ps -eo user:20,args" | grep -E 'bin/console|php-fpm' | grep -v grep)
check "seven processes and more work" test "$(wc -l <<<"$owners")" -ge 7
check "all as a user of their own" not grep -qv '^geschenk' <<<"$owners"
for path in /var/lib/geschenk/shop.sqlite /etc/geschenk/secret /etc/geschenk/environment /etc/geschenk/tls/key.pem \
  /var/log/geschenk /var/cache/geschenk; do
  check "$path is not for others" not inside "setpriv --reuid=nobody --regid=nogroup --clear-groups \
    sh -c 'if [ -d $path ]; then ls $path; else head -c 1 $path; fi'"
done
check "the code can't be written by the application" not inside \
  'find /opt/geschenk ! -user root -o ! -type l -perm /022 | grep .'
check "no stand-in, demonstration or test was installed" not inside \
  'cd /opt/geschenk && ls -d standin tests src/Demo vendor/phpunit 2>/dev/null | grep .'
for unit in geschenk-web.service geschenk-worker@1.service geschenk-looks.service geschenk-watch.service; do
  check "$unit is locked in" inside "systemd-analyze security --no-pager --threshold=20 $unit"
done

say "Reading what is foreign, locked in as the workers are"
php -d memory_limit=256M tests/Install/chats.php "$machine/srv/chats"
check "a messenger's data is read there too" inside \
  "mkdir -p /run/systemd/system/geschenk-try.service.d && cd /run/systemd/system \
  && printf '[Service]\nType=oneshot\nExecStart=/usr/bin/php bin/console chats:inspect /srv/chats\n' \
  >geschenk-try.service \
  && printf '[Service]\nRestart=no\n' >geschenk-try.service.d/once.conf && chmod -R a+rX /srv/chats \
  && systemctl daemon-reload && systemctl start geschenk-try.service \
  && journalctl -u geschenk-try.service --no-pager | grep -i 'messages'"

say "Restarts"
for unit in geschenk-web.service geschenk-worker@1.service geschenk-worker@2.service geschenk-looks.service \
  geschenk-watch.service nginx.service; do
  check "$unit is back after a kill" inside "before=\$(systemctl show -P MainPID $unit) && kill -KILL \$before \
    && sleep 4 && systemctl is-active $unit && test \"\$(systemctl show -P MainPID $unit)\" != \"\$before\""
done
check "the session goes on" is_code 200 /api/log -b "$work/ada.jar"
fingerprint=$(openssl x509 -in "$machine/etc/geschenk/tls/certificate.pem" -noout -fingerprint)
secret=$(sha256sum <"$machine/etc/geschenk/secret")
power_off
boot
check "it is there again after the computer was switched off and on" inside \
  "for n in \$(seq 50); do systemctl is-active geschenk-web.service nginx.service && exit; sleep 0.3; done; exit 1"
sleep 2
check "and the session goes on" is_code 200 /api/log -b "$work/ada.jar"

say "Again, saved and loaded"
check "saving waits until the shop is closed" not inside 'geschenk save /var/lib/geschenk/saved.tar'
check "it is installed a second time" inside "$install"
check "with the same secret" test "$(sha256sum <"$machine/etc/geschenk/secret")" = "$secret"
check "and the same certificate" test \
  "$(openssl x509 -in "$machine/etc/geschenk/tls/certificate.pem" -noout -fingerprint)" = "$fingerprint"
check "and its users" sign_in ada "$password"
check "what was before is gone" not inside 'test -e /opt/geschenk.before'
check "closed, it is saved" inside 'systemctl stop geschenk.target && geschenk save /var/lib/geschenk/saved.tar'
inside 'mkdir /srv/kept && mv /var/lib/geschenk/saved.tar /srv/kept/ && chmod -R a+rX /srv/kept'
inside 'rm -rf /var/lib/geschenk'
check "and loaded where nothing is" inside "$install --load=/srv/kept/saved.tar"
check "with its users" sign_in ada "$password"
check "the log is whole" inside 'geschenk console log:verify'
check "a certificate of the shop's is taken" inside "openssl req -x509 -newkey rsa:2048 -noenc -days 30 \
  -subj /CN=shop.test -addext subjectAltName=DNS:shop.test -keyout /srv/key.pem -out /srv/certificate.pem \
  && $install \
  --certificate=/srv/certificate.pem --key=/srv/key.pem"
check "and used" sign_in ada "$password"
inside 'echo shop.test >/etc/geschenk/tls/made-for && openssl genpkey -algorithm ed25519 -out /etc/geschenk/tls/key.pem'
check "a key of ours that is not the certificate's, as a power cut leaves it, is mended by the start" inside \
  'systemctl restart geschenk.target && sleep 2 && systemctl restart nginx.service'
check "and browsers are answered" sign_in ada "$password"
check "no service has failed" inside '! systemctl --failed --no-legend --plain | grep -E "geschenk|nginx"'

if [ "$failures" -gt 0 ]; then stop "$failures of these are not so"; fi
say "All of it is so."
