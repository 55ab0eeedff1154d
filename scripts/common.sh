# Shared parts of demo.sh, test.sh and the continuous integration. Sourced with the repository as working directory.

fail() {
    echo "error: $*" >&2
    exit 1
}

# Installs those packages of packages.txt for the named uses that are not there yet.
install_packages() {
    local uses missing=() package
    uses=$(IFS='|'; echo "$*")
    command -v dpkg-query > /dev/null || fail "packages can be installed on Debian alone; packages.txt says what is needed"
    while read -r package; do
        dpkg-query -W -f='${Status}\n' "$package" 2> /dev/null | grep -q '^install ok installed' || missing+=("$package")
    done < <(awk -v uses="^($uses)$" '$1 ~ uses {print $2}' packages.txt)
    [ ${#missing[@]} -gt 0 ] || return 0
    local as_root=()
    if [ "$(id -u)" -ne 0 ]; then
        command -v sudo > /dev/null || fail "root or sudo is needed to install: ${missing[*]}"
        as_root=(sudo)
    fi
    echo "installing: ${missing[*]}"
    "${as_root[@]}" apt-get update -qq || fail "the package lists cannot be fetched"
    "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" \
        > /dev/null || fail "a package cannot be had, of: ${missing[*]}"
}

# Configures a preset, if that has not been done, and builds it.
build() {
    local preset=$1
    shift
    [ -f "build/$preset/build.ninja" ] || cmake --preset "$preset" > /dev/null || fail "preset $preset does not configure"
    cmake --build --preset "$preset" --parallel "$(nproc)" "$@" || fail "preset $preset does not build"
}
