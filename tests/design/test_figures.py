from __future__ import annotations

import math

import pytest

from weighty_axle.design.derive import derive
from weighty_axle.design.figures import Figure, Given
from weighty_axle.exports.data.figures import working_lines
from weighty_axle.units import show

# Units a figure may carry, with the ending its key must have.
ENDINGS = {
    "W": "_w",
    "mF": "_mf",
    "J": "_j",
    "s": "_s",
    "Wh": "_wh",
    "V": "_v",
    "A": "_a",
    "Ah": "_ah",
    "VA": "_va",
    "kg": "_kg",
    "m": "_m",
    "mm": "_mm",
    "ohm": "_ohm",
    "1": ("_share", "_balance"),
    "days": "days",
    "per h": "c_rate",
    "count": "_count",
    "h": "_h",
    "degC": "_c",
    "W/K": "_w_per_k",
    "m3/h": "_m3_h",
    "N": "_n",
    "kg_per_m2": "_kg_per_m2",
    "l/h": "_l_per_h",
    "l/kWh": "_l_per_kwh",
    "l": "_l",
}


def test_every_figure_is_complete_and_its_key_says_its_unit(design):
    for path, figure in design.figures():
        assert figure.formula and figure.source and figure.name, path
        last = path.rpartition(".")[2].partition("[")[0]
        if last not in ("computed", "parts"):
            assert last.endswith(ENDINGS[figure.unit]), (path, figure.unit)


def _worked(figure: Figure) -> float | None:
    """Value by the figure's own formula where it is a plain sum, product, difference or quotient of its inputs."""
    values = [one.value for one in figure.inputs]
    kinds = {
        "cells in series × cell voltage": math.prod,
        "packs in parallel × capacity of one": math.prod,
        "packs in parallel × limit of one": math.prod,
        "nominal voltage × capacity": math.prod,
        "nominal energy × usable share": math.prod,
        "packs × mass of one": math.prod,
        "modules × rated power": math.prod,
        "modules on strings × rated power": math.prod,
        "units × no-load power × 24 h": lambda v: 24 * math.prod(v),
        "AC loads + DC loads + converters + idling + converting": sum,
        "sum of the sources": sum,
        "weighbridge + added + what the worst state of lading adds": sum,
        "weighbridge total + added mass": sum,
        "plate − load": lambda v: v[0] - v[1],
        "gross limit − gross weight": lambda v: v[0] - v[1],
        "limit − cold Voc": lambda v: v[0] - v[1],
        "highest voltage ÷ bank resistance": lambda v: v[0] / v[1],
        "usable energy ÷ energy out of the bank per day": lambda v: v[0] / v[1],
        "highest voltage ÷ resistance up to the fuse": lambda v: v[0] / v[1],
        "limit × volts × lines": math.prod,
        "current × factor": math.prod,
        "modules × Voc × table factor": lambda v: v[0] * v[1] * v[2],
        "1.25 × Isc × strings": lambda v: 1.25 * math.prod(v),
        "units × surge of one": math.prod,
        "along + across + up + slack at both ends": lambda v: v[0] + v[1] + v[2] + 2 * v[3],
        "nameplate × hot share − vehicle loads": lambda v: v[0] * v[1] - v[2],
        "cells in series × cell voltage, to 0.1 V": lambda v: round(v[0] * v[1], 1),
        "full-charge voltage + start margin": sum,
    }
    return kinds[figure.formula](values) if figure.formula in kinds else None


def test_workings_work(design):
    """Putting a working's own inputs into its own formula gives its own result."""
    checked = 0
    for path, figure in design.figures():
        worked = _worked(figure)
        if worked is not None:
            assert figure.value == pytest.approx(worked, rel=1e-9), path
            checked += 1
    assert checked > 45


@pytest.mark.parametrize("system", ["metric", "us"])
def test_a_working_as_lines_holds_all_of_it(clinic, system):
    """Name and value, formula, every input in its own unit, source, and what bounds it: copied out, nothing is lost."""
    bounded = 0
    for path, figure in derive(clinic).figures():
        lines = working_lines(figure, system)
        assert (
            lines[0] == f"{figure.name}: {show(figure.value, figure.unit, system)}"
            and lines[1] == f"= {figure.formula}"
        ), path
        assert lines[2 : 2 + len(figure.inputs)] == [
            f"   {one.name} = {show(one.value, one.unit, system)}" for one in figure.inputs
        ], path
        rest = lines[2 + len(figure.inputs) :]
        assert (
            rest[0] == f"Source: {figure.source}" and len(figure.source) > 3 and len(rest) == 1 + bool(figure.limit)
        ), path
        if figure.limit:
            bounded += 1
            assert rest[1].casefold() == figure.limit.casefold() and rest[1][:1] == rest[1][:1].upper()
    assert bounded > 20


SAID = {"name": "x", "unit": "W", "formula": "", "source": ""}


@pytest.mark.parametrize(
    ("make", "values", "expected"),
    [
        (Figure.total, (), 0.0),
        (Figure.total, (2.0, 3.5), 5.5),
        (Figure.product, (2.0, 3.5, 4.0), 28.0),
        (Figure.difference, (10.0, 3.0, 2.5), 4.5),
        (Figure.quotient, (12.0, 3.0, 2.0), 2.0),
        (Figure.largest, (1.0, 7.0, 3.0), 7.0),
        (Figure.least, (4.0, 1.5, 3.0), 1.5),
    ],
)
def test_figures_compute_themselves_from_the_inputs_they_show(make, values, expected):
    inputs = tuple(Given(f"input {at}", value, "W") for at, value in enumerate(values))
    made = make(inputs=inputs, **SAID)
    assert made.value == expected and made.inputs == inputs


def test_dividing_by_nothing_is_said_or_raised():
    inputs = (Given("energy", 5.0, "Wh"), Given("need", 0.0, "Wh"))
    assert Figure.quotient(inputs=inputs, by_zero=math.inf, **SAID).value == math.inf
    with pytest.raises(ZeroDivisionError):
        Figure.quotient(inputs=inputs, **SAID)
