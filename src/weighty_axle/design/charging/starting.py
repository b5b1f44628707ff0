"""The starting battery: what keeps it full in a way that suits it, and what could empty it."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.charging.engine import Detection
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.job.models.bank import Chemistry
from weighty_axle.job.models.charging import VEHICLE
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import bar_tag
from weighty_axle.reference.cells import CELL_POINTS


class Starting(Struct, frozen=True, kw_only=True):
    """One starting battery: the converters that keep it full at rest, the voltage that suits it, and the converters
    that could empty it.
    """

    bar: str
    name: str
    chemistry: Chemistry
    kept_by: tuple[str, ...]
    float_v: Figure
    highest_v: Figure
    unsuited: tuple[str, ...]
    emptied_by: tuple[str, ...]


def starting(whole: Job, detected: tuple[Detection, ...]) -> tuple[Starting, ...]:
    """Every bar with a starting battery: those stated, and the vehicle's own where alternators are on it.

    Source: common practice (float and highest voltage of a cell by chemistry).
    """
    found = []
    for bar in whole.bars:
        if bar.bank is not None and bar.bank.role == "starting":
            spec = bar.bank.spec
            found.append(
                _one(whole, bar.tag, bar.name, spec.chemistry, spec.cells_in_series * bar.bank.series, detected)
            )
    own = [one for one in whole.charging.alternators if one.bar == VEHICLE]
    if own:
        chemistry = whole.charging.starter.chemistry
        cells = {"lfp": 4, "nmc": 3}.get(chemistry, 6) * (2 if own[0].volts > 20 else 1)
        found.append(_one(whole, VEHICLE, "the vehicle's own", chemistry, cells, detected))
    return tuple(found)


def _one(
    whole: Job, tag: str, name: str, chemistry: Chemistry, cells: int, detected: tuple[Detection, ...]
) -> Starting:
    points = CELL_POINTS[chemistry]
    count = Given("Cells in series", cells, "count")
    holds = Figure.product(
        name=f"Float of {name}",
        unit="V",
        formula="cells × float voltage of a cell",
        inputs=(count, Given("Float of a cell", points.float_, "V")),
        source=PRACTICE,
    )
    most = Figure.product(
        name=f"Most for {name}",
        unit="V",
        formula="cells × highest charging voltage of a cell",
        inputs=(count, Given("Highest of a cell", points.brim, "V")),
        source=PRACTICE,
    )
    into = [one for one in whole.converters if bar_tag(whole, one.end) == tag and one.works != "engine"]
    unsuited = tuple(
        one.tag
        for one in into
        if one.spec.output_v is not None and not 0.97 * holds.value <= one.spec.output_v <= 1.005 * most.value
    )
    verdicts = {one.tag: one.verdict for one in detected}
    emptied = tuple(
        one.tag
        for one in whole.converters
        if bar_tag(whole, one.start) == tag
        and (
            one.works == "always"
            or verdicts.get(one.tag) == "empties"
            or _by_voltage_empties(one.on_v, one.works, holds)
        )
    )
    return Starting(
        bar=tag,
        name=name,
        chemistry=chemistry,
        kept_by=tuple(one.tag for one in into),
        float_v=holds,
        highest_v=most,
        unsuited=unsuited,
        emptied_by=emptied,
    )


def _by_voltage_empties(on_v: float | None, works: str, holds: Figure) -> bool:
    """A transfer that goes on below float takes from a battery nobody charges."""
    return works == "voltage" and (on_v is None or on_v < 0.985 * holds.value)
