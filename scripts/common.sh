# Shared by the scripts: from a fresh machine to a ready virtual environment.  Sourced, not run.
set -euo pipefail
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"
python=${PYTHON:-python3}

say() { printf '%s\n' "$*" >&2; }

check_python() {
    "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null || {
        say "Wattagon needs Python 3.11 or newer; $python is $("$python" -V 2>&1). Set PYTHON to a newer one."
        exit 1
    }
}

# system libraries that Qt loads when a window is made, with the packages that bring them
check_libraries() {
    local missing=() packages=() name package here
    here=$(ldconfig -p 2>/dev/null || true) # once: a pipe that is closed early would count as a failure
    while read -r name package; do
        if [[ $here != *"$name"* ]]; then
            missing+=("$name")
            packages+=("$package")
        fi
    done <<LIST
libEGL.so.1 libegl1
libGL.so.1 libgl1
libfontconfig.so.1 libfontconfig1
libxkbcommon.so.0 libxkbcommon0
libdbus-1.so.3 libdbus-1-3
libglib-2.0.so.0 libglib2.0-0
LIST
    if [ "${1:-}" = window ]; then
        while read -r name package; do
            if [[ $here != *"$name"* ]]; then
                missing+=("$name")
                packages+=("$package")
            fi
        done <<LIST
libxcb-cursor.so.0 libxcb-cursor0
libxcb-icccm.so.4 libxcb-icccm4
libxcb-keysyms.so.1 libxcb-keysyms1
libxcb-image.so.0 libxcb-image0
libxcb-render-util.so.0 libxcb-render-util0
libxcb-shape.so.0 libxcb-shape0
libxcb-xinerama.so.0 libxcb-xinerama0
libxkbcommon-x11.so.0 libxkbcommon-x11-0
LIST
    fi
    if [ ${#missing[@]} -eq 0 ]; then
        return
    fi
    say "Qt needs system libraries that are not here: ${missing[*]}"
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        say "Installing ${packages[*]} ..."
        apt-get update -qq >/dev/null && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${packages[@]}" >/dev/null
    else
        say "Bring them with:  sudo apt-get install ${packages[*]}"
        exit 1
    fi
}

# installed once for each change of pyproject.toml and requirements.lock; `dev` adds the tools of the tests
ready() {
    check_python
    local want stamp=.venv/.ready extra=""
    [ "${1:-}" = dev ] && extra="[dev]"
    want="$(cat pyproject.toml requirements.lock | cksum) ${1:-plain}"
    if [ ! -x .venv/bin/python ] || ! .venv/bin/python -c '' 2>/dev/null; then
        say "Making .venv ..."
        "$python" -m venv --clear .venv 2>/dev/null || { "$python" -m pip install -q virtualenv && "$python" -m virtualenv -q .venv; }
    fi
    if [ ! -f "$stamp" ] || { [ "$(cat "$stamp")" != "$want" ] && [ "$(cat "$stamp")" != "${want% *} dev" ]; }; then
        say "Installing packages ..."
        .venv/bin/python -m pip install --disable-pip-version-check -q -e ".$extra" -c requirements.lock 2>&1 | grep -v '^WARNING' >&2 || true
        .venv/bin/python -c 'import PySide6.QtCore, numpy, pint, wattagon'
        say "Compiling the ride loop and the search ..."
        .venv/bin/python -c '
from wattagon.design import catalogue
from wattagon.physics.ride.ride import warm_up
from wattagon.study.finder.search import warm_up as warm_up_search
from wattagon.study.finder.water_search import warm_up as warm_up_afloat
warm_up()
warm_up_search(catalogue.load())
warm_up_afloat(catalogue.load())'
        printf '%s' "$want" >"$stamp"
    fi
}
