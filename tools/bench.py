#!/usr/bin/env python3
"""Runs the speed measurements and prints each row beside its floor of the same run, as a ratio of medians.

usage: tools/bench.py [OBJECTS] [REPETITIONS]     OBJECTS in the large scene: 1000000 if not said
"""
import json
import os
import subprocess
import sys

ROOT = os.path.join(os.path.dirname(__file__), "..")
BIN = os.path.join(ROOT, "build", "release", "bin")


def run(command, repetitions):
    options = ["--benchmark_format=json", f"--benchmark_repetitions={repetitions}",
               "--benchmark_report_aggregates_only=true"]
    done = subprocess.run(command + options, capture_output=True, text=True, check=False)
    text = done.stdout[done.stdout.index("{"):]
    return [row for row in json.loads(text)["benchmarks"] if row.get("aggregate_name") == "median"]


def main():
    subprocess.run(["cmake", "--build", "--preset", "release", "--target", "bench", "frame-bench"], cwd=ROOT,
                   stdout=subprocess.DEVNULL, check=True)
    os.environ["MELLOW_BENCH_OBJECTS"] = sys.argv[1] if len(sys.argv) > 1 else "1000000"
    repetitions = sys.argv[2] if len(sys.argv) > 2 else "5"
    rows = run([os.path.join(BIN, "bench")], repetitions)
    rows += run(["xvfb-run", "-a", "-s", "-screen 0 1280x800x24", os.path.join(BIN, "frame-bench")], repetitions)
    floors = {}
    for row in rows:
        name = row["run_name"]
        group = name.split("/")[0]
        if "floor" in name:
            floors[group] = row["real_time"]
        ratio = row["real_time"] / floors[group] if group in floors else float("nan")
        extra = "".join(f"  {key} {row[key]:.1f}" for key in ("bytes_per_object", "median_ms", "drawn") if key in row)
        print(f"{name:45s} {row['real_time']:10.2f} {row['time_unit']}  x {ratio:6.2f}{extra}")


if __name__ == "__main__":
    main()
