# Sourced by ./start and ./check-all: installs what packages.txt names and is missing, configures and builds quietly.
set -euo pipefail
log_folder=build/log
mkdir -p "$log_folder"

# quietly NAME COMMAND...: runs it; shows its output only when it fails.
quietly() {
    local name=$1
    shift
    if ! "$@" >"$log_folder/$name.log" 2>&1; then
        printf 'This failed: %s\n' "$*"
        tail -n 60 "$log_folder/$name.log"
        printf 'The whole output is in %s\n' "$log_folder/$name.log"
        exit 1
    fi
}

# run_tests NAME CTEST-ARGUMENTS...: runs them. What failed is told and run once more by itself, when the machine does
# nothing else; it is told as well when it passes then.
run_tests() {
    local name=$1
    shift
    if ! ctest "$@" -j2 >"$log_folder/$name.log" 2>&1; then
        printf 'Failed the first time:\n'
        grep -aE '^FAIL!|\((Failed|Timeout|SEGFAULT|Subprocess.*)\)$' -A 4 "$log_folder/$name.log" | head -n 60
        quietly "$name-again" ctest "$@" --rerun-failed
        printf 'Passed by themselves the second time\n'
    fi
    grep 'tests passed' "$log_folder/$name.log"
}

install_packages() {
    local missing
    missing=$(grep -v '^#' packages.txt | while read -r package; do
        [ "$(dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null)" = installed ] || printf '%s ' "$package"
    done)
    [ -z "$missing" ] && return
    local as_root=
    [ "$(id -u)" -eq 0 ] || as_root=sudo
    printf 'Installing packages: %s\n' "$missing"
    quietly apt-update $as_root apt-get update
    # shellcheck disable=SC2086
    quietly apt-install $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends $missing
}

# build PRESET TARGET...: configures and builds.
build() {
    local preset=$1
    shift
    printf 'Building (%s)\n' "$preset"
    quietly "configure-$preset" cmake --preset "$preset"
    quietly "build-$preset" cmake --build --preset "$preset" --target "$@"
}
