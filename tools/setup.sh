# Sourced by ./start and ./test: makes .venv from the pinned requirements and
# installs missing Debian packages when it may, else prints the exact command.
# Usage: mektel_setup REQUIREMENTS PACKAGE...
mektel_setup() {
    local requirements=$1; shift
    local missing=() package python=${PYTHON:-python3}
    for package in "$@"; do
        dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
    done
    if [ ${#missing[@]} -gt 0 ]; then
        if ! command -v apt-get >/dev/null; then
            echo "mektel: these libraries are needed (Debian names): ${missing[*]}" >&2
        elif [ "$(id -u)" = 0 ]; then
            echo "mektel: installing ${missing[*]}" >&2
            apt-get update -qq >&2
            DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
        else
            echo "mektel: some system packages are missing. Run this, then start again:" >&2
            echo "    sudo apt-get install --no-install-recommends ${missing[*]}" >&2
            return 1
        fi
    fi
    if ! "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
        echo "mektel: Python 3.11 or newer is needed. Set PYTHON to its path and start again." >&2
        return 1
    fi
    # What is set up for the tests will do for running, too.
    local stamp whole
    stamp=".venv/.set-up-$(cat requirements.txt "$requirements" pyproject.toml | sha256sum | cut -c1-16)"
    whole=".venv/.set-up-$(cat requirements.txt requirements-dev.txt pyproject.toml | sha256sum | cut -c1-16)"
    if [ ! -e "$stamp" ] && [ ! -e "$whole" ]; then
        echo "mektel: setting up .venv (first use, or the requirements changed)" >&2
        # One that was interrupted has no pip yet.
        .venv/bin/python -m pip --version >/dev/null 2>&1 || "$python" -m venv --clear .venv || return 1
        .venv/bin/python -m pip install --quiet --disable-pip-version-check -r "$requirements" || return 1
        .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps -e . || return 1
        touch "$stamp"
    fi
}

# The pinned tools that check the JavaScript; they run on the Node.js of .venv.
mektel_setup_javascript() {
    local folder=tools/javascript stamp
    stamp="$folder/node_modules/.set-up-$(cat $folder/package-lock.json requirements-dev.txt | sha256sum | cut -c1-16)"
    export PATH="$PWD/.venv/bin:$PATH"
    if [ ! -e "$stamp" ]; then
        echo "mektel: setting up $folder (first use, or its lock file changed)" >&2
        npm ci --prefix "$folder" --silent --no-audit --no-fund >&2 || return 1
        touch "$stamp"
    fi
}

MEKTEL_QT_PACKAGES="python3-venv libegl1 libgl1 libopengl0 libfontconfig1 libdbus-1-3 libxkbcommon-x11-0
    libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0
    libxcb-shape0 libxcb-xkb1 libxcb-xinerama0 xvfb xauth"
