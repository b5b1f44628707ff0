"""Speed of the log: `pytest benchmarks/test_log.py`. Ratios in one run; the figures to reach stand beside each
check.
"""

from __future__ import annotations

import csv
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.log.timeline import Search, happened
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.files.store import decode, encode
from weighty_axle.job.models.log import Log, LogEntry
from weighty_axle.studies.changes import Comparing
from weighty_axle.studies.fleet import Fleet, look_into

PACE_LOOPS = 10_000


def pace_s() -> float:
    """A fixed piece of plain Python, the best of seven."""

    def once() -> float:
        began = time.perf_counter()
        total = 0
        for number in range(PACE_LOOPS):
            total += number * number % 7
        return time.perf_counter() - began

    return min(once() for _ in range(7))


def best_s(work: Callable[[], object], times: int = 5) -> float:
    found = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        found.append(time.perf_counter() - began)
    return min(found)


READ = """
import sys, time
from pathlib import Path
from weighty_axle import demos
from weighty_axle.answers.log.beside import beside_model
from weighty_axle.answers.log.layout import look_at
from weighty_axle.answers.log.mapping import column_map
from weighty_axle.answers.log.recording import read_recording
from weighty_axle.design.derive import derive
design = derive(demos.demo("eye-clinic"))
path = Path(sys.argv[1])
began = time.perf_counter()
layout = look_at(path)
columns = column_map(design, layout)
found = beside_model(design, read_recording(path, layout, columns), columns)
assert found.rows == 525_600 and len(found.traces) > 6
took = time.perf_counter() - began
# Of this program alone: what getrusage tells counts the process it came from too.
peak = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmHWM"))
print(took, int(peak.split()[1]) / 1024)
"""


def test_a_year_of_minutes_in_twelve_columns(tmp_path: Path) -> None:
    """Read, checked and laid beside the model in under 5 s and 300 MB; the csv module alone takes longer to read it."""
    drawn = np.random.default_rng(1)
    stamps = np.datetime_as_string(np.arange("2027-01-01", "2028-01-01", dtype="datetime64[m]").astype("datetime64[s]"))
    names = ("Bank V", "Bank A", "SOC %", "Bars V", "CC1 W", "CC2 W", "BP1 A", "BP2 A", "INV1 DC A", "AC W", "Air degC")
    values = drawn.normal(50, 10, (len(stamps), len(names))).round(2)
    path = tmp_path / "year.csv"
    with path.open("w") as file:
        file.write("time," + ",".join(names) + "\n")
        for stamp, row in zip(stamps.tolist(), values.tolist(), strict=True):
            file.write(f"{stamp}," + ",".join(map(str, row)) + "\n")
    said = subprocess.run([sys.executable, "-c", READ, str(path)], capture_output=True, text=True, check=True).stdout
    ours_s, memory_mb = (float(one) for one in said.split())

    def plainly() -> None:
        with path.open() as file:
            for row in csv.reader(file):
                [one for one in row[1:] if one[:1].isdigit() and float(one)]

    theirs_s = best_s(plainly, 1)
    print(f"a year of minutes: {ours_s:.1f} s, {memory_mb:.0f} MB; the csv module alone {theirs_s:.1f} s")
    assert memory_mb < 300 and ours_s < 5 and ours_s < 3 * theirs_s


def test_a_key_of_a_search_over_ten_thousand_entries() -> None:
    """Under 30 ms: some 37 times the pace on the machine that was measured on."""
    entries = tuple(
        LogEntry(
            kind="visit", on=f"2027-{1 + at % 12:02}-{1 + at % 28:02}", words=f"entry {at} of INV{at % 9} seen", by="TK"
        )
        for at in range(10_000)
    )
    job = replace(demos.demo("puppet-theatre"), log=Log(entries=entries))
    search = Search(happened(job))
    each_s = max(
        best_s(lambda asked=asked: search.found(asked)) for asked in ("i", "inv3", "inv3 2027-0", "since:2027-06 77")
    )  # type: ignore[misc]
    print(f"a key of a search: {each_s * 1000:.1f} ms, {each_s / pace_s():.0f} times the pace")
    assert each_s / pace_s() < 37


def test_two_states_of_a_job_side_by_side() -> None:
    """Under 50 ms once one pair was compared: some 62 times the pace. States come freshly from their packed text."""
    now = demos.demo("eye-clinic")
    then = decode(encode(set_value("bank.usable_share", 0.8, "").apply(now)))
    comparing = Comparing()
    comparing.difference(now, then)
    each_s = best_s(lambda: comparing.difference(then, now))
    print(f"two states: {each_s * 1000:.0f} ms, {each_s / pace_s():.0f} times the pace")
    assert each_s / pace_s() < 62


@pytest.mark.parametrize("count", [5000])
def test_a_fleet_of_five_thousand_shows_its_first_rows(tmp_path: Path, count: int) -> None:
    """In 300 ms, with an index and without one: some 370 times the pace."""
    text = encode(demos.demo("puppet-theatre"))
    for at in range(count):
        (tmp_path / f"{at:05}.json").write_bytes(text)
    fleet = Fleet(tmp_path, tmp_path / "index.sqlite")
    cold_s = best_s(lambda: fleet.found(), 1)
    rows = fleet.found()
    first = look_into(rows[0])
    known = [replace(first, path=one.path, size=one.size, time_ns=one.time_ns) for one in rows]
    fleet._keep(known)
    warm_s = best_s(lambda: fleet.found(), 3)
    assert all(one.read for one in fleet.found())
    print(f"{count} jobs: {cold_s * 1000:.0f} ms without an index, {warm_s * 1000:.0f} ms with it")
    assert max(cold_s, warm_s) / pace_s() < 370
