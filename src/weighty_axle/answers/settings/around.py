"""Sheets of what stands around bank and inverters: disconnects, heaters, fans, generators."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.settings.chargers import points_of
from weighty_axle.answers.settings.setting import Setting, UnitSheet, drained, setting
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.systems import bar_tag
from weighty_axle.reference.cells import CELL_POINTS

HEATER_BAND_K = 2.0
"""A heater goes off so much above where it goes on. Source: common practice, no source."""


def disconnect_sheets(own: Design) -> Iterator[UnitSheet]:
    """Low-voltage disconnects before DC panels on this bar.

    Source: as stated; restart of a cell by chemistry, common practice.
    """
    for panel in own.job.dc.panels:
        if panel.cut_off_v is None or bar_tag(own.whole, panel.bar) != own.system.bar:
            continue
        back = points_of(own)["restart_v"]
        yield UnitSheet(
            panel.tag,
            f"low-voltage disconnect of {panel.name}",
            (
                setting(
                    "off_v",
                    panel.tag,
                    "Goes off below",
                    panel.cut_off_v,
                    "V",
                    f"lights and pumps go before {drained(own.job.bank.spec)}",
                    "as stated",
                    hurts=drained(own.job.bank.spec),
                    worse="below",
                ),
                setting(
                    "on_v", panel.tag, "Comes back above", back.value, "V", back.why, PRACTICE, figure=back.computed
                ),
            ),
        )


def box_sheets(own: Design) -> Iterator[UnitSheet]:
    """The heater of the packs' box.

    Source: as stated; band of a thermostat, common practice.
    """
    box, spec = own.job.bank.box, own.job.bank.spec
    if box.heater_w <= 0:
        return
    tag = "HEAT" if not own.system.key else f"HEAT-{own.system.key}"
    off = Figure.total(
        name="Heater goes off above",
        unit="degC",
        formula="kept at + band of the thermostat",
        inputs=(Given("Kept at", box.keep_c, "degC"), Given("Band", HEATER_BAND_K, "any")),
        source=PRACTICE,
    )
    yield UnitSheet(
        tag,
        f"heater of the packs of {own.system.name}",
        (
            setting(
                "on_c",
                tag,
                "Goes on below",
                box.keep_c,
                "°C",
                f"packs are charged from {spec.charge_low_c:g} °C on",
                "as stated",
                hurts="the packs are too cold to be charged",
                worse="below",
            ),
            setting("off_c", tag, "Goes off above", off.value, "°C", "no warmer than it must be", PRACTICE, figure=off),
        ),
        stated=False,
    )


def bay_sheets(design: Design) -> Iterator[UnitSheet]:
    """Thermostats of bays' fans.

    Source: as stated.
    """
    for bay in design.whole.vehicle.bays:
        if bay.air is not None and bay.air.fan_m3_per_h > 0:
            yield UnitSheet(
                bay.tag,
                f"fan of {bay.name}",
                (
                    setting(
                        "on_c",
                        bay.tag,
                        "Goes on from",
                        bay.air.on_c,
                        "°C",
                        "before units give less for the heat",
                        "as stated",
                        hurts="units in it run hot and give less",
                        worse="above",
                    ),
                    setting("off_c", bay.tag, "Goes off below", bay.air.off_c, "°C", "does not hunt", "as stated"),
                ),
            )


def generator_sheets(design: Design) -> Iterator[UnitSheet]:
    """Start and stop of generators.

    Source: as stated; cells by chemistry, common practice.
    """
    for own in (design, *design.others):
        for source in own.job.inverters.sources:
            if source.generator is not None:
                yield UnitSheet(source.tag, f"generator, {source.name}", tuple(_generator(own, source.tag)))


def _generator(own: Design, tag: str) -> Iterator[Setting]:
    made = next(one.generator for one in own.job.inverters.sources if one.tag == tag)
    assert made is not None
    points, cell = points_of(own), CELL_POINTS[own.job.bank.spec.chemistry]
    yield setting("start_percent", tag, "Starts below", 100 * made.start_below, "%", "charge of the bank", "as stated")
    yield setting(
        "stop_percent", tag, "Stops above", 100 * made.stop_above, "%", "the rest is left to the sun", "as stated"
    )
    yield setting(
        "start_v",
        tag,
        "Starts below, by voltage",
        points["alarm_v"].value,
        "V",
        f"where the charge is not known: {cell.alarm:g} V a cell for a minute, not the moment a motor starts",
        PRACTICE,
        figure=points["alarm_v"].computed,
    )
    if made.start_load_w is not None:
        yield setting("start_w", tag, "Starts above", made.start_load_w, "W", "AC load", "as stated")
    quiet = f"{made.quiet_from_h:g} to {made.quiet_to_h:g} h"
    yield setting("quiet", tag, "Quiet", quiet, "", "it does not start by itself; the reserve must last", "as stated")
