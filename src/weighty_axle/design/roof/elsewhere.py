"""Arrays that are not on the roof: their voltages against the controller they plug into, and what the cable to them
loses.
"""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.conductors import SUN_CABLE_C, ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.roof.strings import cold_voc_v, hot_vmp_v
from weighty_axle.job.models.roof import RemoteArray, Roof
from weighty_axle.job.models.vehicle import Site
from weighty_axle.physics.solar.photovoltaics import design_current_a, open_voltage_v

OPEN_RISE_C = 25.0
"""Cells over air in full sun where air passes behind them. Source: common practice, no source."""


class RemoteResult(Struct, frozen=True, kw_only=True):
    """One array elsewhere: rated power, cold and hot voltage, input current, drop of its cable."""

    tag: str
    controller: str
    rated_w: Figure
    cold_voc_v: Figure
    hot_vmp_v: Figure
    hot_voc_v: Figure
    dawn_voc_v: Figure
    isc_a: Figure
    drop_share: Figure


def remote(roof: Roof, site: Site) -> tuple[RemoteResult, ...]:
    """Voltages, currents and cable of every array elsewhere.

    Source: physics.photovoltaics; NEC 690.7(A) and 690.8(A)(1), recalled.
    """
    return tuple(_one(array, roof, site) for array in roof.remote)


def _one(one: RemoteArray, roof: Roof, site: Site) -> RemoteResult:
    spec = one.module
    series, side = Given("In series", one.series, "count"), Given("Strings side by side", one.parallel, "count")
    each = cold_voc_v(spec, site.record_low_c)
    cold = Figure.product(
        name=f"{one.tag} cold Voc",
        unit="V",
        formula="modules × Voc in the cold, code table or coefficient",
        inputs=(series, Given("Voc of one in the cold", each, "V")),
        source="NEC (NFPA 70) 2023 690.7(A), IEC 60891, recalled",
    )
    cell_c = site.design_high_c + (roof.rise_c if one.where == "trailer" and one.tilt_deg < 5 else OPEN_RISE_C)
    hot_one = hot_vmp_v(spec, cell_c)
    hot = Figure(
        name=f"{one.tag} hot Vmp",
        value=one.series * hot_one,
        unit="V",
        formula="modules × Vmp on hot cells",
        inputs=(series, Given("Vmp of one, hot", hot_one, "V"), Given("Cells", cell_c, "degC")),
        source=TEXTBOOK,
    )

    def open_at(name: str, at_c: float) -> Figure:
        of_one = open_voltage_v(voc_v=spec.voc_v, voc_per_c=spec.voc_per_c, cell_c=at_c)
        given = (series, Given("Voc of one", of_one, "V"), Given("Cells", at_c, "degC"))
        return Figure(
            name=f"{one.tag} {name}",
            value=one.series * of_one,
            unit="V",
            formula="modules × Voc of one",
            inputs=given,
            source="IEC 60891 linear correction",
        )

    hot_open, dawn = open_at("hot Voc", cell_c), open_at("Voc as a hot day begins", site.design_high_c)
    isc = Figure(
        name=f"{one.tag} input design current",
        value=design_current_a(isc_a=spec.isc_a, strings=one.parallel),
        unit="A",
        formula="1.25 × Isc × strings",
        inputs=(Given("Isc", spec.isc_a, "A"), side),
        source="NEC (NFPA 70) 2023 690.8(A)(1), recalled",
    )
    ohm = ohm_per_m(one.size, SUN_CABLE_C)
    current = Given("Current at the peak", spec.imp_a * one.parallel, "A")
    drop = Figure(
        name=f"{one.tag} lost in its cable",
        value=2 * one.cable_m * ohm * current.value / (one.series * spec.vmp_v),
        unit="1",
        formula="2 × length × resistance × current ÷ voltage",
        inputs=(
            Given("Length", one.cable_m, "m"),
            Given(f"Resistance per metre at {SUN_CABLE_C:.0f} °C", ohm, "ohm"),
            current,
            Given("Vmp", one.series * spec.vmp_v, "V"),
        ),
        source=TEXTBOOK,
    )
    rated = Figure.product(
        name=f"{one.tag} rated",
        unit="W",
        formula="in series × side by side × rated power",
        inputs=(series, side, Given("Rated power of one", spec.pmp_w, "W")),
        source="module datasheet",
    )
    return RemoteResult(
        tag=one.tag,
        controller=one.controller,
        rated_w=rated,
        cold_voc_v=cold,
        hot_vmp_v=hot,
        hot_voc_v=hot_open,
        dawn_voc_v=dawn,
        isc_a=isc,
        drop_share=drop,
    )
