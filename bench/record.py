"""Ratios of benchmarks of one run, kept over time: record.py BENCH RECORD.csv [--check]."""

import csv
import datetime
import json
import os
import statistics
import subprocess
import sys

# By name: the other piece of work and ours, and how much of ours there is in one go. A ratio says how many times as fast as the
# other ours is; larger is better.
MEASURES = {
    "closest hit": ("rival_closest_hit/bodies:0/equal:1", "closest_hit_in_the_level/vectors:2", 1),
    "closest hit, 64 bodies": ("rival_closest_hit/bodies:64/equal:1", "closest_hit_with_bodies/bodies:64", 1),
    "closest hit, 1,024 bodies": ("rival_closest_hit/bodies:1024/equal:1", "closest_hit_with_bodies/bodies:1024", 1),
    "64 rays in one call": ("rival_closest_hit/bodies:0/equal:1", "closest_hits_in_the_level/vectors:2", 64),
    "eight pellets of a cone, each": ("rival_closest_hits_of_a_cone", "closest_hits_of_a_cone/vectors:2", 0.5),
    "tick of queries": ("rival_tick_of_queries", "tick_of_queries/batched:1", 1),
    "fight of 64": ("fixed_work", "advance_all_firing/64/iterations:100", 1),
    "fight of 64, by the triad": ("triad_of_floats", "advance_all_firing/64/iterations:100", 1),
    "fight of 1,024, for each of 64": ("advance_all_firing/64/iterations:100", "advance_all_firing/1024/iterations:100", 16),
    "eight ticks again, each": ("advance_all_firing/64/iterations:100", "resimulate_eight_ticks", 8),
    "save": ("copy_bytes/64", "save_state/64", 1),
    "restore": ("copy_bytes/64", "restore_state/64", 1),
    "times to kill": ("fixed_work", "compute_times_to_kill", 120),
    "sensitivities": ("fixed_work", "compute_sensitivities", 30),
    "weapons": ("fixed_work", "advance_held_weapons/1000", 1),
}
REPETITIONS = 5
LOUD = 0.90
FAILS = 0.70
TRIES = 3


def exact(names):
    return "^(" + "|".join(sorted(names)) + ")$"


def measure(bench, wanted):
    """Medians of the processor's time, the benchmarks taking turns."""
    names = {name for measure in wanted for name in MEASURES[measure][:2]}
    done = subprocess.run(
        [bench, "--benchmark_filter=" + exact(names), f"--benchmark_repetitions={REPETITIONS}", "--benchmark_min_time=0.1",
         "--benchmark_enable_random_interleaving=true", "--benchmark_report_aggregates_only=true", "--benchmark_format=json"],
        check=True, capture_output=True, text=True)
    scale = {"ns": 1.0, "us": 1e3, "ms": 1e6}
    medians = {run["run_name"]: run["cpu_time"] * scale[run["time_unit"]]
               for run in json.loads(done.stdout)["benchmarks"] if run["aggregate_name"] == "median"}
    ratios = {}
    for name in wanted:
        other, ours, count = MEASURES[name]
        if other not in medians or ours not in medians:
            sys.exit(f"record.py: {name}: no measurement of {other if other not in medians else ours}; "
                     "is the ray kernel library of the package list installed?")
        ratios[name] = medians[other] / (medians[ours] / count)
    return ratios


def read_record(path):
    if not os.path.exists(path):
        return []
    with open(path, newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


def append(path, ratios):
    commit = subprocess.run(["git", "rev-parse", "--short", "HEAD"], check=True, capture_output=True, text=True).stdout.strip()
    changed = subprocess.run(["git", "status", "--porcelain", "--untracked-files=no", ":!bench/record.csv"], check=True, capture_output=True, text=True).stdout
    is_new = not os.path.exists(path)
    with open(path, "a", newline="", encoding="utf-8") as file:
        to = csv.writer(file, lineterminator="\n")
        if is_new:
            to.writerow(["date", "commit", "measure", "ratio"])
        for name, ratio in ratios.items():
            to.writerow([datetime.date.today(), commit + ("+" if changed else ""), name, f"{ratio:.3f}"])


def print_ratios(ratios, usual):
    for name, ratio in ratios.items():
        share = f"  {ratio / usual[name] - 1.0:+.0%} of {usual[name]:.2f}" if name in usual else ""
        print(f"{name:<32}{ratio:7.2f}{share}", flush=True)


def check(bench, record):
    usual = {}
    for name in MEASURES:
        last = [float(row["ratio"]) for row in record if row["measure"] == name][-5:]
        if last:
            usual[name] = statistics.median(last)
    left = list(usual)
    if not left:
        print("no record to compare with")
        return 0
    for attempt in range(1, TRIES + 1):
        ratios = measure(bench, left)
        print_ratios(ratios, usual)
        for name in left:
            if ratios[name] < LOUD * usual[name]:
                print(f"SLOWER: {name}: {ratios[name]:.2f}, was {usual[name]:.2f} (try {attempt} of {TRIES})", flush=True)
        left = [name for name in left if ratios[name] < FAILS * usual[name]]
        if not left:
            return 0
    print("slower by more than 30 % in every try: " + ", ".join(left))
    return 1


def main():
    arguments = sys.argv[1:]
    if len(arguments) not in (2, 3) or arguments[2:] not in ([], ["--check"]):
        sys.exit("record.py BENCH RECORD.csv [--check]")
    bench, path = arguments[:2]
    record = read_record(path)
    if arguments[2:]:
        sys.exit(check(bench, record))
    ratios = measure(bench, list(MEASURES))
    print_ratios(ratios, {})
    append(path, ratios)


if __name__ == "__main__":
    main()
