"""Every computed figure as open data: documented keys with the unit in their names."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from weighty_axle.answers.brief.peaks import honest_peak
from weighty_axle.answers.charging.day import asked_of, balance
from weighty_axle.answers.charging.filling import filling
from weighty_axle.answers.place.ways_filled import all_cables, ways_filled
from weighty_axle.design.bank.data_links import data_chain
from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Finding
from weighty_axle.units import System, show

FILL_FROM, HALF = 0.2, 0.5
"""Charge from which times to full are told, and with which the day of a stay begins."""


def design_data(design: Design) -> dict[str, Any]:
    """Figures by dotted path (the last part ends in the unit), with their workings; infinities become null.

    Systems beside the first stand under `systems` by their key, each in the same way.
    """
    made = _system_data(design)
    if design.others:
        made["systems"] = {one.system.key: {"name": one.system.name, **_system_data(one)} for one in design.others}
    return made


def _system_data(design: Design) -> dict[str, Any]:
    return {
        "job": design.job.name,
        "vehicle": design.job.vehicle.description,
        "figures": {path: figure_data(figure) for path, figure in all_figures(design)},
        "runs": {
            run.tag: {
                "from": run.start,
                "to": run.end,
                "conductor": run.chosen.size if run.chosen else None,
                "conductors_in_parallel": run.chosen.count if run.chosen else None,
                "fuse_kind": run.fuse_kind.key,
            }
            for run in design.wiring.runs
        },
        "dc_network": {
            "branches": [
                {
                    "tag": way.tag,
                    "from_node": way.start,
                    "to_node": way.end,
                    "bar": way.bar,
                    "ohm": way.ohm,
                    "parts": [{"what": part.words, "pole": part.pole, "ohm": part.ohm} for part in way.parts],
                }
                for way in design.tree.ways
            ],
            "states": [
                {
                    "state": state.name,
                    "charges": state.charges,
                    "source_v": state.source_v,
                    "collapsed": list(state.collapsed),
                    "residual_v": state.residual_v,
                    "node_v": {
                        node: volts
                        for way in design.tree.ways
                        if way.tag in state.ways
                        for node, volts in (
                            (way.start, state.ways[way.tag].start_v),
                            (way.end, state.ways[way.tag].end_v),
                        )
                    },
                    "branches": {tag: {"current_a": at.amps, "lost_w": at.watts} for tag, at in state.ways.items()},
                }
                for state in design.flow.states
            ],
        },
        "brief": {
            kind: {
                season: {"profile": key, "bank_energy_wh": design.brief.profiles[key].bank_wh}
                for season, key in seasons.items()
            }
            for kind, seasons in design.brief.seasonal.items()
        },
        "bank": {
            "take_off": design.bank.sharing.take_off,
            "strings": [{"packs": list(string.tags), "share": string.share} for string in design.bank.sharing.strings],
            "paths": [{"name": path.name, "ohm": path.ohm, "share": path.share} for path in design.bank.sharing.paths],
            "data_links": [
                {
                    "pack": link.tag,
                    "address": link.address,
                    "port_in": link.port_in,
                    "port_out": link.port_out,
                    "cable_m": link.cable_m,
                }
                for link in data_chain(design.job.bank.packs)
            ],
        },
        "ac_states": [
            {
                "plugged": list(state.plugged),
                "inverters": state.mode,
                "stacking": state.stacking,
                "selectors": dict(state.positions),
                "panels": {
                    panel.tag: {"lines": list(panel.lines), "bonds": list(panel.bonds), "rcds_ma": list(panel.rcds_ma)}
                    for panel in state.panels
                },
                "wrong": [
                    {"danger": hazard.danger, "tags": list(hazard.tags), "words": hazard.words}
                    for hazard in state.hazards
                ],
            }
            for state in design.states.states
        ],
        "source_states": [
            {
                "state": state.name,
                "plug": state.plug,
                "engine": state.engine,
                "sun": state.sun,
                "total_a": state.total_a,
                "most_a": state.most_a,
                "parts_a": {part.kind: part.amps for part in state.parts},
                "kept_a": design.source_states.given_way(state),
            }
            for state in design.source_states.states
        ],
        "told_a": {one.tag: one.told_a.value for one in design.source_states.told},
        "engine_detection": {
            one.tag: {
                "senses": one.senses,
                "verdict": one.verdict,
                "hunts_v": one.hunts_v,
                "good_on_v": one.good_on_v,
                "good_off_v": one.good_off_v,
                "set_on_off_v": one.settings,
            }
            for one in design.detections
        },
        "drop_out": {"dark": list(design.low_side.drop_out.dark), "alive": list(design.low_side.drop_out.alive)},
        "energy_rounds": [[tag for step in ring for tag in step.tags] for ring in design.rounds],
        "place": {
            "axles": {
                one.tag: {"heaviest_with": one.load_kg.limit, "lightest_with": one.least_kg.limit}
                for one in design.place.axles
            },
            "outside": list(design.place.outside),
            "clashes": [list(pair) for pair in design.place.clashes],
            "too_near": [{"tag": one.tag, "zone": one.zone, "keep_m": one.keep_m} for one in design.room.near],
            "loose": list(design.holds.loose),
        },
        "heat": {
            one.tag: {"worst_day_c": list(one.curve_c), "outside_c": list(one.outside_c), "fan_on": list(one.fan_on)}
            for one in design.heat.bays
        },
        "clearances": [
            {
                "tag": one.tag,
                "kind": one.kind,
                "face": one.face,
                "against": one.against,
                "there_mm": one.there_mm.value,
                "keep_m": one.keep_m,
            }
            for one in design.clear.tight
        ],
        "ways": {
            one.way.tag: {
                "zone": one.way.zone,
                "filled": one.fill_share.value,
                "may_be_filled": one.allowed_share,
                "cables": [cable.tag for cable in one.cables],
            }
            for one in ways_filled(design)
        },
        "cables": [
            {
                "tag": one.tag,
                "carries": one.kind,
                "from": one.start,
                "to": one.end,
                "ways": [way.tag for way in one.path.ways] if one.path is not None else None,
                "zones": [way.zone for way in one.path.ways] if one.path is not None else None,
                "length_m": one.length_m.value,
                "measured": one.length_m.formula == "measured",
                "cables": one.count,
                "outer_mm": one.outer_mm,
            }
            for one in all_cables(design)
        ],
        "feeds_afterwards": [
            {"consumer": feed.consumer, "source": feed.source, "through": feed.through, "tags": list(feed.tags)}
            for feed in design.equipment.feeds
        ],
        "settings": {
            point.key: {"unit_tag": point.unit_tag, "value": point.value, "unit": point.computed.unit}
            for point in design.settings.points
        },
    }


def all_figures(design: Design) -> Iterator[tuple[str, Figure]]:
    """Every figure of the design, and those made on demand: the honest peak of each kind of day."""
    yield from design.figures()
    for kind in design.brief.days:
        yield f"brief.days[{kind}].peak_ac_p95_w", honest_peak(design, kind)
    for state in design.source_states.states:
        if state.parts:
            yield f"filling[{state.name}].hours_h", filling(design, state, FILL_FROM).hours_h
    for stay in design.job.stays:
        day = balance(design, asked_of(design, stay), HALF)
        for name in ("loads_wh", "sun_wh", "engine_wh", "hooked_wh", "change_wh"):
            yield f"day_balance[{stay.tag}].{name}", getattr(day, name)


def figure_data(figure: Figure) -> dict[str, Any]:
    """A figure with its working."""
    return {
        "name": figure.name,
        "value": figure.value if math.isfinite(figure.value) else None,
        "unit": figure.unit,
        "formula": figure.formula,
        "inputs": [
            {"name": given.name, "value": given.value if math.isfinite(given.value) else None, "unit": given.unit}
            for given in figure.inputs
        ],
        "source": figure.source,
        "limit": figure.limit,
    }


def findings_data(findings: tuple[Finding, ...], system: System) -> list[dict[str, Any]]:
    """Findings as open data."""
    return [
        {
            "rule": finding.rule.id,
            "severity": finding.rule.severity,
            "step": finding.rule.step,
            "tags": list(finding.tags),
            "sentence": finding.sentence(system),
            "source": finding.rule.source,
            "advice": finding.rule.advice,
            "remedy": finding.remedy.label if finding.remedy else None,
            "choices": [remedy.label for remedy in finding.remedies],
            "also": [other.rule.id for other in finding.also],
        }
        for finding in findings
    ]


def working_lines(figure: Figure, system: System = "metric") -> list[str]:
    """A working as plain lines: name and value, formula, inputs, source, what bounds it."""
    lines = [f"{figure.name}: {show(figure.value, figure.unit, system)}", f"= {figure.formula}"]
    lines += [f"   {given.name} = {show(given.value, given.unit, system)}" for given in figure.inputs]
    lines.append(f"Source: {figure.source}")
    if figure.limit:
        lines.append(figure.limit[0].upper() + figure.limit[1:])
    return lines
