# Shared by ./demo and ./test: installing packages and building, with one line of progress each.

say() { printf '\n\033[1m%s\033[0m\n' "$*"; }

# The packages named in tools/packages.txt under the given headings; says what it installs.
install_packages() {
    local wanted=() missing=() package
    for heading in "$@"; do
        while read -r package; do wanted+=("$package"); done < <(
            awk -v h="[$heading]" '$0 == h {on = 1; next} /^\[/ {on = 0} on && NF && !/^#/ {print $1}' tools/packages.txt)
    done
    for package in "${wanted[@]}"; do
        dpkg-query -W -f='${Status}' "$package" 2> /dev/null | grep -q "ok installed" || missing+=("$package")
    done
    [ "${#missing[@]}" -eq 0 ] && return
    say "Installing ${#missing[@]} packages: ${missing[*]}"
    local root=()
    [ "$(id -u)" -eq 0 ] || root=(sudo)
    "${root[@]}" apt-get update -q
    DEBIAN_FRONTEND=noninteractive "${root[@]}" apt-get install -y -q --no-install-recommends "${missing[@]}"
}

build_jointer() {
    local preset=$1
    shift
    say "Building Jointer ($preset) …"
    cmake --preset "$preset" -DJOINTER_UNITY=ON "$@" > /dev/null
    cmake --build --preset "$preset"
}
