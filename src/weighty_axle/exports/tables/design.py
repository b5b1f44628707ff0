"""Items, settings, circuits and states as CSV for other programs."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import partial

from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.trials import trials
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.answers.wiring.schedule import guard_words, schedule
from weighty_axle.answers.year.cost import price_of_conductor
from weighty_axle.design.cables import CIRCUIT_M
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.direct import DcCircuitResult, DcPanelResult
from weighty_axle.design.wiring.feeds import FeedRun
from weighty_axle.design.wiring.runs import Run
from weighty_axle.exports.tables.cells import csv_bytes
from weighty_axle.exports.tables.readings import readings_csv, settings_csv
from weighty_axle.job.models.roof import spec_of
from weighty_axle.reference.tables import fuse_kinds


def items_csv(design: Design) -> bytes:
    """Every placed item and module: tag, kind, name, mass, place."""
    rows: list[tuple[object, ...]] = [
        (item.tag, item.kind, item.name, item.mass_kg, item.place.x_m, item.place.y_m, item.place.z_m)
        for item in design.items
    ]
    roof, roof_z = design.job.roof, design.job.vehicle.roof_m
    rows += [
        (
            module.tag,
            "module",
            spec_of(roof, module).name,
            spec_of(roof, module).mass_kg,
            module.x_m,
            module.y_m,
            roof_z,
        )
        for module in roof.modules
    ]
    return csv_bytes(("tag", "kind", "name", "mass_kg", "x_m", "y_m", "z_m"), rows)


def runs_csv(design: Design) -> bytes:
    """Every main run and feed: from, to, length, current, fuse and where it stands, conductor, drop; of all systems."""
    banks = (design, *(one for one in design.others if not one.system.shares_bank))
    rows: list[tuple[object, ...]] = [
        (
            own.system.key,
            one.tag,
            one.start,
            one.end,
            one.length_m.value if one.length_m is not None else None,
            one.current_a.value,
            one.fuse_a.value,
            " ".join(one.fused_at) if isinstance(one, FeedRun) else one.start,
            one.chosen.size if one.chosen is not None else None,
            one.chosen.count if one.chosen is not None else None,
            one.drop_share.value if one.drop_share is not None else None,
        )
        for own in banks
        for one in _runs_of(own)
    ]
    header = ("system", "run", "from", "to", "length_m", "current_a", "fuse_a", "fused_at", "conductor", "count")
    return csv_bytes((*header, "drop_share"), rows)


def _runs_of(own: Design) -> tuple[Run | FeedRun, ...]:
    return (*own.wiring.runs, *own.feeds_in)


def circuits_csv(design: Design) -> bytes:
    """Every circuit: panel, lines, breaker, poles, wire, length, residual-current device, current, loads."""
    rows: list[tuple[object, ...]] = [
        (
            one.tag,
            one.name,
            one.panel,
            "+".join(one.lines),
            one.circuit.breaker_a,
            one.circuit.poles,
            one.circuit.size,
            design.house.length_m(one.tag, CIRCUIT_M).value,
            one.circuit.rcd_ma,
            one.circuit.shares_neutral,
            result.running_a.value,
            " ".join(one.loads),
        )
        for one, result in zip(design.circuits, design.panels.circuits, strict=True)
    ]
    header = (
        "tag",
        "name",
        "panel",
        "lines",
        "breaker_a",
        "poles",
        "wire",
        "length_m",
        "rcd_ma",
        "neutral_of",
        "draws_a",
        "loads",
    )
    return csv_bytes(header, rows)


def states_csv(design: Design) -> bytes:
    """Every state of the AC side: what is plugged in, inverters, selectors, each panel's live lines and bonds, and what
    is wrong.
    """
    panels = [panel.tag for panel in design.ac.panels]
    rows: list[tuple[object, ...]] = []
    for state in design.states.states:
        cells = [
            f"{' '.join(panel.lines)}; {' + '.join(panel.bonds) or 'no bond'}" if panel.lines else "dark"
            for panel in state.panels
        ]
        wrong = "; ".join(hazard.words for hazard in state.hazards)
        selectors = "; ".join(f"{tag} {position}" for tag, position in state.positions)
        rows.append((" ".join(state.plugged) or "nothing", state.mode, state.stacking, selectors, *cells, wrong))
    return csv_bytes(
        ("plugged", "inverters", "stacking", "selectors", *(f"panel {tag}" for tag in panels), "wrong"), rows
    )


def dc_circuits_csv(design: Design) -> bytes:
    """Every DC panel and circuit of every system: bar, fuse, wire, length, current at its worst minute, drop, loads."""
    rows: list[tuple[object, ...]] = []
    for one in (design, *(other for other in design.others if not other.system.shares_bank)):
        panels = {panel.tag: panel for panel in one.whole.dc.panels}
        circuits = {circuit.tag: circuit for circuit in one.whole.dc.circuits}
        for panel in one.direct.panels:
            stated = panels[panel.tag]
            rows.append((*_dc_row("panel", panel, "", stated.fuse_a, stated.size, panel.length_m.value, ""), ""))
        for circuit in one.direct.circuits:
            own, loads = circuits[circuit.tag], " ".join(circuit.loads)
            row = _dc_row("circuit", circuit, circuit.panel, own.fuse_a, own.size, circuit.length_m.value, loads)
            rows.append((*row, own.switch))
    header = (
        "tag",
        "kind",
        "name",
        "bar",
        "panel",
        "fuse_a",
        "wire",
        "length_m",
        "current_a",
        "drop",
        "loads",
        "switch",
    )
    return csv_bytes(header, rows)


def _dc_row(
    kind: str, one: DcPanelResult | DcCircuitResult, panel: str, fuse_a: float, wire: str, length_m: float, loads: str
) -> tuple[object, ...]:
    drop = one.drop_share.value
    return (one.tag, kind, one.name, one.bar, panel, fuse_a, wire, length_m, one.current_a.value, drop, loads)


def converters_csv(design: Design) -> bytes:
    """Every converter: from and to which bar, both ways, what turns it on, outputs, efficiency."""
    rows: list[tuple[object, ...]] = [
        (
            one.tag,
            one.spec.name,
            one.start or design.whole.wiring.board.tag,
            one.end or design.whole.wiring.board.tag,
            "yes" if one.both_ways else "no",
            one.works,
            one.spec.output_a,
            one.spec.output_w,
            one.spec.output_v,
            one.spec.efficiency,
            one.priority,
        )
        for one in sorted(design.whole.converters, key=lambda one: one.priority)
    ]
    header = ("tag", "type", "from", "to", "both_ways", "works_by", "output_a", "output_w", "output_v", "efficiency")
    return csv_bytes(header, rows)


def cables_csv(design: Design) -> bytes:
    """Every conductor of every system: where, what of, how long, what guards it, drop, and what both ends are landed
    with.
    """
    rows: list[tuple[object, ...]] = [
        (
            own.system.key,
            one.tag,
            one.carries,
            one.words,
            one.start,
            one.end,
            one.size,
            one.count,
            one.length_m,
            one.fuse_a,
            one.guard,
            one.current_a,
            one.drop_share,
            one.start_on,
            one.start_nm,
            one.end_on,
            one.end_nm,
            price_of_conductor(own, one),
        )
        for own in (design, *design.others)
        for one in schedule(own)
    ]
    header = ("system", "tag", "carries", "name", "from", "to", "conductor", "count", "length_m", "fuse_a", "guard")
    return csv_bytes((*header, "current_a", "drop", "start", "start_nm", "end", "end_nm", "price"), rows)


def fuses_csv(design: Design) -> bytes:
    """Every fuse and breaker of the DC side of every system: kind, what it breaks, shorts, time, and the one above."""
    kinds = fuse_kinds()
    rows: list[tuple[object, ...]] = [
        (
            own.system.key,
            one.tag,
            one.rated_a,
            guard_words(one),
            kinds[one.kind].volts if one.kind in kinds else None,
            kinds[one.kind].breaks_a if one.kind in kinds else None,
            one.near_a.value if one.near_a is not None else None,
            one.far_a.value,
            one.opens_s.value if math.isfinite(one.opens_s.value) else None,
            one.heat_share.value,
            one.above,
            one.selective_to_a if one.selective_to_a is not None and math.isfinite(one.selective_to_a) else None,
            " / ".join(f"{end.at}: {end.why}" for end in one.fused_at),
        )
        for own in (design, *(other for other in design.others if not other.system.shares_bank))
        for one in own.guards.guards
    ]
    header = (
        "system",
        "way",
        "rating_a",
        "kind",
        "breaks_v",
        "breaks_a",
        "short_behind_a",
        "short_at_end_a",
        "opens_s",
    )
    return csv_bytes((*header, "heat_of_short", "above", "selective_to_a", "stands_at"), rows)


def names_of(design: Design) -> tuple[str, ...]:
    """Files of the tables of a job: those of systems beside the first have their key in the name."""
    return tuple(name for name, _ in tables_of(design))


def tables_of(design: Design) -> Iterator[tuple[str, Callable[[], bytes]]]:
    """Every table of a job by the name of its file."""
    for name, table in TABLES.items():
        yield name, partial(table, design)
    for other in design.others:
        for name in OF_EVERY_SYSTEM:
            stem, dot, ending = name.partition(".")
            yield f"{stem}-{other.system.key}{dot}{ending}", partial(TABLES[name], other)


OF_EVERY_SYSTEM = ("circuits.csv", "states.csv")
"""Tables that each system of a job has of its own."""
TABLES: dict[str, Callable[[Design], bytes]] = {
    "items.csv": items_csv,
    "settings.csv": lambda design: settings_csv(all_settings(design)),
    "readings.csv": lambda design: readings_csv((*checks(design), *trials(design))),
    "circuits.csv": circuits_csv,
    "states.csv": states_csv,
    "dc_circuits.csv": dc_circuits_csv,
    "converters.csv": converters_csv,
    "runs.csv": runs_csv,
    "cables.csv": cables_csv,
    "fuses.csv": fuses_csv,
}
"""Tables of a pack by the name of their file."""
