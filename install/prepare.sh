#!/usr/bin/env bash
# What an installation has to have before its services start: run as root by prepare-geschenk.service, each time.
set -euo pipefail
umask 077
own=/etc/geschenk
data=/var/lib/geschenk

say() { printf '%s\n' "$*"; }

mkdir -p "$own/tls"
chmod 755 "$own" "$own/tls"
read -r -a names <"$own/names"

if [ ! -s "$own/secret" ]; then
  say "Making the secret of this installation"
  (umask 027 && head -c 32 /dev/urandom | od -An -tx1 | tr -d ' \n' >"$own/secret.new")
  sync "$own/secret.new"
  mv "$own/secret.new" "$own/secret"
fi
hosts=$(IFS=,; printf '%s' "${names[*]}")
before=$(cat "$own/secret.before" 2>/dev/null || true)
cat >"$own/environment.new" <<TEXT
# Made by install/prepare.sh at each start, from "names", "secret" and "secret.before" beside it.
APP_ENV=prod
APP_DEBUG=0
APP_SECRET=$(cat "$own/secret")
APP_SECRET_BEFORE=$before
GESCHENK_DATA=$data
GESCHENK_CACHE=/var/cache/geschenk
GESCHENK_LOGS=/var/log/geschenk
GESCHENK_HOSTS=$hosts
TMPDIR=$data/scratch
TEXT
chgrp geschenk "$own/environment.new"
chmod 640 "$own/environment.new"
mv "$own/environment.new" "$own/environment"

is_pair() {
  [ "$(openssl pkey -in "$own/tls/key.pem" -pubout 2>/dev/null)" \
    = "$(openssl x509 -in "$own/tls/certificate.pem" -noout -pubkey 2>/dev/null)" ]
}
# The shop's own certificate is left alone; ours is made anew before it ends, when names change, and when the power
# went between key and certificate.
if [ ! -f "$own/tls/certificate.pem" ] || { [ -f "$own/tls/made-for" ] \
  && { [ "$(cat "$own/tls/made-for")" != "${names[*]}" ] || ! is_pair \
    || ! openssl x509 -in "$own/tls/certificate.pem" -noout -checkend 2592000 >/dev/null; }; }; then
  say "Making a certificate for ${names[*]}"
  others=
  for name in "${names[@]}"; do
    if [[ "$name" =~ ^[0-9.]+$|: ]]; then others+=",IP:${name//[\[\]]/}"; else others+=",DNS:$name"; fi
  done
  openssl req -x509 -newkey ec -pkeyopt ec_paramgen_curve:prime256v1 -noenc -sha256 -days 820 \
    -subj "/CN=${names[0]:0:60}/O=Geschenk" -addext "subjectAltName=${others#,}" \
    -addext "basicConstraints=critical,CA:FALSE" -addext "extendedKeyUsage=serverAuth" \
    -keyout "$own/tls/key.new" -out "$own/tls/certificate.new" 2>/dev/null
  printf '%s\n' "${names[*]}" >"$own/tls/made-for"
  mv "$own/tls/key.new" "$own/tls/key.pem"
  chmod 644 "$own/tls/certificate.new"
  mv "$own/tls/certificate.new" "$own/tls/certificate.pem"
fi
is_pair || {
  say "The key in $own/tls is not that of the certificate beside it. Put the right pair there, or take both away." >&2
  exit 1
}

for folder in "$data" "$data/scratch" /var/cache/geschenk /var/log/geschenk; do
  install -d -m 700 -o geschenk -g geschenk "$folder"
done
# What the services lock; a start before this one may have been cut short.
install -m 600 -o geschenk -g geschenk /dev/null "$data/running"
/usr/local/bin/geschenk records
