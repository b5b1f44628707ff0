"""The handover: one PDF with settings, readings, drawing, cards, safety, the owner's page and lines to sign; open data
beside it.
"""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

import msgspec

from weighty_axle.answers.first_power.cards import cards
from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import GROUPS as BEFORE_GROUPS
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.trials import GROUPS, trials
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.exports.build_pack import BuildPack
from weighty_axle.exports.data.handover import handover_data
from weighty_axle.exports.pages import lesson, single_line
from weighty_axle.exports.pages.cover import CAUTIONS
from weighty_axle.exports.pages.first_power import card_flow, check_tables
from weighty_axle.exports.pages.page import PackPages, write_pdf
from weighty_axle.exports.pages.settings import settings_flow
from weighty_axle.exports.tables.readings import readings_csv, settings_csv
from weighty_axle.job.files.disk import replacing
from weighty_axle.rules.registry import Finding
from weighty_axle.units import System

FILES = ("handover.pdf", "handover.json", "settings.csv", "readings.csv")
"""Files of a handover."""

OUTRANKS = (
    "Local electrical codes and vehicle rules, wherever the vehicle is used.",
    "The manuals of the makers of every unit, as they came with it.",
    "What a licensed electrician or an inspector says of it on the spot.",
    "The marking on the parts themselves, where it differs from these pages.",
)


def write_handover(
    design: Design, findings: tuple[Finding, ...], folder: Path, *, today: date, system: System
) -> list[Path]:
    """Write the handover into a folder (made when missing) and return its files, each whole or not there.

    Raises: OSError.
    """
    folder.mkdir(parents=True, exist_ok=True)
    for name, raw in (
        ("handover.json", msgspec.json.format(msgspec.json.encode(handover_data(design)), indent=2)),
        ("settings.csv", settings_csv(all_settings(design))),
        ("readings.csv", readings_csv((*checks(design), *trials(design)))),
    ):
        with replacing(folder / name) as file:
            file.write(raw)

    def story(width: float) -> list[Any]:
        return _story(PackPages(design, findings, today, system, width, BuildPack(design, today)))

    foot = f"{design.whole.name} · {today.isoformat()}"
    write_pdf(folder / "handover.pdf", f"{design.whole.name}: handover", foot, design.whole.practice, story)
    return [folder / name for name in FILES]


def _story(on: PackPages) -> list[Any]:
    from reportlab.platypus import PageBreak

    whole = on.design.whole
    flow = [
        on.text(f"Handover: {whole.name}", on.title),
        on.text(f"{whole.vehicle.description} · {whole.customer}"),
        on.text("Before anything else", on.head),
        *(on.text(f"– {line}") for line in CAUTIONS),
        on.text("What outranks these pages", on.head),
        *(on.text(f"– {line}") for line in OUTRANKS),
        *_open(on),
        *_signatures(on),
        PageBreak(),
        *settings_flow(on, on.design),
        PageBreak(),
        on.text("Read before power", on.head),
        *check_tables(on, BEFORE_GROUPS, checks(on.design), on.system),
        on.text("Read in the acceptance tests", on.head),
        *check_tables(on, GROUPS, trials(on.design), on.system),
        PageBreak(),
        *single_line.pages(on),
    ]
    for card in cards(on.design, on.system):
        flow += [PageBreak(), *card_flow(on, card)]
    return [*flow, PageBreak(), *lesson.pages(on)]


def _open(on: PackPages) -> list[Any]:
    """What is open or not as it should be: nobody signs for it unseen."""
    open_: dict[str, list[Check]] = {
        "Settings": [one for one in all_settings(on.design) if not one.done],
        "Checks before power": [one for one in checks(on.design) if not one.done],
        "Acceptance tests": [one for one in trials(on.design) if not one.done],
    }
    flow = [on.text("What is open", on.head)]
    said = on.design.whole.proving.handover.left_open
    if said:
        flow.append(on.text(f"Known to both: {said}"))
    for name, some in open_.items():
        wrong = [one for one in some if one.says]
        if some:
            flow.append(on.text(f"{name}: {len(some)} not done or not as they should be."))
        flow += [on.text(f"– {one.thing}: {one.says}") for one in wrong[:12]]
    stops = [one for one in on.findings if one.rule.severity == "stop"]
    flow += [on.text(f"– STOP: {one.sentence(on.system)}") for one in stops[:12]]
    if not any(open_.values()) and not stops and not said:
        flow.append(on.text("Nothing."))
    return flow


def _signatures(on: PackPages) -> list[Any]:
    said = on.design.whole.proving.handover
    line = "................................................"
    rows = [["", "Name", "Day", "Signature"]]
    rows += [
        ["Handed over by", f"{said.by} {said.licence}".strip() or line, said.on or ".............", line],
        ["Taken over by", said.to or line, said.on or ".............", line],
        ["Mains voltage answered for by", said.licence or line, ".............", line],
    ]
    return [on.text("Signed", on.head), on.table(rows, (0.22, 0.3, 0.14, 0.34), write_pt=30)]
