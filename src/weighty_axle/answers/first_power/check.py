"""A check: what is read or looked at, what it should be, and what a reading that is not so means."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Literal

from msgspec import Struct

from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.job.models.proving import Reading

Verdict = Literal["open", "good", "bad", "asked"]


class Check(Struct, frozen=True, kw_only=True):
    """A check: its key, what is done, what must be read (None: a tick), and what was read.

    `says` is what the reading means: empty while it is open or good.
    """

    key: str
    group: str
    words: str
    tags: tuple[str, ...]
    wanted: Figure | None = None
    low: float | None = None
    high: float | None = None
    unit: str = ""
    reading: Reading | None = None
    verdict: Verdict = "open"
    says: str = ""

    @property
    def done(self) -> bool:
        """Whether it stands in nobody's way."""
        return self.verdict == "good"

    @property
    def thing(self) -> str:
        """What is checked, in a few words."""
        return self.words.partition(":")[0]


class Checks:
    """Checks of a design while they are made, each with its latest reading. `before` stands before every key, `where`
    before the words of checks of a system beside the house.
    """

    def __init__(self, design: Design, readings: Iterable[Reading], before: str = "", where: str = "") -> None:
        self.design, self.before, self.where = design, before, where
        self.latest = {one.check: one for one in readings}
        self.volts = design.bank.nominal_v.value

    def value(self, key: str) -> float | None:
        """What was read last, where anything was."""
        reading = self.latest.get(f"{self.before}{key}")
        return reading.value if reading is not None else None

    def tick(self, key: str, group: str, words: str, tags: tuple[str, ...]) -> Check:
        """A check that is only said to be so."""
        key, words = f"{self.before}{key}", f"{self.where}{words}"
        reading = self.latest.get(key)
        verdict: Verdict = "good" if reading is not None else "open"
        return Check(key=key, group=group, words=words, tags=tags, reading=reading, verdict=verdict)

    def read(
        self,
        key: str,
        group: str,
        words: str,
        tags: tuple[str, ...],
        wanted: Figure | None,
        low: float,
        high: float,
        unit: str,
        means: str,
        slack: float = 0.0,
    ) -> Check:
        """A check by a meter that may be off by `slack` to either side."""
        verdict, says = judged(self.value(key), low - slack, high + slack, unit, means, self.volts)
        key, words = f"{self.before}{key}", f"{self.where}{words}"
        return Check(
            key=key,
            group=group,
            words=words,
            tags=tags,
            wanted=wanted,
            low=low,
            high=high,
            unit=unit,
            reading=self.latest.get(key),
            verdict=verdict,
            says=says,
        )


def judged(
    value: float | None, low: float, high: float, unit: str, means: str, volts: float = 0.0
) -> tuple[Verdict, str]:
    """What a reading says: good, bad with what it means, or asked about where a slip of the hand is likelier.

    `volts` is what currents flow at: watts may have been typed for amperes.

    Source: common practice, no source.
    """
    if value is None:
        return "open", ""
    if low <= value <= high:
        return "good", ""
    band = f"{low:.3g} to {high:.3g} {unit}" if math.isfinite(high) else f"at least {low:.3g} {unit}"
    if unit == "V" and low <= -value <= high:
        return "bad", f"{value:g} V: plus and minus are swapped, at the meter or in the wiring. Find out which first"
    if unit == "A" and low <= -value <= high:
        return "asked", f"{value:g} A: the clamp sits the other way round, or the leads of a shunt are swapped?"
    if unit == "A" and volts and low > 0 and low <= value / volts <= high:
        return "asked", f"{value:g} is far from {band}, and {value / volts:.0f} A at {volts:g} V: watts for amperes?"
    for factor, words in _SLIPS:
        if low <= 0 and value < 100 * high:
            break  # of what only has a most, a little over it is no slip
        if low <= value * factor <= high and (math.isfinite(high) or factor < 1):
            return "asked", f"{value:g} {unit} is far from {band}: {words}?"
    return "bad", f"{value:g} {unit} is not {band}: {means}"


_SLIPS = (
    (10.0, "a point one place too far to the left"),
    (0.1, "a point one place too far to the right"),
    (0.001, "read in thousandths"),
    (1000.0, "read in thousands"),
)
"""Slips of the hand: the factor that puts a reading right, and what they are."""
