"""Quantities as people type and read them; SI (with Wh, Ah, mm2 and degC) inside.

`parse("2*3.5 m", LENGTH)` gives metres; `show(12.5, "kg")` gives text. Everything else in the
program works on plain floats whose unit stands in their name.
"""

from __future__ import annotations

import math
import re
from typing import Literal

from msgspec import Struct

System = Literal["metric", "us"]

# Exponents of (volt, ampere, metre, kilogram, second). Energy and charge need no further base here.
Dimension = tuple[int, int, int, int, int]
PLAIN: Dimension = (0, 0, 0, 0, 0)

_V, _A, _M, _KG, _S = ((1, 0, 0, 0, 0), (0, 1, 0, 0, 0), (0, 0, 1, 0, 0), (0, 0, 0, 1, 0), (0, 0, 0, 0, 1))
_W, _OHM, _WH, _AH = ((1, 1, 0, 0, 0), (1, -1, 0, 0, 0), (1, 1, 0, 0, 1), (0, 1, 0, 0, 1))
_MM2 = (0, 0, 2, 0, 0)

# Unit -> (dimension, size in volt-ampere-metre-kilogram-second). Yard-pound sizes are exact by definition (NIST SP
# 811).
_UNITS: dict[str, tuple[Dimension, float]] = {
    "V": (_V, 1.0),
    "mV": (_V, 1e-3),
    "kV": (_V, 1e3),
    "A": (_A, 1.0),
    "mA": (_A, 1e-3),
    "kA": (_A, 1e3),
    "W": (_W, 1.0),
    "mW": (_W, 1e-3),
    "kW": (_W, 1e3),
    "MW": (_W, 1e6),
    "VA": (_W, 1.0),
    "kVA": (_W, 1e3),
    "hp": (_W, 745.69987158227022),
    "Wh": (_WH, 3600.0),
    "kWh": (_WH, 3.6e6),
    "MWh": (_WH, 3.6e9),
    "Ah": (_AH, 3600.0),
    "mAh": (_AH, 3.6),
    "ohm": (_OHM, 1.0),
    "mohm": (_OHM, 1e-3),
    "Ω": (_OHM, 1.0),
    "mΩ": (_OHM, 1e-3),
    "m": (_M, 1.0),
    "mm": (_M, 1e-3),
    "cm": (_M, 1e-2),
    "km": (_M, 1e3),
    "in": (_M, 0.0254),
    "ft": (_M, 0.3048),
    '"': (_M, 0.0254),
    "'": (_M, 0.3048),
    "mm2": (_MM2, 1e-6),
    "mm²": (_MM2, 1e-6),
    "cm2": (_MM2, 1e-4),
    "kcmil": (_MM2, 5.067074790974977e-7),
    "kg": (_KG, 1.0),
    "g": (_KG, 1e-3),
    "t": (_KG, 1e3),
    "lb": (_KG, 0.45359237),
    "lbs": (_KG, 0.45359237),
    "s": (_S, 1.0),
    "ms": (_S, 1e-3),
    "min": (_S, 60.0),
    "h": (_S, 3600.0),
    "d": (_S, 86400.0),
    "%": (PLAIN, 0.01),
}


class Kind(Struct, frozen=True):
    """What a field holds: the word for it, the unit it is stored in, and what a bare number means."""

    word: str
    stored: str
    us: str | None = None
    bare: str | None = None

    def bare_unit(self, system: System) -> str:
        """Unit of a number typed without one."""
        return self.us if system == "us" and self.us else self.bare or self.stored


LENGTH = Kind("a length", "m", us="ft")
MASS = Kind("a mass", "kg", us="lb")
POWER = Kind("a power", "W")
APPARENT = Kind("an apparent power", "VA")
ENERGY = Kind("an energy", "Wh")
VOLTAGE = Kind("a voltage", "V")
CURRENT = Kind("a current", "A")
CHARGE = Kind("a charge", "Ah")
RESISTANCE = Kind("a resistance", "ohm")
AREA = Kind("a conductor area", "mm2")
DURATION = Kind("a time", "s")
TEMPERATURE = Kind("a temperature", "degC", us="degF")
FRACTION = Kind("a share", "1", bare="%")
SMALL_SHARE = Kind("a small share", "1", bare="%")
"""A share that is usually a few percent: a bare `0.5` may be either there."""
NUMBER = Kind("a number", "1")

_TOKEN = re.compile(
    r"\s*(?:(?P<number>(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?)"
    r"|(?P<unit>[A-Za-zΩµ°²]+2?|%|\"|')|(?P<op>[-+*/()×−·]))"
)
NBSP = "\u00a0"
_MAX_TEXT = 120
_SPACED = re.compile(rf"(?<![\d.,])\d{{1,3}}(?:[ {NBSP}\u202f]\d{{3}})+(?![\d])")
_COMMAS = re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?![\d,])(?P<rest>\.\d+)?")


class QuantityError(ValueError):
    """Typed text that is not the quantity asked for; the message is a sentence for the field."""


def parse(text: str, kind: Kind, system: System = "metric") -> float:
    """Value of typed text in `kind.stored` units.

    Thousands may be apart by a space (`1 200 W`), decimals behind a point or a comma; a comma before three digits is
    asked about. Accepts any unit of the right dimension and + - * / with brackets: `2*3.5 m`, `12 ft`, `5 ft 6 in`,
    `1.2 kW`. A result without any unit is taken in the field's own unit.

    Raises: QuantityError with a sentence when the text is empty, unknown or of another dimension.
    """
    if not text.strip():
        raise QuantityError(f"Type {kind.word}, for example {_example(kind, system)}.")
    if len(text) > _MAX_TEXT:
        raise QuantityError(f"That is too long for {kind.word}.")
    text = _ungrouped(text)
    if kind is TEMPERATURE:
        return _temperature(text, system)
    value, dimension, had_unit = _Reader(text).read()
    wanted, size = (PLAIN, 1.0) if kind.stored == "1" else _UNITS[kind.stored]
    if not had_unit and dimension == PLAIN and math.isfinite(value):
        if kind in (FRACTION, SMALL_SHARE):
            return _bare_share(value, text, kind)
        bare = kind.bare_unit(system)
        return value if bare == "1" else value * _UNITS[bare][1] / size
    if not math.isfinite(value):
        raise QuantityError(f"“{text.strip()}” is not a number that can be measured.")
    if dimension != wanted:
        raise QuantityError(f"“{text.strip()}” is not {kind.word}; try {_example(kind, system)}.")
    return float(f"{value / size:.12g}")  # 350 mA is 0.35, not 0.35000000000000003


def _bare_share(value: float, text: str, kind: Kind) -> float:
    """A share typed as a plain number: `45` and `0.45` are both 45 %. Raises QuantityError where it may be either."""
    if (kind is FRACTION and 1 <= value < 2) or (kind is SMALL_SHARE and 0 < value <= 1):
        raise QuantityError(
            f"“{text.strip()}” may mean {value:g}{NBSP}% or {value * 100:g}{NBSP}%: type it with the % sign."
        )
    return float(f"{value if abs(value) < 1 else value / 100:.12g}")


def _ungrouped(text: str) -> str:
    """Without spaces and commas between thousands.

    Raises QuantityError for `1,200`, which is a thousand times more to some than to others.
    """

    def closed(found: re.Match[str]) -> str:
        number = found[0]
        if number.count(",") == 1 and not found["rest"]:
            raise QuantityError(
                f"“{number}” may mean {number.replace(',', '')} or {number.replace(',', '.')}: type it without the "
                "comma, or with a point."
            )
        return number.replace(",", "")

    return _COMMAS.sub(closed, _SPACED.sub(lambda found: re.sub(r"\D", "", found[0]), text))


def _example(kind: Kind, system: System) -> str:
    return f"2{NBSP}{_LABEL.get(kind.bare_unit(system), kind.bare_unit(system))}".replace(f"{NBSP}1", "")


def _temperature(text: str, system: System) -> float:
    found = re.fullmatch(r"\s*([-+−]?\d+(?:[.,]\d+)?)\s*(?:°|deg)?\s*([CFcf])?\s*", text)
    if not found:
        raise QuantityError(f"“{text.strip()}” is not a temperature; try −5 °C or 23 °F.")
    value = float(found[1].replace("−", "-").replace(",", "."))
    letter = (found[2] or ("F" if system == "us" else "C")).upper()
    return (value - 32) / 1.8 if letter == "F" else value


class _Reader:
    """A small recursive reader of sums and products of numbers with units."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.tokens: list[tuple[str, str]] = []
        at = 0
        end = len(text.rstrip())
        while at < end:
            found = _TOKEN.match(text, at)
            if not found:
                raise QuantityError(f"“{text[at:].strip()[:12]}” cannot be read here.")
            self.tokens.append((found.lastgroup or "", found[found.lastgroup or 0]))
            at = found.end()
        self.at = 0
        self.had_unit = False

    def read(self) -> tuple[float, Dimension, bool]:
        value, dimension = self._sum()
        if self.at < len(self.tokens):
            raise QuantityError(f"“{self.tokens[self.at][1]}” is left over in “{self.text.strip()}”.")
        return value, dimension, self.had_unit

    def _peek(self) -> tuple[str, str]:
        return self.tokens[self.at] if self.at < len(self.tokens) else ("", "")

    def _take(self) -> tuple[str, str]:
        token = self._peek()
        self.at += 1
        return token

    def _sum(self) -> tuple[float, Dimension]:
        value, dimension = self._product()
        while True:
            kind, sign = self._peek()
            # '5 ft 6 in': two quantities side by side add up.
            beside = kind == "number" and dimension != PLAIN
            if not beside and sign not in ("+", "-", "−"):
                return value, dimension
            if not beside:
                self._take()
            more, other = self._product()
            if other != dimension:
                raise QuantityError(f"“{self.text.strip()}” adds unlike things.")
            value = value - more if sign in ("-", "−") else value + more

    def _product(self) -> tuple[float, Dimension]:
        value, dimension = self._factor()
        while self._peek()[1] in ("*", "×", "·", "/"):
            sign = self._take()[1]
            more, other = self._factor()
            if sign == "/":
                if more == 0:
                    raise QuantityError("That divides by zero.")
                value, dimension = value / more, _joined(dimension, other, -1)
            else:
                value, dimension = value * more, _joined(dimension, other, 1)
        return value, dimension

    def _factor(self) -> tuple[float, Dimension]:
        kind, text = self._take()
        if text in ("-", "−", "+"):
            value, dimension = self._factor()
            return (value if text == "+" else -value), dimension
        if text == "(":
            value, dimension = self._sum()
            if self._take()[1] != ")":
                raise QuantityError("A bracket is not closed.")
        elif kind == "number":
            value, dimension = float(text.replace(",", ".")), PLAIN
        else:
            raise QuantityError(f"A number is missing in “{self.text.strip()}”.")
        if self._peek()[0] == "unit":
            name = self._take()[1]
            if name not in _UNITS:
                raise QuantityError(f"“{name}” is not a unit known here.")
            more, size = _UNITS[name]
            value, dimension = value * size, _joined(dimension, more, 1)
            self.had_unit = True
        return value, dimension


def _joined(left: Dimension, right: Dimension, sign: int) -> Dimension:
    v, a, m, kg, s = (one + sign * two for one, two in zip(left, right, strict=True))
    return v, a, m, kg, s


# ---- showing -------------------------------------------------------------------------------------------------

_LABEL = {
    "m_per_s": "m/s",
    "count": "",
    "money": "",
    "deg": "°",
    "kg_per_m2": "kg/m²",
    "kg_per_m3": "kg/m³",
    "degC": "°C",
    "degF": "°F",
    "mm2": "mm²",
    "m3/h": "m³/h",
    "ohm": "Ω",
    "1": "",
}
_US: dict[str, tuple[str, float]] = {"m": ("ft", 1 / 0.3048), "kg": ("lb", 1 / 0.45359237)}
# From this size on the thousandfold unit reads better.
_KILO = {"W": ("kW", 1000.0), "VA": ("kVA", 1000.0), "Wh": ("kWh", 1000.0), "A": ("kA", 10000.0)}


def digits(value: float, places: int) -> str:
    """Number with a true minus sign, no negative zero and at most `places` decimals."""
    text = f"{value:,.{places}f}".replace(",", NBSP)
    if text.startswith("-"):
        text = text[1:] if not text.strip("-0.") else "−" + text[1:]
    return text


def lasting(value_s: float) -> str:
    """A time as people say it: never, hours, seconds, milliseconds."""
    if math.isinf(value_s):
        return "never"
    if value_s >= 3600:
        return f"{value_s / 3600:.3g} h"
    return f"{value_s:.0f} s" if value_s >= 100 else f"{value_s:.3g} s" if value_s >= 1 else f"{1000 * value_s:.3g} ms"


def show(value: float, unit: str, system: System = "metric") -> str:
    """Text of a stored value with its unit: a current to 1 A from 100 A up, small resistances in milliohms."""
    if unit == "s" and (value == math.inf or 0 < value < 1):
        return lasting(value).replace(" ", NBSP)
    if value != value or value in (float("inf"), float("-inf")):
        return "none" if value != value else "no limit"
    if unit == "1":
        return f"{digits(value * 100, 1 if abs(value) < 0.0995 else 0)}{NBSP}%"
    if unit == "degC" and system == "us":
        value, unit = value * 1.8 + 32, "degF"
    elif unit == "ohm" and abs(value) < 1:
        value, unit = value * 1000, "mΩ"
    elif system == "us" and unit in _US:
        unit, factor = _US[unit]
        value *= factor
    elif unit in _KILO and abs(value) >= _KILO[unit][1]:
        unit, value = _KILO[unit][0], value / 1000
    word = "day" if unit == "days" and value == 1 else _LABEL.get(unit, unit)
    return f"{digits(value, _places(value, unit))}{NBSP}{word}".rstrip(NBSP)


def _places(value: float, unit: str) -> int:
    size = abs(value)
    if value == round(value) and unit != "V":
        return 0
    if unit in ("money", "degC", "degF", "kg", "lb", "W", "VA", "Wh", "count", "Ah", "min"):
        return 1 if size < 10 and value != round(value) else 0
    if unit == "mm2" and value == round(value):
        return 0
    return 0 if size >= 99.95 else 1 if size >= 9.995 else 2


def typed(value: float, kind: Kind, system: System = "metric") -> str:
    """Text that stands in an editable field: it parses back to the same value (to the digits shown)."""
    if kind.stored == "1":
        return f"{value * 100:g}{NBSP}%" if kind.bare == "%" else f"{value:g}"
    if kind is TEMPERATURE and system == "us":
        return f"{round(value * 1.8 + 32, 1):g}{NBSP}°F".replace("-", "−")
    unit = kind.stored
    if system == "us" and unit in _US:
        unit, factor = _US[unit]
        value *= factor
    elif unit in _KILO and abs(value) >= _KILO[unit][1]:
        unit, value = _KILO[unit][0], value / 1000
    elif unit == "ohm" and abs(value) < 1:
        value, unit = value * 1000, "mΩ"
    return f"{round(value, 4):g}{NBSP}{_LABEL.get(unit, unit)}".replace("-", "−")


# ---- conductors ----------------------------------------------------------------------------------------------


def read_conductor(text: str) -> str:
    """Name of a conductor size as tables list it, from `2/0`, `2/0 AWG`, `#6`, `awg 6`, `70 mm2` or `70`.

    Numbers up to 18 without a unit are gauge numbers only when written with AWG or '#'. Raises QuantityError.
    """
    words = text.strip().lower().replace("²", "2").replace(",", ".")
    found = re.fullmatch(r"(?:awg\s*|#\s*)?(\d{1,2}(?:/0)?)\s*(?:awg)?", words)
    if found and (found[1].endswith("/0") or "awg" in words or "#" in words):
        return f"{found[1]} AWG"
    found = re.fullmatch(r"(\d+(?:\.\d+)?)\s*(?:mm2)?", words)
    if found:
        return f"{float(found[1]):g} mm2"
    raise QuantityError(f"“{text.strip()}” is not a conductor size; try 2/0 AWG or 70 mm2.")


def conductor_words(size: str) -> str:
    """A conductor's table name as people read it: `2 x 70 mm2` becomes `2 × 70 mm²`."""
    return size.replace("mm2", "mm²").replace(" x ", " × ").replace(" ", NBSP)
