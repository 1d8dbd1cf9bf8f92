# Shared by run, test, bench and ratiogon. Sourced, not run.
set -euo pipefail
caller=$PWD
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_CLI_UI_LANGUAGE=en MSBUILDDISABLENODEREUSE=1

say() { printf -- '-- %s\n' "$*"; }
fail() { printf 'ratiogon: %s\n' "$*" >&2; exit 1; }

enough_disk() {
  local free; free=$(df -Pm "$root" | awk 'NR==2 {print $4}')
  [ "$free" -ge 1500 ] || fail "the disk is nearly full: $free MB are free where 1500 MB are needed"
}

# need COMMAND-OR-FILE PACKAGE...: installs Debian packages when something is missing.
need() {
  local probe=$1; shift
  command -v "$probe" >/dev/null 2>&1 || [ -e "$probe" ] && return 0
  [ "$(id -u)" = 0 ] || fail "$* missing; install with: sudo apt-get install $*"
  if [ -z "${apt_fresh:-}" ]; then
    say "updating the package lists"
    apt-get update -qq >/dev/null || fail "apt-get update failed"
    apt_fresh=1
  fi
  say "installing $*"
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null 2>&1 || fail "these packages could not be installed: $*"
}

need_toolchain() {
  command -v dotnet >/dev/null || fail "the .NET 10 SDK is missing (dotnet is not on the PATH)"
  command -v node >/dev/null || need node nodejs npm
  need cmake cmake; need ninja ninja-build; need g++ g++
  need /usr/include/opencascade/STEPControl_Writer.hxx libocct-modeling-algorithms-dev libocct-data-exchange-dev
}

build_native() {
  local out=build/native/libratiogon_solids.so
  if [ ! -e "$out" ] || [ -n "$(find src/Ratiogon.Solids/native -newer "$out" -print -quit)" ]; then
    say "building the native library"
    { cmake -S src/Ratiogon.Solids/native -B build/native -G Ninja && cmake --build build/native; } >var/native.log 2>&1 || fail "the native library did not build; see var/native.log"
    touch "$out"
  fi
}

# Runs a step only when its inputs changed: stamp NAME INPUTS... -- COMMAND...
unless_done() {
  local name=$1; shift
  local inputs=()
  while [ "$1" != -- ]; do inputs+=("$1"); shift; done
  shift
  local sum; sum=$(find "${inputs[@]}" -type f -not -path '*/node_modules/*' -not -path '*/bin/*' -not -path '*/obj/*' -not -path '*/wwwroot/*' -not -path '*/dist/*' -print0 | sort -z | xargs -0 sha1sum | sha1sum)
  [ "$(cat "var/$name.done" 2>/dev/null)" = "$sum" ] && return 0
  "$@" || return 1
  echo "$sum" >"var/$name.done"
}

# Not 'npm ci': a feed may lack packages of other platforms that the lock file would have to name.
npm_install() { say "installing the front end's packages"; (cd web && npm install --no-save --no-audit --no-fund --loglevel=error >../var/npm.log 2>&1) || fail "npm install failed; see var/npm.log"; }
vite_build() { say "building the front end"; (cd web && npm run -s build >../var/web.log 2>&1 && node compress.mjs ../src/Ratiogon.Server/wwwroot/assets >>../var/web.log 2>&1) || { tail -20 var/web.log >&2; fail "the front end did not build; see var/web.log"; }; }
build_web() {
  [ -d web/node_modules ] || rm -f var/npm.done
  unless_done npm web/package-lock.json -- npm_install
  [ -e src/Ratiogon.Server/wwwroot/index.html ] || rm -f var/web.done
  unless_done web web/src web/public web/index.html web/package-lock.json web/vite.config.ts web/compress.mjs -- vite_build
}

dotnet_build() { say "building $1"; dotnet build "$1" -c Release -v q -clp:ErrorsOnly >var/dotnet.log 2>&1 || { grep -E "error" var/dotnet.log | sort -u | head -20 >&2; fail "the build failed; see var/dotnet.log"; }; }
build_server() {
  [ -e src/Ratiogon.Server/bin/Release/net10.0/Ratiogon.Server.dll ] || rm -f var/server.done
  unless_done server src scripts/ahead Directory.Build.props Directory.Packages.props .editorconfig build/native/libratiogon_solids.so -- build_server_whole
}
build_server_whole() { dotnet_build src/Ratiogon.Server && compile_ahead src/Ratiogon.Server/bin/Release/net10.0; }

# compile_ahead FOLDER: turns the assemblies there into ones that are compiled ahead of time (ReadyToRun), so that the server and its
# workers start in little more than half the time. What was compiled once is kept by its content. Without the compiler, which comes as a
# package, all stays as it is.
compile_ahead() {
  local folder=$1 kept=$root/build/ahead tool framework
  [ "$(uname -m)" = x86_64 ] || return 0
  dotnet restore scripts/ahead -v q >var/ahead.log 2>&1 || true
  tool=$(ls -d "${NUGET_PACKAGES:-$HOME/.nuget/packages}"/microsoft.netcore.app.crossgen2.linux-x64/10.*/tools/crossgen2 2>/dev/null | sort -V | tail -1)
  framework=$(dotnet --list-runtimes | awk '/^Microsoft.NETCore.App 10/ { v = $2; d = $3 } END { gsub(/[][]/, "", d); print d "/" v }')
  [ -n "$tool" ] && [ -d "$framework" ] || { say "not compiled ahead of time: the server starts more slowly"; return 0; }
  say "compiling ahead of time"
  mkdir -p "$kept"
  local file sum
  for file in "$folder"/*.dll; do
    case $(basename "$file") in Microsoft.CodeAnalysis* | Microsoft.Build* | Humanizer* | *.Design.dll | Mono.*) continue ;; esac
    sum=$(sha1sum "$file" | cut -c1-40)
    [ -e "$kept/$sum.made" ] || printf '%s %s\0' "$file" "$sum"
  done | xargs -0 -r -P "$(nproc)" -I{} bash -c '
    set -- $1 "$2" "$3" "$4" "$5"; file=$1 sum=$2 tool=$3 framework=$4 kept=$5 folder=$6
    if [ ! -e "$kept/$sum.dll" ]; then
      "$tool" --targetos linux --targetarch x64 -O --parallelism 1 -r "$framework/*.dll" -r "${framework/Microsoft.NETCore.App/Microsoft.AspNetCore.App}/*.dll" \
        -r "$folder/*.dll" -o "$kept/$sum.part" "$file" || { rm -f "$kept/$sum.part"; exit 0; }
      mv "$kept/$sum.part" "$kept/$sum.dll"
    fi
    touch "$kept/$(sha1sum "$kept/$sum.dll" | cut -c1-40).made"
    # Moved, not written over: what runs goes on with what it has.
    cp "$kept/$sum.dll" "$file.new" && mv "$file.new" "$file"' _ {} "$tool" "$framework" "$kept" "$folder" >>var/ahead.log 2>&1
}

port_free() { ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# --- PostgreSQL: an own cluster on loopback ------------------------------------------------------
pg_bin() { local d; d=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1); [ -x "$d/initdb" ] || return 1; echo "$d"; }

as_pg() { if [ "$(id -u)" = 0 ]; then (cd / && setpriv --reuid=postgres --regid=postgres --init-groups env -u HOME "$@"); else "$@"; fi; }

need_postgres() { pg_bin >/dev/null || need /usr/lib/postgresql/15/bin/initdb postgresql; }

# start_postgres FOLDER PORT: sets $database to the connection string.
start_postgres() {
  local data=$1 port=$2
  need_postgres
  local bin; bin=$(pg_bin)
  mkdir -p "$data"
  if [ "$(id -u)" = 0 ]; then
    chown postgres:postgres "$data"
    if ! as_pg test -w "$data"; then
      # The checkout lies where the postgres user may not look.
      data=/var/lib/ratiogon/$(printf '%s' "$data" | sha1sum | cut -c1-12)
      mkdir -p "$data"; chown postgres:postgres "$data"
    fi
  fi
  chmod 700 "$data"
  if [ ! -e "$data/cluster/PG_VERSION" ]; then
    say "creating the database cluster"
    head -c 18 /dev/urandom | base64 | tr -d '+/=' >"$data/password"
    [ "$(id -u)" = 0 ] && chown postgres:postgres "$data/password"
    chmod 600 "$data/password"
    as_pg "$bin/initdb" -D "$data/cluster" -U ratiogon --pwfile="$data/password" --auth=scram-sha-256 -E UTF8 --no-locale >"$root/var/initdb.log" 2>&1 || fail "initdb failed; see var/initdb.log"
  fi
  pg_data=$data/cluster
  if ! postgres_runs; then
    as_pg rm -f "$pg_data/postmaster.pid"
    port_free "$port" || fail "port $port, for PostgreSQL, is taken; set RATIOGON_DB_PORT to another"
    as_pg "$bin/pg_ctl" -D "$pg_data" -w -l "$data/postgres.log" -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c shared_buffers=64MB -c synchronous_commit=on" start >/dev/null || fail "PostgreSQL did not start; see $data/postgres.log"
    pg_started=1
  else
    # It may have been started on another port.
    port=$(as_pg sed -n 4p "$pg_data/postmaster.pid")
  fi
  pg_port=$port
  pg_password=$(cat "$data/password")
  database="Host=127.0.0.1;Port=$port;Username=ratiogon;Password=$pg_password;Database=ratiogon;Timeout=10"
}

psql_do() { PGPASSWORD=$pg_password "$(pg_bin)/psql" -qAt -h 127.0.0.1 -p "$pg_port" -U ratiogon -d "${2:-postgres}" -c "$1"; }

# A process that has ended, but that nobody has buried, does not run.
postgres_runs() {
  local pid; pid=$(head -1 "$pg_data/postmaster.pid" 2>/dev/null) || return 1
  kill -0 "$pid" 2>/dev/null && [ "$(awk '/^State:/ {print $2}' "/proc/$pid/status" 2>/dev/null)" != Z ]
}

stop_postgres() { [ -n "${pg_started:-}" ] && as_pg "$(pg_bin)/pg_ctl" -D "$pg_data" -m fast -w stop >/dev/null 2>&1; pg_started=; }

# --- Tools on a database: that of ./run, or the one of RATIOGON_DATABASE --------------------------
# open_database: sets db_name and what the tools need; starts the cluster of ./run where it does not run.
open_database() {
  local text=${RATIOGON_DATABASE:-}
  if [ -z "$text" ]; then
    pg_data=
    start_postgres "${RATIOGON_DATA:-$root/var}/postgres" "${RATIOGON_DB_PORT:-5481}"
    text=$database
  fi
  db_part() { printf '%s' "$text" | tr ';' '\n' | sed -n "s/^ *$1 *= *//Ip" | head -1; }
  db_name=$(db_part Database) PGHOST=$(db_part Host) PGPORT=$(db_part Port) PGUSER=$(db_part Username) PGPASSWORD=$(db_part Password)
  [ -n "$db_name" ] && [ -n "$PGHOST" ] || fail "the connection string names no host or database"
  export PGHOST PGPORT=${PGPORT:-5432} PGUSER PGPASSWORD
  # So that a tool asked about no database in particular means this one.
  export PGDATABASE=$db_name
}
pg_tool() { local tool=$1; shift; "$(pg_bin)/$tool" "$@"; }
pg_ask() { PGDATABASE=${2:-$db_name} pg_tool psql -qAt -v ON_ERROR_STOP=1 -c "$1"; }

mkdir -p var
