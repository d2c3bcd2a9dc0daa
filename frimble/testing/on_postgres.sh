#!/bin/sh
# Runs a command against a PostgreSQL cluster of its own, made for it and gone after it:
#   frimble/testing/on_postgres.sh .venv/bin/python manage.py test frimble
# Wants Debian's package postgresql; never touches a cluster that is there.
set -eu
bin=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)
[ -x "$bin/initdb" ] || { echo "PostgreSQL is wanted: apt-get install postgresql" >&2; exit 1; }
cluster=$(mktemp -d /tmp/frimble-postgres-XXXXXX)
# PostgreSQL does not run as root: then its own user does.
as() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }
[ "$(id -u)" != 0 ] || chown postgres "$cluster"
port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
as "$bin/initdb" --pgdata "$cluster/data" --username frimble --auth trust --encoding UTF8 --locale C.UTF-8 > /dev/null
finish() { as "$bin/pg_ctl" --pgdata "$cluster/data" --mode immediate stop > /dev/null || true; rm -rf "$cluster"; }
trap finish EXIT INT TERM
as "$bin/pg_ctl" --pgdata "$cluster/data" --wait --log "$cluster/log" \
  --options "-c listen_addresses=127.0.0.1 -p $port -k $cluster -c fsync=off" start > /dev/null
DATABASE_URL="postgresql://frimble@127.0.0.1:$port/postgres" "$@"
