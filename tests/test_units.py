"""Quantities as typed and shown. Unit sizes are checked against the pint library."""

from __future__ import annotations

import math

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from weighty_axle import units
from weighty_axle.units import (
    CURRENT,
    ENERGY,
    FRACTION,
    LENGTH,
    MASS,
    POWER,
    SMALL_SHARE,
    TEMPERATURE,
    QuantityError,
    parse,
    read_conductor,
    show,
    typed,
)


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("2*3.5 m", LENGTH, 7.0),
        ("12 ft", LENGTH, 3.6576),
        ("5 ft 6 in", LENGTH, 1.6764),
        ("5' 6\"", LENGTH, 1.6764),
        ("3,5", LENGTH, 3.5),
        ("(1+2)*40 cm", LENGTH, 1.2),
        ("−0.5 m", LENGTH, -0.5),
        ("1.2 kW", POWER, 1200.0),
        ("350 mA", CURRENT, 0.35),
        ("230 V × 16 A", POWER, 3680.0),
        ("48 V*100 Ah", ENERGY, 4800.0),
        ("1 kWh", ENERGY, 1000.0),
        ("80", FRACTION, 0.8),
        ("0.45", FRACTION, 0.45),
        ("45", FRACTION, 0.45),
        ("0.45 %", FRACTION, 0.0045),
        ("9/10", FRACTION, 0.9),
        ("3", SMALL_SHARE, 0.03),
        ("0.5 %", SMALL_SHARE, 0.005),
        ("0", FRACTION, 0.0),
        ("80 %", FRACTION, 0.8),
        ("-5", TEMPERATURE, -5.0),
        ("23 °F", TEMPERATURE, -5.0),
        ("1 200 W", POWER, 1200.0),
        ("12\u00a0345\u00a0678 W", POWER, 12_345_678.0),
        ("1,200.5 W", POWER, 1200.5),
        ("1,200,000 Wh", ENERGY, 1.2e6),
        ("0,125 m", LENGTH, 0.125),
        ("12,5 m", LENGTH, 12.5),
        ("3,1250 m", LENGTH, 3.125),
        ("2 × 1 500 W", POWER, 3000.0),
        ("1 000 °C", TEMPERATURE, 1000.0),
        ("5 ft 600 in", LENGTH, 16.764),
        ("1200,125 W", POWER, 1200.125),
    ],
)
def test_typed_text_is_read(text, kind, value):
    assert parse(text, kind) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "kind", "part"),
    [
        ("5 kg", LENGTH, "not a length"),
        ("", LENGTH, "for example 2"),
        ("3 m + 2 kg", LENGTH, "unlike"),
        ("foo", LENGTH, "number is missing"),
        ("2*(3 m", LENGTH, "bracket"),
        ("1/0", LENGTH, "zero"),
        ("3 parsec", LENGTH, "not a unit"),
        ("1 m 2 m)", LENGTH, "left over"),
        ("hot", TEMPERATURE, "not a temperature"),
        ("9" * 200, MASS, "too long"),
        ("1e400 m", LENGTH, "can be measured"),
        ("1e400/1e400", LENGTH, "not a"),
        ("1e400", FRACTION, "can be measured"),
        ("5 $", MASS, "cannot be read"),
        ("1", FRACTION, "type it with the % sign"),
        ("0.5", SMALL_SHARE, "may mean 0.5"),
        ("1,200 W", POWER, "1200 or 1.200"),
        ("2*3,125 m", LENGTH, "3125 or 3.125"),
        ("12,000", ENERGY, "12000 or 12.000"),
        ("-1,200 °C", TEMPERATURE, "without the comma"),
    ],
)
def test_wrong_text_gets_a_sentence(text, kind, part):
    with pytest.raises(QuantityError, match=part.replace("(", r"\(")):
        parse(text, kind)


def test_unit_sizes_agree_with_pint():
    registry = pint.UnitRegistry()
    names = {
        "Ω": "ohm",
        "mΩ": "milliohm",
        "mohm": "milliohm",
        '"': "inch",
        "'": "foot",
        "in": "inch",
        "mm2": "mm**2",
        "mm²": "mm**2",
        "cm2": "cm**2",
        "kcmil": "kcmil",
        "lbs": "lb",
        "%": "percent",
        "hp": "horsepower",
        "VA": "V*A",
        "kVA": "kV*A",
        "t": "metric_ton",
    }
    base = [registry.volt, registry.ampere, registry.meter, registry.kilogram, registry.second]
    for name, (dimension, size) in units._UNITS.items():
        if name == "kcmil":
            continue  # pint's own circular mil is a unit of area by another name; checked by definition below
        wanted = registry.dimensionless
        for unit, power in zip(base, dimension, strict=True):
            wanted = wanted * unit**power
        assert registry.Quantity(1, names.get(name, name)).to(wanted).magnitude == pytest.approx(size, rel=1e-9), name
    assert units._UNITS["kcmil"][1] == pytest.approx(1000 * 3.141592653589793 / 4 * 0.0254e-3**2, rel=1e-12)


@given(
    st.floats(0.001, 50_000),
    st.sampled_from([LENGTH, MASS, POWER, CURRENT, FRACTION]),
    st.sampled_from(["metric", "us"]),
)
def test_what_a_field_shows_reads_back(value, kind, system):
    assert parse(typed(value, kind, system), kind, system) == pytest.approx(value, rel=2e-3, abs=1e-3)


KINDS = [one for one in vars(units).values() if isinstance(one, units.Kind)]


@given(st.floats(-6, 6), st.sampled_from([-1, 1]), st.sampled_from(KINDS), st.sampled_from(["metric", "us"]))
def test_what_is_shown_reads_back(power, sign, kind, system):
    """Any size of any kind, from millionths to millions: the words name the same quantity, to the digits shown; no unit
    is a thousand off.
    """
    value = sign * 10**power
    text = show(value, kind.stored, system)
    near = {"1": 0.0006, "degC": 0.51}.get(
        kind.stored, 0.051 if kind.stored in ("kg", "W", "VA", "Wh", "Ah") else 0.006
    )
    assert parse(text, kind, system) == pytest.approx(value, rel=0.06, abs=near), text
    assert "-" not in text and "e" not in text.split("\u00a0")[0], "a true minus, no powers of ten"


@given(st.floats(-4, 5), st.sampled_from(KINDS))
def test_more_reads_as_more(power, kind):
    """What is larger by a tenth never reads as smaller, also where the unit changes on the way."""
    less, more = 10**power, 1.1 * 10**power
    assert parse(show(more, kind.stored), kind) >= parse(show(less, kind.stored), kind)


@pytest.mark.parametrize(
    ("value", "unit", "system", "text"),
    [
        (12345, "W", "metric", "12.3 kW"),
        (99.4, "A", "metric", "99.4 A"),
        (236.4, "A", "metric", "236 A"),
        (29200, "A", "metric", "29.2 kA"),
        (0.0031, "ohm", "metric", "3.10 mΩ"),
        (0.123, "1", "metric", "12 %"),
        (-0.001, "m", "metric", "0.00 m"),
        (-5, "degC", "us", "23 °F"),
        (100, "kg", "us", "220 lb"),
        (float("inf"), "A", "metric", "no limit"),
        (1, "days", "metric", "1 day"),
        (0.94, "days", "metric", "0.94 days"),
    ],
)
def test_shown_digits_and_units(value, unit, system, text):
    assert show(value, unit, system).replace("\u00a0", " ") == text


@pytest.mark.parametrize(
    ("text", "size"),
    [
        ("2/0", "2/0 AWG"),
        ("#6", "6 AWG"),
        ("awg 4", "4 AWG"),
        ("70 mm2", "70 mm2"),
        ("70", "70 mm2"),
        ("2.5 mm²", "2.5 mm2"),
    ],
)
def test_conductor_names(text, size):
    assert read_conductor(text) == size


def test_unknown_conductor_is_refused():
    with pytest.raises(QuantityError, match="not a conductor size"):
        read_conductor("thick")


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(math.inf, "never"), (7200, "2 h"), (360, "360 s"), (12.34, "12.3 s"), (1.0, "1 s"), (0.0456, "45.6 ms")],
)
def test_times_are_said_as_people_say_them(seconds, words):
    assert units.lasting(seconds) == words
