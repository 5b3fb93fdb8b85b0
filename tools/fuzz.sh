#!/usr/bin/env bash
# Tries the readers of what comes from outside with libFuzzer, under the sanitizers: tools/fuzz.sh payload|scene|csv|gltf
# [SECONDS]. Needs clang-16 and libclang-rt-16-dev; what it finds stays in build/fuzz.
set -e
cd "$(dirname "$0")/.."
name=$1 seconds=${2:-600}
command -v clang++-16 >/dev/null || { echo 'Needs Debian’s clang-16 and libclang-rt-16-dev.'; exit 2; }
flags='-fsanitize=address,undefined,fuzzer-no-link -fno-sanitize-recover=undefined'
cmake -S . -B build/fuzz -G Ninja -DCMAKE_BUILD_TYPE=Release -DCMAKE_CXX_COMPILER=clang++-16 -DMELLOW_FUZZ=ON \
  -DCMAKE_CXX_FLAGS="$flags -w" >/dev/null
cmake --build build/fuzz -- "${name}_fuzz" | tail -1
mkdir -p "build/fuzz/corpus/$name"
cp -n tests/fuzz/seeds/"$name"/* "build/fuzz/corpus/$name/"
cd build/fuzz
ASAN_OPTIONS=detect_leaks=0 exec "bin/${name}_fuzz" -max_total_time="$seconds" -max_len=65536 -print_final_stats=1 "corpus/$name"
