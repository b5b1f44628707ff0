"""The main DC runs."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.wiring.choices import choice_name
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import conductor_words, show


def pages(on: PackPages) -> list[Any]:
    """Runs with fuse, conductor and drop."""
    rows = [["Run", "From – to", "One way", "Current", "Fuse", "Conductor", "Drop"]]
    for run in on.design.wiring.runs:
        chosen = (
            "none fits"
            if run.chosen is None
            else conductor_words(choice_name(run.chosen)) + (" (own choice)" if run.own_choice else "")
        )
        rows.append(
            [
                run.tag,
                f"{run.start} – {run.end}",
                show(run.length_m.value, "m", on.system),
                show(run.current_a.value, "A"),
                f"{show(run.fuse_a.value, 'A')} {run.fuse_kind.name}",
                chosen,
                show(run.drop_share.value, "1"),
            ]
        )
    main = [on.text("Main DC runs", on.head), on.table(rows, (0.12, 0.15, 0.11, 0.12, 0.25, 0.16, 0.09))]
    return [*main, *_feeds(on), *_circuits(on), *_precharge(on), *_fitted(on)]


def _feeds(on: PackPages) -> list[Any]:
    """Feeds from the vehicle's bar and to bars converters feed; what nobody measured is left to be filled in."""
    if not on.design.feeds_in:
        return []
    rows = [["Feed", "From – to", "One way", "Current", "Fuse", "Conductor", "Drop"]]
    rows += [
        [
            feed.tag,
            f"{feed.start} – {feed.end}",
            show(feed.length_m.value, "m", on.system) if feed.length_m is not None else "to be measured",
            show(feed.current_a.value, "A"),
            show(feed.fuse_a.value, "A"),
            conductor_words(choice_name(feed.chosen)) if feed.chosen is not None else "–",
            show(feed.drop_share.value, "1") if feed.drop_share is not None else "–",
        ]
        for feed in on.design.feeds_in
    ]
    return [on.text("Feeds of converters", on.head), on.table(rows, (0.2, 0.2, 0.14, 0.12, 0.12, 0.13, 0.09))]


def _circuits(on: PackPages) -> list[Any]:
    """DC panels with their circuits."""
    direct, dc = on.design.direct, on.design.whole.dc
    if not direct.wires:
        return []
    stated = {one.tag: one for one in dc.panels} | {one.tag: one for one in dc.circuits}
    rows = [["Way", "Name", "Bar, panel", "Fuse", "Wire", "Carries", "Drop"]]
    for one in direct.wires:
        own, panel = stated[one.tag], getattr(one, "panel", "")
        rows.append(
            [
                one.tag,
                one.name,
                f"{one.bar} {panel}".strip(),
                show(own.fuse_a, "A"),
                conductor_words(own.size),
                show(one.current_a.value, "A"),
                show(one.drop_share.value, "1"),
            ]
        )
    return [on.text("DC panels and circuits", on.head), on.table(rows, (0.1, 0.26, 0.18, 0.1, 0.14, 0.12, 0.1))]


def _precharge(on: PackPages) -> list[Any]:
    """How the inverters' capacitors are filled, and what happens without."""
    one = on.design.precharge
    if one is None or not one.fitted:
        return []
    figures = (one.capacitors_mf, one.resistor_ohm, one.held_s, one.energy_j, one.start_w, one.left_v, one.peak_a)
    rows = [["Pre-charge", ""]]
    rows += [[figure.name, show(figure.value, figure.unit)] for figure in (*figures, one.peak_without_a)]
    return [on.text(f"Pre-charge of {one.bar}", on.head), on.table(rows, (0.6, 0.4))]


def _fitted(on: PackPages) -> list[Any]:
    """Protection that is chosen or was found."""
    fitted = on.design.whole.fitted if not on.design.system.key else ()
    if not fitted:
        return []
    rows = [["Tag", "What", "In", "Rating", "Breaks up to"]]
    rows += [
        [one.tag, one.name, one.run, show(one.amps, "A"), show(one.dc_v, "V") if one.dc_v else "not said"]
        for one in fitted
    ]
    return [on.text("Fitted protection", on.head), on.table(rows, (0.12, 0.38, 0.2, 0.15, 0.15))]
