"""Readings beside predictions, live: what the same current should lose on every way, and what the difference means; the
settings that were read back as readings of the sheet.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from weighty_axle.answers.first_power.check import Check, Verdict
from weighty_axle.answers.proving.ac_trials import LINE_SHARE, LINE_TO_LINE
from weighty_axle.answers.proving.load_trials import DROP_MV, DROP_TIMES
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.exports.tables.readings import Read, ReadingsRead
from weighty_axle.job.models.inverters import line_v
from weighty_axle.job.models.proving import Reading
from weighty_axle.plant.registers import Live, NonsenseError, settings_sum

LEAST_A = 10.0
"""Under this the drop of a way says little. Source: common practice, no source."""


def beside(design: Design, live: Live) -> tuple[Check, ...]:
    """Every reading with its band where something is predicted, as checks that were read just now.

    Source: resistances of the design's ways; bands common practice, no source.
    """
    return (*_store(design, live), *_lines(design, live), *_drops(design, live))


def settings_read(design: Design, live: Live) -> ReadingsRead:
    """What units say of their settings, as a table would.

    Raises: NonsenseError where they are those of another design.
    """
    keys = [one.key for one in all_settings(design)]
    if live.settings is None or live.settings_sum != settings_sum(keys) or len(live.settings) != len(keys):
        raise NonsenseError("These are the settings of another design: nothing was compared.")
    return ReadingsRead(tuple(Read(key, said, "", "") for key, said in zip(keys, live.settings, strict=True)), (), ())


def recorded(live: Live) -> dict[str, float | None]:
    """One row of the recorder: numbers by the name of their column, with their units."""

    def number(block: dict[str, float | str | None], name: str) -> float | None:
        value = block.get(name)
        return value if isinstance(value, float) else None

    found = {
        "bank_v": number(live.storage, "V"),
        "bank_a": number(live.storage, "A"),
        "soc_percent": number(live.storage, "SoC"),
        "ac_w": number(live.inverter, "W"),
        "ac_v": number(live.inverter, "PhVphA"),
    }
    for one in live.inputs:
        found[f"{one.get('IDStr')}_a"] = number(one, "DCA")
    for way in live.ways:
        found[f"{way.tag}_a"] = way.amps
        lost = way.start_v - way.end_v if way.start_v is not None and way.end_v is not None else None
        found[f"{way.tag}_mv"] = round(1000 * lost, 1) if lost is not None else None
    return found


def write_row(path: Path, at: str, row: dict[str, float | None]) -> None:
    """Add a row to the recorder's file, with its heading where it is new. Raises OSError."""
    new = not path.exists()
    with path.open("a", encoding="utf-8", newline="") as file:
        if new:
            file.write(",".join(("time", *row)) + "\r\n")
        file.write(",".join((at, *("" if one is None else f"{one:g}" for one in row.values()))) + "\r\n")


def _check(
    key: str, group: str, words: str, value: float | None, low: float, high: float, unit: str, says: str = "",
    wanted: Figure | None = None,
) -> Check:  # fmt: skip
    verdict: Verdict = "open" if value is None else "good" if low <= value <= high else "bad"
    reading = Reading(check=key, value=value) if value is not None else None
    told = says if verdict == "bad" else ""
    return Check(
        key=key, group=group, words=words, tags=(key,) if key.startswith("W-") else (), wanted=wanted, low=low,
        high=high, unit=unit, reading=reading, verdict=verdict, says=told,
    )  # fmt: skip


def _store(design: Design, live: Live) -> Iterator[Check]:
    bank = design.bank
    low, high = bank.lowest_working_v.value, bank.max_v.value * 1.01
    volts, amps = live.storage.get("V"), live.storage.get("A")
    if isinstance(volts, float) and volts > 0:
        says = f"{volts:.1f} V: too low or too high for this bank, or read by a wrong scale"
        yield _check("bank", "Bank", "Voltage at the bank", volts, low, high, "V", says)
    if isinstance(amps, float):
        most, least = bank.charge_limit_a.value, -bank.discharge_limit_a.value
        says = f"{amps:.0f} A: more than the bank may carry"
        yield _check("current", "Bank", "Current into the bank", amps, least, most, "A", says)
        main = next((one for one in live.ways if one.tag == "W-MAIN"), None)
        if main is not None and main.amps is not None and abs(main.amps) > LEAST_A:
            says = (
                f"{amps:.0f} A into the bank while {main.amps:.0f} A come out of it by the main run: "
                "the leads of the current's sense are swapped"
            )
            slack = 0.1 * abs(main.amps) + 1.0
            yield _check(
                "sense",
                "Bank",
                "Current beside the main run's",
                amps,
                -main.amps - slack,
                -main.amps + slack,
                "A",
                says,
            )


def _lines(design: Design, live: Live) -> Iterator[Check]:
    if live.inverter.get("St") != 4.0:
        return
    stack = design.job.inverters
    volts = line_v(stack)
    for name, words in (("PhVphA", "First line to neutral"), ("PhVphB", "Second line to neutral")):
        value = live.inverter.get(name)
        if isinstance(value, float):
            says = f"{value:.0f} V is not {volts:g} V: an inverter limits, or a neutral is lost"
            yield _check(name, "AC side", words, value, volts * (1 - LINE_SHARE), volts * (1 + LINE_SHARE), "V", says)
    between = live.inverter.get("PPVphAB")
    times = LINE_TO_LINE.get(stack.stacking)
    if isinstance(between, float) and times is not None:
        slack = LINE_SHARE * volts
        says = f"{between:.0f} V between the lines: a leg is swapped, or a role is not set"
        yield _check(
            "PPVphAB",
            "AC side",
            "Line to line",
            between,
            max(0.0, times * volts - slack),
            times * volts + slack,
            "V",
            says,
        )


def _drops(design: Design, live: Live) -> Iterator[Check]:
    ways = {way.tag: way for way in design.tree.ways}
    for one in live.ways:
        way = ways.get(one.tag)
        if way is None or one.amps is None or one.start_v is None or one.end_v is None or abs(one.amps) < LEAST_A:
            continue
        amps = abs(one.amps)
        lost = 1000 * abs(one.start_v - one.end_v)
        figure = Figure.product(
            name=f"{one.tag}: should lose",
            unit="mV",
            formula="current × resistance of its parts, in thousandths",
            inputs=(Given("Current", amps, "A"), Given("Resistance", way.ohm * 1000, "any")),
            source=TEXTBOOK,
        )
        extra = (lost - figure.value) / amps
        says = f"{extra:.2g} mΩ more than its parts have, {amps**2 * extra / 1000:.0f} W of heat in a joint"
        words = f"{one.tag}: lost at {amps:.0f} A"
        yield _check(one.tag, "Ways", words, lost, 0.0, figure.value * DROP_TIMES + DROP_MV, "mV", says, figure)
