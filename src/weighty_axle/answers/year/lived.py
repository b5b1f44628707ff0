"""A design's year lived through: its course step by step, and the sums of it."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

import numpy as np
from msgspec import Struct

from weighty_axle.answers.year.inputs import YearInputs, first_weather, in_weather, year_inputs
from weighty_axle.answers.year.sky import Weather, weather_of_hours
from weighty_axle.design.table import Design
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year import kernel
from weighty_axle.physics.year.arrays import Floats, YearArrays
from weighty_axle.physics.year.compiled import Compiled, compiled
from weighty_axle.reference.importers.weather_file import WeatherHours

STEPS_MIN = (60, 30, 15)
"""Lengths of a step that can be asked for [min]."""

Kernel = Callable[[YearArrays, Floats, Floats, Floats], None]


class Lived(Struct, frozen=True, kw_only=True):
    """A year as it was lived: inputs, weather, course (a row for each step) and sums, by the columns of
    physics.year.columns.
    """

    design: Design
    step_min: int
    inputs: YearInputs
    weather: Weather
    arrays: YearArrays
    series: Floats
    sums: Floats

    @property
    def hours(self) -> float:
        """Length of a step [h]."""
        return self.step_min / 60


def live(design: Design, *, step_min: int = 15, year: int = 0, fast: bool = True) -> Lived:
    """One year of a design: the drawn year of that number of the job's weather.

    `fast` is False for the plain code. Raises ValueError for a step that is none of those there are.
    """
    if step_min not in STEPS_MIN:
        raise ValueError(f"a step of {step_min} min is none of {', '.join(map(str, STEPS_MIN))}")
    inputs = year_inputs(design, 1440 // step_min)
    return lived(design, inputs, first_weather(design, inputs, year), kernel_of(fast))


def live_measured(design: Design, hours: WeatherHours, *, step_min: int = 15) -> Lived:
    """One year of a design in measured hours.

    Raises ValueError for a step that is none of those there are.
    """
    if step_min not in STEPS_MIN:
        raise ValueError(f"a step of {step_min} min is none of {', '.join(map(str, STEPS_MIN))}")
    inputs = year_inputs(design, 1440 // step_min)
    weather = weather_of_hours(inputs.sunny, hours, design.job.roof.sky.turbidity)
    return lived(design, inputs, weather, kernel_of(True))


def fast_kernel() -> Compiled | None:
    """The compiled kernel, kept in the user's cache folder (XDG); None where there is no compiler."""
    folder = os.environ.get("XDG_CACHE_HOME") or str(Path.home() / ".cache")
    return compiled(str(Path(folder) / "weighty-axle" / "compiled"))


def kernel_of(fast: bool) -> Kernel:
    """The compiled kernel where the compiler is there and it is asked for, else the plain one."""
    found = fast_kernel() if fast else None
    return found.live if found is not None else kernel.live


def lived(design: Design, inputs: YearInputs, weather: Weather, run: Kernel) -> Lived:
    """A year in a weather.

    Source: physics.year.kernel.
    """
    arrays = in_weather(design, inputs, weather)
    series = np.zeros((len(weather.air_c), at.STEP_COLUMNS))
    sums = np.zeros(at.SUM_COLUMNS)
    run(arrays, inputs.candidate, series, sums)
    return Lived(
        design=design,
        step_min=1440 // inputs.sunny.per_day,
        inputs=inputs,
        weather=weather,
        arrays=arrays,
        series=series,
        sums=sums,
    )
