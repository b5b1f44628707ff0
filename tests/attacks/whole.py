"""One job through everything the program can do with it without a window.

What goes wrong comes back as where and what; nothing may.
"""

from __future__ import annotations

import random
import time
import traceback
from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path

from tests.attacks.memory import memory_mb, reset_peak
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.trials import trials
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.derive import derive
from weighty_axle.design.table import Design
from weighty_axle.exports.data.figures import all_figures, design_data, findings_data, working_lines
from weighty_axle.exports.handover import write_handover
from weighty_axle.exports.pack import write_pack
from weighty_axle.exports.pages.cards import write_inlet_card, write_selector_cards
from weighty_axle.exports.pages.survey_sheet import write_survey_sheet
from weighty_axle.exports.tables.loads import write_loads
from weighty_axle.exports.tables.loads_read import read_loads
from weighty_axle.exports.tables.readings import readings_csv
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.files import store
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import part_of, put_back, systems
from weighty_axle.plant.beside import beside
from weighty_axle.plant.faults import faults_of
from weighty_axle.plant.registers import image, read
from weighty_axle.plant.rehearsal import LESSONS, Rehearsal, points_of
from weighty_axle.plant.serving import running
from weighty_axle.rules.judge import judge

DAY = date(2026, 3, 1)
LONGEST_S, MOST_MB = 20.0, 500


def failures(job: Job, folder: Path, *, prints: bool = True) -> list[str]:
    """What goes wrong with a job, one line each: stage, kind of error, file and line.

    Stages longer than 20 s are told too: the honest peaks of 400 loads that all cycle take 8.
    """
    found: list[str] = []
    reset_peak()
    before_mb = memory_mb("VmRSS")

    def stage(name: str, do: Callable[[], object]) -> object:
        began = time.monotonic()
        try:
            return do()
        except Exception as error:
            found.append(f"{name}: {type(error).__name__} {where(error)}: {str(error)[:90]}")
            return None
        finally:
            if time.monotonic() - began > LONGEST_S:
                found.append(f"{name}: took {time.monotonic() - began:.1f} s")

    design = stage("derive", lambda: derive(job))
    if not isinstance(design, Design):
        return found
    findings = stage("judge", lambda: judge(design))
    if not isinstance(findings, tuple):
        return found
    stage(
        "sentences",
        lambda: [(one.sentence(), one.sentence("us")) for finding in findings for one in (finding, *finding.also)],
    )
    for finding in findings:
        for remedy in finding.remedies:
            stage(f"remedy of {finding.rule.id}", partial(_press, job, remedy))
    stage(
        "figures",
        lambda: [
            working_lines(figure, system)
            for one in (design, *design.others)
            for _, figure in all_figures(one)
            for system in ("metric", "us")
        ],
    )
    stage("open data", lambda: (design_data(design), findings_data(findings, "us")))
    stage("systems", lambda: _apart(job))
    stage("save and reopen", lambda: _reopened(job, folder))
    stage("tables", lambda: [_table(job, folder / f"loads.{kind}") for kind in ("csv", "xlsx")])
    stage("settings and tests", lambda: readings_csv((*all_settings(design), *checks(design), *trials(design))))
    stage("plant", lambda: _plant(design))
    if prints:
        stage("handover", lambda: write_handover(design, findings, folder / "hand", today=DAY, system="us"))
        stage("pack", lambda: write_pack(design, findings, folder, today=DAY, system="metric", over=True))
        stage("survey", lambda: write_survey_sheet(design, folder / "survey.pdf", blank=False, today=DAY, system="us"))
        stage("inlet card", lambda: write_inlet_card(design, folder / "card.pdf", today=DAY, system="us"))
        if job.ac.selectors:
            stage("selector card", lambda: write_selector_cards(design, folder / "selector.pdf", today=DAY))
    if memory_mb("VmHWM") - before_mb > MOST_MB:
        found.append(f"took {memory_mb('VmHWM') - before_mb:.0f} MB")
    return found


def _plant(design: Design) -> None:
    """A plant of any job starts, runs with every kind of fault, is read, and survives a rehearsal of random turns."""
    dice = random.Random(len(design.job.loads))
    for fault in ({one.kind: one for one in faults_of(design)}).values():
        plant = running(design, (fault,))
        plant.run(5)
        beside(design, read(image(plant)))
    for lesson in LESSONS[:3]:
        going = Rehearsal(design, lesson)
        for _ in range(20):
            key = dice.choice(list(going.plant.controls))
            going.turn(key, dice.choice(going.plant.controls[key].positions))
            going.plant.run(dice.random() * 20)
        going.finished = True
        assert 0 <= going.points <= 100 and going.plant.energy.error_share < 1e-6
        points_of(going.plant)


def where(error: BaseException) -> str:
    """Innermost place in the program's own code that an error came through."""
    frames = [one for one in traceback.extract_tb(error.__traceback__) if "weighty_axle" in one.filename]
    return " < ".join(f"{Path(one.filename).name}:{one.lineno}" for one in reversed(frames[-2:])) or "elsewhere"


def _press(job: Job, remedy: object) -> None:
    """A press makes a job that is sound and derives, or is refused in a sentence."""
    try:
        after = remedy.on(job)  # type: ignore[attr-defined]
    except EditRefusedError as refused:
        assert str(refused)
        return
    if not problems(after, job):
        judge(derive(after))


def _apart(job: Job) -> None:
    """Every system taken apart goes back as it was."""
    for one in systems(job):
        assert put_back(job, one.key, part_of(job, one.key)) == job, f"{one.key} comes back changed"


def _reopened(job: Job, folder: Path) -> None:
    for name in ("job.axle", "job.json"):
        store.save(job, folder / name)
        assert store.load(folder / name) == job, "it comes back as it was saved"


def _table(job: Job, path: Path) -> None:
    """The table of loads comes back as it was written, into the job itself and into one that has no loads yet."""
    write_loads(job, path)
    if not job.loads:
        return
    read = read_loads(path, job)
    assert not read.problems, f"row refused: {read.problems[0]}"
    assert read.loads == job.loads, f"changed: {_difference(read.loads, job.loads)}"


def _difference(read: tuple[object, ...], loads: tuple[object, ...]) -> str:
    for one, other in zip(read, loads, strict=False):
        for name in one.__struct_fields__:  # type: ignore[attr-defined]
            if getattr(one, name) != getattr(other, name):
                return f"{name} {getattr(other, name)!r} -> {getattr(one, name)!r}"[:160]
    return f"{len(read)} of {len(loads)} loads"
