"""The years lived last, so that leaves of the step share them."""

from __future__ import annotations

import threading

from weighty_axle.answers.year.lived import Lived, live
from weighty_axle.answers.year.result import YearResult, year_result
from weighty_axle.design.table import Design

_MOST = 3


class KeptYears:
    """The last few designs with their years; asked from the background."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._years: list[tuple[Design, Lived, YearResult]] = []

    def of(self, design: Design) -> tuple[Lived, YearResult]:
        """A design's year in quarters of an hour, lived now where it is not known."""
        with self._lock:
            for known, year, result in self._years:
                if known is design:
                    return year, result
            year = live(design)
            result = year_result(year)
            self._years = [*self._years[1 - _MOST :], (design, year, result)]
            return year, result


YEARS = KeptYears()
"""Of all windows."""
