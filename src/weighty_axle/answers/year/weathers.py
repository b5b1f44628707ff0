"""Many years of one design: what the weather can do to it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from msgspec import Struct

from weighty_axle.answers.year.inputs import first_weather, in_weather, year_inputs
from weighty_axle.answers.year.lived import kernel_of
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year import kernel
from weighty_axle.physics.year.arrays import Floats

YEARS = 200
PERCENTILES = (10, 50, 90)
Progress = Callable[[float, str], None]


class Weathers(Struct, frozen=True, kw_only=True):
    """Sums of many years, a row for each by the columns of physics.year.columns, and the year that decides: the one
    with most missing, then most generator hours, then the lowest charge.
    """

    step_min: int
    seed: str
    full_wh: float
    sums: Floats
    deciding: int

    def values(self, key: str) -> Floats:
        """What a year of each weather gives: `missing_wh`, `generator_h`, `lowest_share`, `sun_wh`, `cut_wh`."""
        made: Floats = _VALUES[key][2](self)
        return made

    def percentiles(self, key: str) -> tuple[Figure, ...]:
        """A quantity in a good, a usual and a bad year, as figures.

        Source: order statistics with straight lines between them (textbook relation).
        """
        name, unit, _ = _VALUES[key]
        values = self.values(key)
        return tuple(
            Figure(
                name=f"{name}, {percent} % of years under it",
                value=float(np.percentile(values, percent)),
                unit=unit,
                formula="order statistic of all years drawn",
                inputs=(
                    Given("Years drawn", len(values), "count"),
                    Given("Least", float(values.min()), unit),
                    Given("Most", float(values.max()), unit),
                ),
                source="textbook relation (order statistics)",
                limit=f"weather “{self.seed}”, steps of {self.step_min} min",
            )
            for percent in PERCENTILES
        )


_VALUES: dict[str, tuple[str, str, Callable[[Weathers], Floats]]] = {
    "missing_wh": ("Missing", "Wh", lambda own: own.sums[:, at.UNMET_WH] + own.sums[:, at.SHED_WH]),
    "generator_h": ("Generator", "h", lambda own: own.sums[:, at.GENERATOR_H]),
    "lowest_share": ("Lowest charge", "1", lambda own: own.sums[:, at.LOWEST_WH] / own.full_wh),
    "sun_wh": ("Sun used", "Wh", lambda own: own.sums[:, at.SUN_WH]),
    "cut_wh": ("Sun unused", "Wh", lambda own: own.sums[:, at.CUT_WH]),
}
QUANTITIES = tuple(_VALUES)


def weathers(
    design: Design, *, years: int = YEARS, step_min: int = 15, fast: bool = True, progress: Progress | None = None
) -> Weathers:
    """The design in many drawn years, one after the other.

    Source: physics.year.kernel; weather drawn as for a single year.
    """
    run = kernel_of(fast)
    # The plain code takes a hundred times as long: whole hours are told as such.
    step_min = max(step_min, 60) if run is kernel.live else step_min
    inputs = year_inputs(design, 1440 // step_min)
    sums, nothing = np.zeros((years, at.SUM_COLUMNS)), np.zeros((0, at.STEP_COLUMNS))
    for year in range(years):
        if progress is not None:
            progress(year / years, f"Year {year + 1} of {years}")
        run(in_weather(design, inputs, first_weather(design, inputs, year)), inputs.candidate, nothing, sums[year])
    missing = sums[:, at.UNMET_WH] + sums[:, at.SHED_WH]
    order = np.lexsort((-sums[:, at.LOWEST_WH], sums[:, at.GENERATOR_H], missing))
    return Weathers(
        step_min=step_min,
        seed=design.job.year.seed,
        full_wh=float(inputs.candidate[at.FULL_WH]),
        sums=sums,
        deciding=int(order[-1]),
    )
