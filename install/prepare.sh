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
GESCHENK_KEY_FILE=/run/geschenk-key/shop-key
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
# The shop's key, for as long as the computer runs and in memory alone. Where it comes from stands in "key-from".
key=/run/geschenk-key
from=$(cat "$own/key-from" 2>/dev/null || echo credential)
install -d -m 700 -o geschenk -g geschenk "$key"
if [ ! -s "$key/shop-key" ]; then
  case $from in
    credential)
      # Drawn once. What opens it is this computer's own: its TPM where it has one.
      if [ ! -s "$own/shop-key.cred" ]; then
        [ ! -e "$data/keys/ring" ] || {
          say "The key of this shop is not in $own/shop-key.cred any more. Install once more with --shop-key=FILE" >&2
          exit 1
        }
        say "Making the key of this shop"
        head -c 32 /dev/urandom | systemd-creds encrypt --name=shop-key - "$own/shop-key.cred.new"
        sync "$own/shop-key.cred.new"
        mv "$own/shop-key.cred.new" "$own/shop-key.cred"
      fi
      systemd-creds decrypt --name=shop-key "$own/shop-key.cred" - >"$key/shop-key.new"
      ;;
    passphrase) ;;
    *)
      [ -s "$from" ] || {
        say "The key file $from is not there. Plug in what it is on, then: systemctl start geschenk.target" >&2
        exit 1
      }
      cat "$from" >"$key/shop-key.new"
      ;;
  esac
  if [ "$from" = passphrase ]; then
    (
      umask 077
      systemd-ask-password --timeout=0 "Passphrase of the shop:" >"$key/told"
      # The first one is told twice.
      [ -e "$data/keys/ring" ] || systemd-ask-password --timeout=0 "The same once more:" >>"$key/told"
    )
    status=0
    /usr/local/bin/geschenk console shop:unlock --into="$key/shop-key" <"$key/told" || status=$?
    rm -f "$key/told"
    [ "$status" = 0 ] || exit 1
  else
    chown geschenk:geschenk "$key/shop-key.new"
    chmod 400 "$key/shop-key.new"
    mv "$key/shop-key.new" "$key/shop-key"
  fi
fi
# What the services lock; a start before this one may have been cut short.
install -m 600 -o geschenk -g geschenk /dev/null "$data/running"
/usr/local/bin/geschenk records
[ "$from" = passphrase ] || /usr/local/bin/geschenk console shop:unlock
