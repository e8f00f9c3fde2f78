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
geschenk console …         log:verify, log:save FILE and the like
systemctl start|stop|status geschenk.target
journalctl -u 'geschenk-*' what the services say; /var/log/geschenk has what the application says
TEXT
    ;;
esac
