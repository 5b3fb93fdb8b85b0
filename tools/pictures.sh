#!/usr/bin/env bash
# Builds, and takes the pictures of docs/screenshots anew, or those named. Look at each afterwards.
set -euo pipefail
cd "$(dirname "$0")/.."
cmake --build --preset release --target mellow-pictures >&2
build=build/release/bin
own=$(mktemp -d)
trap 'rm -rf "$own"' EXIT
mkdir -m 700 "$own/run"
export XDG_CONFIG_HOME="$own/config" XDG_DATA_HOME="$own/data" XDG_RUNTIME_DIR="$own/run" QT_QPA_PLATFORM=xcb
xvfb-run -a -s '-screen 0 1280x800x24' "$build/mellow-pictures" demo/heron-lock docs/screenshots "$@"
