"""Items, settings, circuits and states as CSV for other programs."""

from __future__ import annotations

from collections.abc import Callable

from weighty_axle.design.derive import Design
from weighty_axle.exports.tables.cells import csv_bytes
from weighty_axle.job.models.roof import spec_of


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


def settings_csv(design: Design) -> bytes:
    """Every set point: unit, name, value, unit of measure, computed value, why, source."""
    rows: list[tuple[object, ...]] = [
        (
            point.unit_tag,
            point.key,
            point.name,
            point.value,
            point.computed.unit,
            point.computed.value,
            point.why,
            point.computed.source,
        )
        for point in design.settings.points
    ]
    return csv_bytes(("applies_to", "key", "setting", "value", "unit", "computed", "why", "source"), rows)


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
            one.circuit.length_m,
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


TABLES: dict[str, Callable[[Design], bytes]] = {
    "items.csv": items_csv,
    "settings.csv": settings_csv,
    "circuits.csv": circuits_csv,
    "states.csv": states_csv,
}
"""Tables of a pack by the name of their file."""
