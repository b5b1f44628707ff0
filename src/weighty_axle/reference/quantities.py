"""What a column of a recording can be: quantities with the words they go by. Words of headings: common practice, no
source.
"""

from __future__ import annotations

from typing import NamedTuple


class Quantity(NamedTuple):
    """A quantity: its key, words, unit, the kind of thing it can belong to (empty: the whole), words of a heading by
    which it is known beside those of its unit, and whether it counts up.
    """

    key: str
    words: str
    unit: str
    of: str = ""
    subjects: tuple[str, ...] = ()
    counts: bool = False


_BANK = ("bank", "battery", "batt", "shunt", "house")
_SUN = ("pv", "solar", "sun", "array", "mppt", "controller")
_AC = ("ac", "load", "loads", "output", "consumption")
QUANTITIES: tuple[Quantity, ...] = (
    Quantity("bank_v", "voltage at the packs", "V", subjects=_BANK),
    Quantity("bank_a", "current of the bank, into it positive", "A", subjects=_BANK),
    Quantity("soc", "charge of the bank", "%", subjects=(*_BANK, "soc", "state", "charge", "level")),
    Quantity("bar_v", "voltage at the bars", "V", subjects=("bar", "bars", "bus", "busbar", "busbars")),
    Quantity("unit_v", "voltage at an inverter's terminals", "V", "inverter", ("inverter", "inv", "dc")),
    Quantity("unit_a", "direct current of an inverter", "A", "inverter", ("inverter", "inv", "dc")),
    Quantity("ac_w", "power on the AC side of the inverters", "W", "inverter", (*_AC, "inverter", "inv")),
    Quantity("shore_w", "power from a source outside", "W", subjects=("shore", "grid", "mains", "hookup", "input")),
    Quantity("engine_a", "current of what charges by the engine", "A", subjects=("engine", "alternator", "driving")),
    Quantity("sun_w", "power of a solar controller", "W", "controller", _SUN),
    Quantity("sun_a", "current of a solar controller", "A", "controller", _SUN),
    Quantity("pack_a", "current of a pack, out of it positive", "A", "pack", ("pack", "string")),
    Quantity("sun_per_m2", "light on the roof", "W/m²", subjects=("irradiance", "ghi", "light", "pyranometer", "sun")),
    Quantity("air_c", "air outside", "degC", subjects=("air", "outside", "outdoor", "ambient")),
    Quantity("cells_c", "cells of the bank", "degC", subjects=(*_BANK, "cell", "cells", "pack")),
    Quantity("sun_wh", "energy of the sun, counted", "Wh", "controller", _SUN, counts=True),
    Quantity("ac_wh", "energy on the AC side, counted", "Wh", "inverter", _AC, counts=True),
)
"""Quantities a recording can hold."""
BY_KEY = {one.key: one for one in QUANTITIES}
UNIT_WORDS: dict[str, tuple[str, ...]] = {
    "V": ("v", "volt", "volts", "voltage", "mv"),
    "A": ("a", "amp", "amps", "ampere", "current", "ma"),
    "W": ("w", "kw", "watt", "watts", "power"),
    "Wh": ("wh", "kwh", "mwh", "energy", "yield"),
    "%": ("%", "soc", "percent", "pct", "charge"),
    "degC": ("c", "°c", "degc", "temp", "temperature", "f", "°f", "degf"),
    "W/m²": ("w/m2", "w/m²", "irradiance", "ghi"),
}
"""Words of a heading that tell its unit."""
THOUSANDS = {"kw": 1000.0, "kwh": 1000.0, "mwh": 1e6, "mv": 0.001, "ma": 0.001}
"""What numbers under such a heading are multiplied by."""
