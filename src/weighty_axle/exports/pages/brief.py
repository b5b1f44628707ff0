"""What must run, the year's stays, and what is on board already."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.brief.seasons import date_words
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.rules.brief.equipment import DISPOSITION_WORDS
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """What must run; what becomes of what is on board."""
    return _runs(on) + _on_board(on)


def _runs(on: PackPages) -> list[Any]:
    """Energy of every kind of day and season with its losses, and the year's stays."""
    job, brief = on.design.job, on.design.brief
    rows = [["Kind of day", "Season", "AC loads", "DC loads", "Converters", "Idling", "Converting", "Out of the bank"]]
    for profile in brief.profiles.values():
        dc = sum(wh for supply, wh in profile.by_supply_wh.items() if supply in DC_VOLTS)
        ac = sum(profile.by_supply_wh.values()) - dc
        energies = (ac, dc, profile.converter_wh, profile.idle_wh, profile.converting_wh, profile.bank_wh)
        rows.append(
            [brief.days[profile.kind].name, profile.season_words or "any", *(show(wh, "Wh") for wh in energies)]
        )
    flow = [on.text("What must run", on.head), on.table(rows, (0.18, 0.14, 0.11, 0.11, 0.11, 0.1, 0.11, 0.14))]
    if job.stays:
        kinds = {kind.tag: kind.name for kind in job.day_kinds}
        results = {stay.tag: stay for stay in on.design.itinerary.stays}
        stays = [["Place", "From", "Days", "Kind of day", "Plugs in at", "Driven a day", "Energy a day"]]
        stays += [
            [
                stay.place,
                date_words(stay.first_day),
                str(stay.days),
                kinds[stay.day_kind],
                stay.source or "nowhere",
                f"{stay.driven_h:g} h",
                show(results[stay.tag].energy_per_day_wh.value, "Wh"),
            ]
            for stay in sorted(job.stays, key=lambda stay: stay.first_day)
        ]
        flow += [on.text("The year", on.head), on.table(stays, (0.26, 0.1, 0.08, 0.18, 0.14, 0.12, 0.12))]
    return flow


def _on_board(on: PackPages) -> list[Any]:
    """What becomes of the equipment found, and what feeds what afterwards."""
    job = on.design.job
    if not job.existing:
        return []
    advice: dict[str, str] = {}
    for finding in on.findings:
        for tag in finding.tags:
            advice.setdefault(tag, finding.rule.advice)
    rows = [["Tag", "On board already", "Volts", "Decision", "What to do, and with the loose end"]]
    rows += [
        [
            piece.tag,
            piece.name,
            show(piece.nominal_v, "V"),
            DISPOSITION_WORDS[piece.disposition],
            advice.get(piece.tag, ""),
        ]
        for piece in job.existing
    ]
    feeds = [["Afterwards", "is fed from", "through", "mind"]]
    feeds += [[feed.consumer, feed.source, feed.through, feed.mind] for feed in on.design.equipment.feeds]
    return [
        on.text("On board already", on.head),
        on.table(rows, (0.08, 0.26, 0.1, 0.12, 0.44)),
        on.text("What feeds what afterwards", on.head),
        on.table(feeds, (0.22, 0.2, 0.28, 0.3)),
    ]
