#!/usr/bin/env bash
# Runs a command beside a PostgreSQL of Debian's in a folder of its own, gone afterwards; its address is in the variable that the first word names.
#   tools/with_postgres.sh ASPECTUM_DATABASE_URL aspectum serve
set -euo pipefail
variable=$1
shift
programs=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1)
if [ -z "$programs" ]; then
  as_root=$([ "$(id -u)" = 0 ] || echo sudo)
  $as_root apt-get update -qq
  $as_root apt-get install -y -qq --no-install-recommends postgresql > /dev/null
  programs=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
fi
folder=$(mktemp -d)
port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
as_owner=()
if [ "$(id -u)" = 0 ]; then # PostgreSQL does not run as root
  chown postgres "$folder"
  as_owner=(runuser -u postgres --)
fi
cd "$folder"
"${as_owner[@]}" "$programs/initdb" -D "$folder/data" -U postgres -A trust -E UTF8 --no-sync > /dev/null
"${as_owner[@]}" "$programs/pg_ctl" -D "$folder/data" -l "$folder/log" -w -o "-p $port -k $folder -h 127.0.0.1 -c max_connections=300" start > /dev/null
trap '"${as_owner[@]}" "$programs/pg_ctl" -D "$folder/data" -m immediate stop > /dev/null; rm -rf "$folder"' EXIT
cd "$OLDPWD"
env "$variable=postgresql+psycopg://postgres@127.0.0.1:$port/postgres" "$@"
