"""The years lived last, so that leaves of the step share them."""

from __future__ import annotations

import threading

from weighty_axle.answers.year.lived import Lived, live, live_measured
from weighty_axle.answers.year.result import YearResult, year_result
from weighty_axle.design.table import Design
from weighty_axle.reference.importers.weather_file import WeatherHours

_MOST = 3


class KeptYears:
    """The last few designs with their years; asked from the background.

    `measured` are the hours of a weather file to live in; None for the weather that the job draws.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._years: list[tuple[Design, WeatherHours | None, Lived, YearResult]] = []
        self.measured: WeatherHours | None = None

    def of(self, design: Design) -> tuple[Lived, YearResult]:
        """A design's year in quarters of an hour, lived now where it is not known."""
        with self._lock:
            hours = self.measured
            for known, of, year, result in self._years:
                if known is design and of is hours:
                    return year, result
            year = live(design) if hours is None else live_measured(design, hours)
            result = year_result(year)
            self._years = [*self._years[1 - _MOST :], (design, hours, year, result)]
            return year, result


YEARS = KeptYears()
"""Of all windows."""
