#!/usr/bin/env bash
# The installation's own command: what ./geschenk does with the shop's data, as the user that they belong to.
set -euo pipefail
if [ "$(id -u)" != 0 ]; then
  exec sudo -- "$0" "$@"
fi
case ${1:-} in
  records | save | load | user)
    set -a
    # shellcheck source=/dev/null
    . /etc/geschenk/environment
    set +a
    exec setpriv --reuid=geschenk --regid=geschenk --clear-groups --no-new-privs /opt/geschenk/geschenk "$@"
    ;;
  key)
    to=${2:-}
    if [ -z "$to" ] || [ -e "$to" ]; then
      echo "say where to, a file that is not there yet: geschenk key FILE" >&2
      exit 1
    fi
    if [ ! -s /etc/geschenk/shop-key.cred ]; then
      echo "the key of this shop is no credential: it comes from $(cat /etc/geschenk/key-from 2>/dev/null)" >&2
      exit 1
    fi
    (umask 077 && systemd-creds decrypt --name=shop-key /etc/geschenk/shop-key.cred - >"$to")
    echo "Written to $to. Keep it where this computer is not: with it, what was saved opens on another."
    ;;
  console)
    shift
    set -a
    # shellcheck source=/dev/null
    . /etc/geschenk/environment
    set +a
    cd /opt/geschenk
    exec setpriv --reuid=geschenk --regid=geschenk --clear-groups --no-new-privs php bin/console "$@"
    ;;
  *)
    cat <<'TEXT'
geschenk user add|password|disable|enable NAME [--display-name=…] [--manager|--wall]   the users
geschenk save FILE         records and backups into one file, in a folder that the user geschenk may write to;
                           stop the shop first: systemctl stop geschenk.target
geschenk key FILE          the shop's key, to be kept elsewhere: without it nothing that was saved opens on another
                           computer
geschenk console …         log:verify, log:save FILE and the like
systemctl start|stop|status geschenk.target
journalctl -u 'geschenk-*' what the services say; /var/log/geschenk has what the application says
TEXT
    ;;
esac
