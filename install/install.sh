# Sets Geschenk up on this computer as services, behind nginx, with TLS. Sourced by ./geschenk; docs/installation.md.
# shellcheck shell=bash

app=/opt/geschenk
own=/etc/geschenk
# shellcheck disable=SC2154 # of ./geschenk
checkout=$root

install_usage() {
  cat <<'TEXT'
./geschenk install [--name=NAME]… [--port=443] [--certificate=FILE --key=FILE] [--load=FILE]
                   [--shop-key=FILE] [--key-from=credential|passphrase|FILE] [--no-start]
  --name         what computers of the shop call this one: a name or an address, the one most used first;
                 without it, those that it says of itself
  --certificate  the shop's own, with its chain, and its key (PEM); without them one is made
  --load         what "save" has written elsewhere, into an installation that has no data yet
  --shop-key     with --load: the key that "geschenk key" has written there
  --key-from     what opens what the shop keeps: a credential that only this computer opens (if not told), a passphrase
                 that is asked for at each start, or a file, on a stick for instance
  --no-start     puts everything in place and starts nothing: for the image of a container
TEXT
}

install_shop() {
  local names=() port=443 certificate='' key='' load='' start=yes word shop_key='' key_from=''
  for word in "$@"; do
    case $word in
      --name=*) names+=("${word#*=}") ;;
      --port=*) port=${word#*=} ;;
      --certificate=*) certificate=$(from_caller "${word#*=}") ;;
      --key=*) key=$(from_caller "${word#*=}") ;;
      --load=*) load=$(from_caller "${word#*=}") ;;
      --shop-key=*) shop_key=$(from_caller "${word#*=}") ;;
      --key-from=*) key_from=${word#*=} ;;
      --no-start) start= ;;
      *) install_usage >&2; fail "unknown word: $word" ;;
    esac
  done
  [ "$(id -u)" = 0 ] || fail "installing is for root: sudo ./geschenk install …"
  [ "$checkout" != "$app" ] || fail "this is the installation itself; run install from where a new version lies"
  command -v systemctl >/dev/null \
    || fail "services need systemd; without it use ./geschenk serve, on this computer alone"
  if ! [[ "$port" =~ ^[1-9][0-9]{0,4}$ ]] || [ "$port" -gt 65535 ]; then fail "no port: $port"; fi
  if [ -n "$certificate$key" ]; then
    if [ ! -f "$certificate" ] || [ ! -f "$key" ]; then
      fail "a certificate and its key go together: --certificate=FILE --key=FILE"
    fi
    [ "$(openssl pkey -in "$key" -pubout 2>/dev/null)" \
      = "$(openssl x509 -in "$certificate" -noout -pubkey 2>/dev/null)" ] \
      || fail "$key is not the key of $certificate; nothing was changed"
  fi
  [ -z "$shop_key" ] || [ -s "$shop_key" ] || fail "$shop_key is not there; nothing was changed"
  case $key_from in
    '' | credential | passphrase | /*) ;;
    *) fail "a key comes from credential, passphrase or a file with its whole path; nothing was changed" ;;
  esac
  if [ -n "$key_from" ] && [ -e /var/lib/geschenk/keys/ring ] \
    && [ "$key_from" != "$(cat "$own/key-from" 2>/dev/null || echo credential)" ]; then
    fail "this shop has a key already: geschenk console shop:key changes it, docs/installation.md says how"
  fi
  [ -z "$load" ] || [ -f "$load" ] || fail "$load is not there; nothing was changed"
  if [ ${#names[@]} = 0 ]; then
    if [ -f "$own/names" ]; then read -r -a names <"$own/names"; else read -r -a names <<<"$(own_names)"; fi
  fi
  for word in "${names[@]}"; do
    [[ "$word" =~ ^[A-Za-z0-9]([A-Za-z0-9.-]{0,251}[A-Za-z0-9])?$|^\[[0-9a-fA-F:]+\]$ ]] || fail "no name: $word"
  done

  trap '[ $? = 0 ] || printf "geschenk: installing ended before it was done, at: %s\n" "$doing" >&2' EXIT
  doing="the packages"
  install_packages
  doing="the interface and the PHP packages"
  if [ ! -f public/build/.vite/manifest.json ] || [ ! -f vendor/autoload_runtime.php ]; then prepare; fi
  doing="the application, in $app.new; what runs was not touched"
  say "Copying the application to $app"
  copy_application
  doing="the services"
  say "Putting users, services and the web server's page in place"
  id geschenk >/dev/null 2>&1 || adduser --quiet --system --group --home /var/lib/geschenk --no-create-home geschenk
  (umask 022 && mkdir -p "$own/tls" && printf '%s\n' "${names[*]}" >"$own/names")
  [ -z "$key_from" ] || printf '%s\n' "$key_from" >"$own/key-from"
  if [ -n "$shop_key" ]; then
    (umask 077 && systemd-creds encrypt --name=shop-key - "$own/shop-key.cred" <"$shop_key")
    rm -rf /run/geschenk-key
  fi
  if [ -n "$certificate" ]; then
    install -m 600 "$key" "$own/tls/key.pem"
    install -m 644 "$certificate" "$own/tls/certificate.pem"
    rm -f "$own/tls/made-for"
  fi
  [ -z "$start" ] || systemctl stop geschenk.target 'geschenk-*.service' prepare-geschenk.service 2>/dev/null || true
  swap_application
  place_services "$port" "${names[@]}"
  if [ -z "$start" ]; then
    say "In place. What starts the system starts Geschenk; the first start makes secret, certificate and records."
    return
  fi
  if [ -n "$load" ]; then
    say "Loading $load"
    install -d -m 700 -o geschenk -g geschenk /var/lib/geschenk
    setpriv --reuid=geschenk --regid=geschenk --clear-groups env GESCHENK_DATA=/var/lib/geschenk APP_ENV=prod \
      GESCHENK_CACHE=/var/cache/geschenk "$app/geschenk" load "$load" || fail "the shop was not started"
  fi
  say "Starting"
  systemctl daemon-reload
  systemctl start prepare-geschenk.service \
    || { journalctl -u prepare-geschenk.service -n 20 --no-pager >&2; fail "it could not be made ready, see above"; }
  nginx -t -q || fail "nginx does not take what was made for it, see above"
  systemctl restart nginx.service
  systemctl start geschenk.target
  await_answer "$port" "${names[0]}"
  [ -z "$before" ] || rm -rf "$before"
  tell_about_it "$port" "${names[@]}"
}

# What this computer says of itself, the name first.
own_names() {
  local name
  name=$(hostname -f 2>/dev/null || hostname)
  printf '%s ' "$name"
  [ "${name%%.*}" = "$name" ] || printf '%s ' "${name%%.*}"
  printf '%s.local ' "${name%%.*}"
  hostname -I | tr ' ' '\n' | grep -E '^[0-9.]+$' | tr '\n' ' '
}

install_packages() {
  wanted=()
  local package
  for package in nginx php8.2-cli php8.2-fpm php8.2-sqlite3 php8.2-gd php8.2-intl php8.2-mbstring php8.2-xml \
    php8.2-curl php8.2-zip openssl adduser curl chromium-headless-shell fonts-dejavu-core fonts-droid-fallback \
    fonts-noto-color-emoji fonts-noto-core fonts-wqy-microhei; do
    [ "$(dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null)" = installed ] || wanted+=("$package")
  done
  command -v composer >/dev/null || wanted+=(composer)
  local had_fpm=yes
  [ -x /usr/sbin/php-fpm8.2 ] || had_fpm=
  if [ ${#wanted[@]} -gt 0 ]; then
    mkdir -p "$checkout/var"
    apt_install
  fi
  # Debian's own pool came with the package and is used by nobody here.
  [ -n "$had_fpm" ] || systemctl disable --now php8.2-fpm.service >/dev/null 2>&1 || true
}

# Without what only a demonstration, a test or a build needs; readable by all, writable by root alone.
copy_application() {
  rm -rf "$app.new"
  (
    umask 022
    mkdir -p "$app.new"
    cp -R bin config core docs guides install migrations public src templates translations vendor \
      composer.json geschenk LICENCES.txt .env "$app.new/"
    rm -rf "$app.new/src/Demo" "$app.new/vendor/bin" "$app.new/docs/screenshots"
    # With all of them still there, which Composer itself loads.
    composer dump-autoload --no-dev --optimize --quiet --working-dir="$app.new"
    # shellcheck disable=SC2016 # the variables are PHP's
    php -r '
      $path = $argv[1]."/vendor/composer/installed.json";
      $told = json_decode(file_get_contents($path), true, 512, JSON_THROW_ON_ERROR);
      foreach ($told["dev-package-names"] as $name) {
        if (preg_match("#^[a-z0-9_.-]+/[a-z0-9_.-]+$#D", $name)) { echo $argv[1]."/vendor/".$name, "\0"; }
      }
    ' "$app.new" | xargs -0 rm -rf
    find "$app.new/vendor" -mindepth 1 -maxdepth 1 -type d -empty -delete
    find "$app.new/public/build/assets" -type f \( -name '*.js' -o -name '*.css' -o -name '*.svg' \) \
      -exec gzip --keep --force --best {} +
    touch "$app.new/.installed"
    chown -R root:root "$app.new"
    chmod -R u=rwX,go=rX "$app.new"
  )
  sync
}

# The version before stays until the new one answers: what never answered is not put in its place.
swap_application() {
  before=$app.before
  if [ -d "$before" ]; then rm -rf "$app"
  elif [ -d "$app" ]; then mv "$app" "$before"
  else before=
  fi
  mv "$app.new" "$app"
  rm -rf /var/cache/geschenk
  install -d -m 700 -o geschenk -g geschenk /var/cache/geschenk
  (umask 022 && install -m 755 "$app/install/command.sh" /usr/local/bin/geschenk)
}

place_services() {
  local port=$1; shift
  local unit site=/etc/nginx/sites-available/geschenk
  (
    umask 022
    cd "$app/install/systemd" || exit
    for unit in *.service *.target */*.conf; do
      install -D -m 644 "$unit" "/etc/systemd/system/$unit"
    done
    sed -e "s/@NAMES@/$*/g; s/@PORT@/$port/g" "$app/install/nginx.conf" >"$site"
    [ "$port" != 443 ] || sed -e "s/@FIRST@/$1/g" "$app/install/redirect.conf" >>"$site"
    ln -sf "$site" /etc/nginx/sites-enabled/geschenk
    # Debian's page of welcome; one that was changed is somebody's and stays.
    [ "$(readlink /etc/nginx/sites-enabled/default)" != /etc/nginx/sites-available/default ] \
      || rm /etc/nginx/sites-enabled/default
  )
  systemctl enable --quiet geschenk.target nginx.service
}

await_answer() {
  local _
  for _ in $(seq 150); do
    if curl -fsS -o /dev/null --max-time 5 --cacert "$own/tls/certificate.pem" --connect-to "$2:$1:127.0.0.1:$1" \
      "https://$2:$1/api/session" 2>"$checkout/var/install-answer.log"; then
      return 0
    fi
    sleep 0.2
  done
  cat "$checkout/var/install-answer.log" >&2
  systemctl --no-pager --lines=5 status nginx.service 'geschenk-*.service' >&2 || true
  fail "it was started and does not answer.${before:+ The version before lies in $before.}"
}

tell_about_it() {
  local port=$1; shift
  local suffix=''
  [ "$port" = 443 ] || suffix=:$port
  say "Geschenk runs at https://$1$suffix"
  [ ! -f "$own/tls/made-for" ] || cat <<TEXT
  Its certificate was made here, so each browser asks once whether to trust it. Compare before you do:
  $(openssl x509 -in "$own/tls/certificate.pem" -noout -fingerprint -sha256)
  or give $own/tls/certificate.pem to the browsers of the shop.
TEXT
  if [ ! -e "$own/key-from" ] || [ "$(cat "$own/key-from")" = credential ]; then
    echo "  What the shop keeps is sealed, and this computer alone opens it. Keep its key elsewhere: geschenk key FILE"
  fi
  echo "  Users: geschenk user add NAME --manager makes the first one, who adds the others on the page."
  if is_encrypted /var/lib/geschenk; then
    echo "  /var/lib/geschenk lies on an encrypted disk."
  else
    cat <<'TEXT'
  THE DISK UNDER /var/lib/geschenk IS NOT ENCRYPTED, as far as can be seen from here. Backups and what was
  converted are sealed; chats that are being taken, very large ones that are being converted, and the shop's records
  lie open on it, for whoever takes the disk out. Encrypt it before customers come: docs/security.md says what lies
  where.
TEXT
  fi
}

is_encrypted() {
  local source
  source=$(findmnt -no SOURCE -T "$1" 2>/dev/null) || return 1
  lsblk -nso TYPE "${source%%[*}" 2>/dev/null | grep -x crypt >/dev/null
}
