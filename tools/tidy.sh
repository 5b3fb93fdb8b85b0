#!/usr/bin/env bash
# Runs clang-tidy over the sources that changed since they last passed. A whole run takes some twenty minutes, so it is
# not part of check-all. Needs a configured release build.
set -euo pipefail
cd "$(dirname "$0")/.."
passed=build/tidy
mkdir -p "$passed"
check() {
    local stamp
    stamp=$passed/$(cat .clang-tidy "$1" "${1%.cpp}.h" 2>/dev/null | sha256sum | cut -c1-24)
    [ -e "$stamp" ] && return
    if clang-tidy -p build/release --quiet --warnings-as-errors='*' "$1" 2>/dev/null; then
        touch "$stamp"
    else
        return 1
    fi
}
export passed
export -f check
git ls-files 'src/*.cpp' 'demo/*.cpp' | xargs -P "$(nproc)" -I{} bash -c 'check {}'
echo 'clang-tidy has nothing to say.'
