#!/usr/bin/env bash
# Takes the pictures of docs/screenshots anew, or those named, from the newest build. Look at each afterwards.
set -euo pipefail
cd "$(dirname "$0")/.."
build=$(dirname "$(ls -t build/*/bin/mellow-pictures | head -n 1)")  # the newest
own=$(mktemp -d)
trap 'rm -rf "$own"' EXIT
mkdir -m 700 "$own/run"
export XDG_CONFIG_HOME="$own/config" XDG_DATA_HOME="$own/data" XDG_RUNTIME_DIR="$own/run" QT_QPA_PLATFORM=xcb
xvfb-run -a -s '-screen 0 1280x800x24' "$build/mellow-pictures" demo/heron-lock docs/screenshots "$@"
