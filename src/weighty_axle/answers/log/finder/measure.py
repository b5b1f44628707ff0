"""A measurement of the fault finder: what is done, how long it takes, what a reading means.

Minutes and bands: common practice, no source.
"""

from __future__ import annotations

from msgspec import Struct

GOOD = "good"
PART_MV, PART_TIMES, COPPER_TIMES = 3.0, 2.0, 1.4
"""A contact may drop so many times what it should, and so many millivolts on top: it is predicted from usual values;
copper is known better. Source: common practice, no source.
"""
SHARE_LOW, SUN_LOW, ENGINE_LOW = 0.9, 0.85, 0.7
"""Below these shares of what is expected a reading is low. Source: common practice, no source."""
REST_V_SHARE = 0.002
"""A pack at rest that stands lower than the others by so large a share of its voltage is at another charge. Source:
judgement, from the slope of a lithium cell's rest voltage.
"""
TEST_SUN = 800.0
"""Sun that readings of strings are told for [W/m2]; others by their share of it."""


class Outcome(Struct, frozen=True):
    """What a measurement can come out as: its key, and words with this job's numbers."""

    key: str
    words: str


class Measure(Struct, frozen=True, kw_only=True):
    """A measurement: what is done in words, minutes, outcomes; `unit` empty: looked at, not read. Readings under `low`
    and over `high` are outcomes of their own, all between is good; smaller in size than `none_below` is none, negative
    ones may be `reversed`. `live`: done on live parts. `amps`: the current it is told for, `expected` the reading then.
    """

    key: str
    do: str
    minutes: float
    about: tuple[str, ...]
    outcomes: tuple[Outcome, ...]
    unit: str = ""
    low: float | None = None
    high: float | None = None
    none_below: float | None = None
    live: bool = True
    amps: float = 0.0
    expected: float = 0.0

    def outcome_of(self, value: float) -> str:
        """The outcome a reading is."""
        keys = {one.key for one in self.outcomes}
        if "reversed" in keys and value < -abs(self.none_below or 0.0):
            return "reversed"
        if self.none_below is not None and abs(value) < self.none_below and "none" in keys:
            return "none"
        if self.high is not None and value > self.high:
            return next(key for key in ("hot", "high", "apart", "other") if key in keys)
        if self.low is not None and value < self.low:
            return next(key for key in ("low", "cold", "other") if key in keys)
        return GOOD
