"""Designs of a job side by side: figures, findings, cost, mass, year."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from msgspec import Struct

from weighty_axle.answers.year.cost import bill
from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import YearResult, year_result
from weighty_axle.answers.year.weathers import Progress
from weighty_axle.design.derive import derive
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.variants import job_of, names
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import ModuleSpec, spec_of
from weighty_axle.rules.judge import judge
from weighty_axle.units import show

Better = Literal["more", "less", ""]


class Compared(Struct, frozen=True, kw_only=True):
    """One design: its name, why it is there, its figures by row, its findings by severity; or why it cannot be told."""

    name: str
    why: str
    figures: dict[str, Figure]
    findings: dict[str, int]
    refused: str = ""


class Row(Struct, frozen=True):
    """One row of a comparison: its words, and which way is better."""

    key: str
    words: str
    better: Better


ROWS = (
    Row("energy", "Energy a day", "less"),
    Row("bank", "Bank, usable", "more"),
    Row("days", "Bank lasts", "more"),
    Row("inverters", "Inverters, continuous", ""),
    Row("highest", "Highest load on AC", ""),
    Row("sun", "Modules, rated", ""),
    Row("cold", "Cold string margin, least", "more"),
    Row("charge", "Charge, worst case", ""),
    Row("drop", "Worst drop", "less"),
    Row("axle", "Tightest axle, left", "more"),
    Row("mass", "Mass of the system", "less"),
    Row("cost", "Parts cost", "less"),
    Row("missing", "Missing in the year", "less"),
    Row("generator", "Generator in the year", "less"),
    Row("hookup", "From hook-ups in the year", "less"),
    Row("unused", "Sun unused in the year", "less"),
    Row("lowest", "Lowest charge of the year", "more"),
)


def compare(job: Job, chosen: tuple[str, ...] = (), progress: Progress | None = None) -> tuple[Compared, ...]:
    """Designs of a job by their names, all of them where none are named; each derived, judged and lived.

    Raises RuntimeError with a sentence for a name that is none.
    """
    known = names(job)
    for name in chosen:
        if name not in known:
            raise RuntimeError(f"There is no design called {name}; there are {', '.join(known)}.")
    found = []
    wanted = chosen or known
    for at, name in enumerate(wanted):
        if progress is not None:
            progress(at / len(wanted), name)
        found.append(_compared(job, name))
    return tuple(found)


def _compared(job: Job, name: str) -> Compared:
    own = job_of(job, name)
    why = next((one.why for one in job.variants if one.name == name), job.design_why)
    wrong = problems(own)
    if wrong:
        return Compared(name=name, why=why, figures={}, findings={}, refused=str(wrong[0]))
    design = derive(own)
    judged = judge(design)
    counts = {severity: sum(one.rule.severity == severity for one in judged) for severity in ("stop", "check", "note")}
    return Compared(name=name, why=why, figures=dict(_figures(design, year_result(live(design)))), findings=counts)


def _figures(design: Design, year: YearResult) -> Iterator[tuple[str, Figure]]:
    job = design.job
    yield "energy", design.brief.energy_per_day_wh
    yield "bank", design.bank.usable_energy_wh
    yield "days", design.bank.days
    units, each = Given("Units", len(job.inverters.units), "count"), job.inverters.spec.continuous_va
    yield (
        "inverters",
        Figure.product(
            name="Inverters, continuous",
            unit="VA",
            formula="units × continuous rating",
            inputs=(units, Given("Continuous rating", each, "VA")),
            source=TEXTBOOK,
        ),
    )
    yield "highest", design.brief.days[design.brief.design_day].peak_ac_w
    yield "sun", design.roof.rated_w
    strings = [one.cold_margin_v for one in design.roof.strings]
    if strings:
        yield "cold", min(strings, key=lambda one: one.value)
    yield "charge", design.charging.into_bank_a
    yield "drop", design.flow.worst_drop_share
    yield "axle", min((one.margin_kg for one in design.place.axles), key=lambda one: one.value)
    items = [one for one in design.items if not one.was_there]
    yield (
        "mass",
        Figure.total(
            name="Mass of the system",
            unit="kg",
            formula="Σ masses of what is added",
            inputs=(
                *(Given(one.tag, one.mass_kg, "kg") for one in items),
                Given("Modules", sum(one.mass_kg for one in _modules(job)), "kg"),
            ),
            source=TEXTBOOK,
        ),
    )
    yield "cost", bill(design).total
    yield "missing", year.missing_wh
    yield "generator", year.generator_h
    yield "hookup", year.hookup_wh
    yield "unused", year.cut_wh
    yield "lowest", year.lowest_share


def _modules(job: Job) -> list[ModuleSpec]:
    return [spec_of(job.roof, one) for one in job.roof.modules]


def compare_data(found: tuple[Compared, ...]) -> list[dict[str, Any]]:
    """A comparison as open data, figures by row with SI values."""
    return [
        {
            "name": one.name,
            "why": one.why,
            "refused": one.refused,
            "findings": one.findings,
            "figures": {key: {"value": figure.value, "unit": figure.unit} for key, figure in one.figures.items()},
        }
        for one in found
    ]


def compare_lines(found: tuple[Compared, ...]) -> Iterator[str]:
    """A comparison as a table of text."""
    wide = 22
    yield " " * 28 + "".join(f"{one.name[: wide - 1]:>{wide}}" for one in found)
    for row in ROWS:
        cells = [one.figures.get(row.key) for one in found]
        if any(cells):
            text = [show(cell.value, cell.unit) if cell is not None else "–" for cell in cells]
            yield f"{row.words:28}" + "".join(f"{one:>{wide}}" for one in text)
    for severity in ("stop", "check", "note"):
        yield f"{severity.title():28}" + "".join(f"{one.findings.get(severity, 0):>{wide}}" for one in found)
    yield from (f"{one.name}: {one.refused}" for one in found if one.refused)
