"""What is labelled: both ends of every conductor, panels, and the warnings of the practice."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.design.table import Design
from weighty_axle.units import conductor_words

LabelKind = Literal["cable", "legend", "warning"]


class LabelText(Struct, frozen=True, kw_only=True):
    """A label: what it is for, its lines (the first largest), the tag it belongs to, and what its code says."""

    kind: LabelKind
    lines: tuple[str, ...]
    tag: str
    code: str


def labels(design: Design, made: tuple[Cut, ...] | None = None) -> tuple[LabelText, ...]:
    """Every label of the whole job.

    Source: the cut list; warnings by practice (NEC 690 and 705, IEC 60364-7-712, recalled) and common practice.
    """
    job = plain(design.whole.name)
    found = list(_cables(made if made is not None else cuts(design), job))
    return (*found, *_legends(design, job), *_warnings(design, job))


def plain(text: str) -> str:
    """Text in the letters every code reader takes: capitals, digits, and - for what else there is."""
    return re.sub(r"[^A-Z0-9]+", "-", text.upper().replace("−", "-N").replace("+", "-P")).strip("-") or "JOB"


def _cables(made: tuple[Cut, ...], job: str) -> Iterator[LabelText]:
    for cut in made:
        for which, end in (("1", cut.start), ("2", cut.end)):
            yield LabelText(
                kind="cable",
                lines=(cut.tag, f"to {end.at}", conductor_words(cut.size)),
                tag=cut.tag,
                code=f"{job}/{plain(cut.tag)}/{which}",
            )


def _legends(design: Design, job: str) -> Iterator[LabelText]:
    """What hangs on every panel, way by way."""
    for panel in design.whole.dc.panels:
        rows = [f"{one.tag} {one.name}, {one.fuse_a:g} A" for one in design.whole.dc.circuits if one.panel == panel.tag]
        yield LabelText(
            kind="legend", lines=(f"{panel.tag} {panel.name}", *rows), tag=panel.tag, code=f"{job}/{plain(panel.tag)}"
        )
    for own in (design, *design.others):
        for board in own.ac.panels if own.job.inverters.units else ():
            rows = [
                f"{one.tag} {one.name}, {one.circuit.breaker_a:g} A" for one in own.circuits if one.panel == board.tag
            ]
            yield LabelText(
                kind="legend",
                lines=(f"{board.tag} {board.name}", *rows),
                tag=board.tag,
                code=f"{job}/{plain(board.tag)}",
            )


def _warnings(design: Design, job: str) -> Iterator[LabelText]:
    stated = design.whole
    for own in (design, *design.others):
        if own.job.inverters.units:
            volts = " and ".join(sorted({f"{unit.tag}" for unit in own.job.inverters.units}))
            yield _warning(
                job,
                own.job.inverters.units[0].tag,
                f"Several sources: {volts}",
                "Switch off inverters, shore and generator. Capacitors stay charged for 5 minutes.",
            )
    banks = [own for own in (design, *design.others) if not own.system.shares_bank]
    for own in banks:
        amps = own.guards.guards[0].near_a if own.guards.guards else None
        worst = f", up to {amps.value / 1000:.0f} kA in a short" if amps is not None else ""
        yield _warning(
            job,
            own.job.wiring.board.tag,
            f"Battery {own.bank.nominal_v.value:.0f} V{worst}",
            "No metal tools. Cannot be switched off at its terminals.",
        )
        for guard in own.protection:
            for words in guard.labels:
                yield _warning(job, guard.controller, words, f"At the isolator of {guard.controller}")
    if stated.roof.modules:
        yield _warning(job, "ROOF", "Solar conductors are live in daylight", "Do not part plugs under load.")
    for own in (design, *design.others):
        for inlet in own.ac.inlets if own.job.inverters.units else ():
            yield _warning(job, inlet.tag, f"{inlet.name}: {inlet.amps:g} A at most", "Set the source limit first.")


def _warning(job: str, tag: str, head: str, words: str) -> LabelText:
    return LabelText(kind="warning", lines=(head, words), tag=tag, code=f"{job}/{plain(tag)}")
