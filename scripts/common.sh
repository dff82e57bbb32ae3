# Shared by ./start and ./check: what is needed, and the project's own PostgreSQL.
# shellcheck shell=bash

ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"

say() { printf '%s\n' "$*" >&2; }

die() {
  say "morphogen: $*"
  exit 1
}

# Installs the Debian packages that are missing, when it may.
need_packages() {
  local missing=()
  local package
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' ||
      missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  local install="apt-get update && apt-get install -y --no-install-recommends ${missing[*]}"
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
      as_root=(sudo -n)
    else
      die "these packages are missing: ${missing[*]}
  Type this and start again:  sudo sh -c '$install'"
    fi
  fi
  say "Installing ${missing[*]} …"
  # PostgreSQL's package must not set up a cluster of its own: ours is apart.
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive sh -c "$install" >/dev/null ||
    die "the packages could not be installed.
  Type this and start again:  sudo sh -c '$install'"
}

need_command() {
  command -v "$1" >/dev/null || die "$1 is missing. $2"
}

need_toolchains() {
  need_command cargo "Install the Rust toolchain: https://rustup.rs"
  need_command npm "Install Node.js 20.19 or newer, with npm."
  need_command cc "Type: sudo apt-get install -y gcc"
  local node
  node="$(node -p 'const [a, b] = process.versions.node.split("."); a * 100 + +b')"
  [ "$node" -ge 2019 ] || die "Node.js is $(node --version); 20.19 or newer is needed."
}

# Installs the front end's packages when the lock file has changed.
install_web() {
  local mark="$ROOT/web/node_modules/.installed"
  if [ ! -f "$mark" ] || ! cmp -s "$ROOT/web/package-lock.json" "$mark"; then
    say "Installing the front end's packages …"
    (cd "$ROOT/web" && npm ci --no-audit --no-fund --loglevel=error) >&2 ||
      die "npm could not install the front end's packages."
    cp "$ROOT/web/package-lock.json" "$mark"
  fi
}

# Builds the front end when one of its files is newer than the build.
build_web() {
  local built="$ROOT/web/dist/index.html"
  if [ -f "$built" ] && [ -z "$(find "$ROOT/web" -newer "$built" -type f \
    -not -path '*/node_modules/*' -not -path '*/dist/*' -print -quit)" ]; then
    return 0
  fi
  say "Building the front end …"
  (cd "$ROOT/web" && npm run --silent build) >&2 || die "the front end did not build."
}

# Installs the Python libraries that tests compare results with, into a folder
# of the project's own.
install_reference() {
  local folder="$ROOT/var/reference" wanted="$ROOT/scripts/reference.txt"
  cmp -s "$wanted" "$folder/.installed" && return 0
  say "Installing the libraries that tests compare results with …"
  rm -rf "$folder"
  python3 -m venv "$folder" &&
    "$folder/bin/pip" install --quiet --disable-pip-version-check --only-binary :all: \
      --requirement "$wanted" >&2 || die "the Python libraries could not be installed."
  cp "$wanted" "$folder/.installed"
}

# --- PostgreSQL ------------------------------------------------------------
# A cluster of the project's own, in its own folder, on loopback and a free
# port. No other cluster is touched. PostgreSQL refuses to run as root, so
# root runs it as the user that Debian's package made.

postgres_programs() {
  local newest
  newest="$(find /usr/lib/postgresql -maxdepth 2 -name bin -type d 2>/dev/null | sort -V | tail -1)"
  [ -n "$newest" ] || die "PostgreSQL's server programs are not there."
  printf '%s' "$newest"
}

as_postgres_user() {
  if [ "$(id -u)" -eq 0 ]; then
    (cd / && runuser -u postgres -- "$@")
  else
    "$@"
  fi
}

# Prints the folder for a cluster called $1: in var/, or beside it in /var/tmp
# when the user who runs PostgreSQL cannot reach the project's folder.
postgres_folder() {
  local wanted="$ROOT/var/$1"
  mkdir -p "$ROOT/var"
  if [ "$(id -u)" -eq 0 ]; then
    if ! as_postgres_user test -x "$ROOT/var"; then
      wanted="/var/tmp/morphogen-$(printf '%s' "$ROOT" | cksum | cut -d' ' -f1)/$1"
    fi
    mkdir -p "$wanted"
    chown postgres: "$wanted"
  else
    mkdir -p "$wanted"
  fi
  printf '%s' "$wanted"
}

free_port() {
  node -e 'const s = require("net").createServer().listen(0, "127.0.0.1",
    () => { console.log(s.address().port); s.close(); })'
}

# Starts the cluster called $1 and sets DATABASE_URL to its database.
# Settings in $2… are passed on to the server.
start_postgres() {
  local programs folder port
  programs="$(postgres_programs)"
  POSTGRES_FOLDER="$(postgres_folder "$1")"
  folder="$POSTGRES_FOLDER"
  shift
  if [ ! -f "$folder/data/PG_VERSION" ]; then
    as_postgres_user "$programs/initdb" --pgdata="$folder/data" --username=morphogen \
      --auth=trust --encoding=UTF8 --locale=C.UTF-8 >/dev/null ||
      die "PostgreSQL's data folder could not be made in $folder."
  fi
  # A server left over by a start that was killed: it is ours, take it down.
  as_postgres_user "$programs/pg_ctl" --pgdata="$folder/data" --mode=fast --silent stop \
    >/dev/null 2>&1 || true
  port="$(free_port)"
  as_postgres_user "$programs/pg_ctl" --pgdata="$folder/data" --log="$folder/log" --wait --silent \
    --options="-h 127.0.0.1 -p $port -k '' -c logging_collector=off $*" start >/dev/null || {
    tail -n 20 "$folder/log" >&2
    die "PostgreSQL did not start."
  }
  export DATABASE_URL="postgres://morphogen@127.0.0.1:$port/morphogen"
  as_postgres_user "$programs/psql" -h 127.0.0.1 -p "$port" -U morphogen -d postgres -qtAc \
    "select 1 from pg_database where datname = 'morphogen'" | grep -q 1 ||
    as_postgres_user "$programs/createdb" -h 127.0.0.1 -p "$port" -U morphogen morphogen
}

stop_postgres() {
  [ -n "${POSTGRES_FOLDER:-}" ] || return 0
  as_postgres_user "$(postgres_programs)/pg_ctl" --pgdata="$POSTGRES_FOLDER/data" \
    --mode=fast --silent stop >/dev/null 2>&1 || true
  POSTGRES_FOLDER=
}
