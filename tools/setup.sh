# Sourced by ./start, ./test, ./bench and ./larder: each function brings one thing about, once.
# A stamp beside what was installed holds the checksum of what it was made from.
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
venv="$root/.venv"

say() { printf '%s\n' "$*"; }

# counted WHAT WORD : of what an installer prints, the lines with WORD are counted aloud, and the seconds told.
counted() {
    awk -v what="$1" -v word="$2" '
        BEGIN { system("") }
        index($0, word) { n++; if (n % 20 == 0) { printf "  %s: %d so far\n", what, n; fflush() } }
        END { printf "  %s: %d in all\n", what, n + 0 }'
    say "  done after $SECONDS s."
}

find_python() {
    local candidate
    for candidate in python3.11 python3 /usr/bin/python3.11; do
        if command -v "$candidate" >/dev/null && "$candidate" -c 'import sys; sys.exit(sys.version_info[:2] < (3, 11))' 2>/dev/null; then
            echo "$candidate"
            return
        fi
    done
    say "Python 3.11 or newer is needed: install the Debian packages python3 and python3-venv." >&2
    exit 1
}

# ensure_packages NAME... : Debian packages, installed where they are missing and we may.
ensure_packages() {
    local name missing=()
    for name in "$@"; do
        dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'ok installed' || missing+=("$name")
    done
    [ ${#missing[@]} -eq 0 ] && return
    if [ "$(id -u)" != 0 ]; then
        say "These Debian packages are missing and only an administrator may install them:" >&2
        say "    apt-get install ${missing[*]}" >&2
        exit 1
    fi
    say "Installing from Debian: ${missing[*]} ..."
    SECONDS=0
    # Debian would start a cluster of its own; ours is enough.
    if [[ " ${missing[*]} " == *" postgresql "* ]]; then
        mkdir -p /etc/postgresql-common
        [ -e /etc/postgresql-common/createcluster.conf ] ||
            echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.conf
    fi
    apt-get update -qq
    DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends \
        -o Dpkg::Options::=--force-confold "${missing[@]}" 2>&1 >/dev/null | grep -v '^debconf' >&2 || true
    for name in "${missing[@]}"; do
        dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'ok installed' || {
            say "apt-get could not install $name: its own words stand above." >&2
            exit 1
        }
    done
    say "  done after $SECONDS s."
}

# _python_packages FILE : what FILE pins, into the environment.
_python_packages() {
    local stamp="$venv/.installed-$(basename "$1")" sum
    sum=$(sha256sum "$1" | cut -d' ' -f1)
    [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sum" ] && return
    if ! [ -x "$venv/bin/pip" ]; then
        local python
        python=$(find_python)
        if ! "$python" -c 'import ensurepip' 2>/dev/null; then
            ensure_packages python3-venv
        fi
        "$python" -m venv "$venv"
    fi
    say "Installing $(grep -c '==' "$1") Python packages of $(basename "$1") ..."
    SECONDS=0
    "$venv/bin/pip" install --progress-bar off --disable-pip-version-check -r "$1" \
        2> >(grep -v '^WARNING' >&2) | counted "Python packages looked at" "Collecting "
    echo "$sum" >"$stamp"
}

ensure_python() { _python_packages "$root/requirements.txt"; }
ensure_python_dev() { ensure_python && _python_packages "$root/requirements-dev.txt"; }

ensure_node_packages() {
    command -v node >/dev/null && command -v npm >/dev/null || ensure_packages nodejs npm
    local stamp="$root/frontend/node_modules/.installed" sum
    sum=$(sha256sum "$root/frontend/package-lock.json" | cut -d' ' -f1)
    [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sum" ] && return
    say "Installing $(grep -c '"node_modules/' "$root/frontend/package-lock.json") frontend packages ..."
    (cd "$root/frontend" && npm ci --no-audit --no-fund --loglevel=error)
    echo "$sum" >"$stamp"
}

ensure_frontend() {
    local stamp="$root/frontend/dist/.built" sum
    sum=$(cd "$root/frontend" && find src public index.html vite.config.ts package-lock.json -type f -print0 |
        sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
    [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sum" ] && return
    ensure_node_packages
    say "Building the frontend ..."
    (cd "$root/frontend" && npm run --silent build -- --logLevel warn)
    echo "$sum" >"$stamp"
}

# The database's server, and what pages for print are laid out with.
SERVER_PACKAGES=(postgresql libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0)
ensure_server() { ensure_packages "${SERVER_PACKAGES[@]}"; }
