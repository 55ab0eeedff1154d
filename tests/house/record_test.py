"""The record of ratios, with a stand-in for the benchmarks: record_test.py ROOT."""

import os
import pathlib
import subprocess
import sys
import tempfile

ROOT = pathlib.Path(sys.argv[1]).resolve()
sys.path.insert(0, str(ROOT / "bench"))
import record  # noqa: E402  (needs the path)

# Every measure is as fast as the other piece of work, times SPEED; SLOW is one that is slower still in the first of its runs.
STAND_IN = """#!/usr/bin/env python3
import json, os, pathlib, sys
sys.path.insert(0, {bench!r})
import record
runs = pathlib.Path("runs")
first = not runs.exists()
runs.write_text("x" + (runs.read_text() if runs.exists() else ""))
asked = [word for word in sys.argv if word.startswith("--benchmark_filter=")][0]
names = asked.split("(")[1].split(")")[0].split("|")
times = {{}}
for name, (other, ours, count) in record.MEASURES.items():
    speed = float(os.environ["SPEED"]) * (0.5 if name == os.environ.get("SLOW") and first else 1.0)
    times.setdefault(other, 100.0)
    times[ours] = times[other] * count / speed
print(json.dumps({{"benchmarks": [dict(run_name=name, aggregate_name="median", cpu_time=times[name], time_unit="ns")
                                  for name in names if name != os.environ.get("MISSING")]}}))
"""


class Place:
    """A directory under version control, with the stand-in."""

    def __init__(self, path):
        self.path = path
        self.bench = path / "bench.py"
        self.bench.write_text(STAND_IN.format(bench=str(ROOT / "bench")))
        self.bench.chmod(0o755)
        git = ["git", "-c", "user.name=x", "-c", "user.email=x@x"]
        subprocess.run(git + ["init", "-q"], cwd=path, check=True)
        subprocess.run(git + ["commit", "-q", "--allow-empty", "-m", "x"], cwd=path, check=True)

    def run(self, *words, speed=1.0, **others):
        (self.path / "runs").unlink(missing_ok=True)
        done = subprocess.run([sys.executable, ROOT / "bench" / "record.py", self.bench, "record.csv", *words], cwd=self.path,
                              capture_output=True, text=True, env={**os.environ, "SPEED": str(speed), **others})
        tries = len((self.path / "runs").read_text()) if (self.path / "runs").exists() else 0
        return done.returncode, done.stdout + done.stderr, tries


def expect(fact, what):
    if not fact:
        sys.exit(f"record_test: {what}")


with tempfile.TemporaryDirectory() as directory:
    place = Place(pathlib.Path(directory))
    code, said, tries = place.run("--check")
    expect(code == 0 and "SLOWER" not in said, f"nothing to compare with is no fault: {said}")
    for _ in range(6):
        expect(place.run()[0] == 0, "a run is appended")
    rows = (place.path / "record.csv").read_text().splitlines()
    expect(rows[0] == "date,commit,measure,ratio", rows[0])
    expect(len(rows) == 1 + 6 * len(record.MEASURES), f"{len(rows)} rows")
    code, said, tries = place.run("--check")
    expect((code, tries) == (0, 1) and "SLOWER" not in said, f"as fast as before: {code}, {tries} tries\n{said}")
    code, said, tries = place.run("--check", speed=0.8)
    expect((code, tries) == (0, 1) and said.count("SLOWER") == len(record.MEASURES), f"20 % slower: {code}, {tries} tries\n{said}")
    code, said, tries = place.run("--check", speed=0.6)
    expect((code, tries) == (1, record.TRIES), f"40 % slower: {code}, {tries} tries\n{said}")
    code, said, tries = place.run("--check", SLOW="weapons")
    expect((code, tries) == (0, 2) and said.count("SLOWER") == 1, f"slower once: {code}, {tries} tries\n{said}")
    code, said, tries = place.run(MISSING="restore_state/64")
    expect(code == 1 and "no measurement of restore_state/64" in said, said)
    expect(len((place.path / "record.csv").read_text().splitlines()) == len(rows), "a run that fails appends nothing")
