"""What a year is lived on: arrays that all candidates share."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
Flags = NDArray[np.bool_]


class YearArrays(NamedTuple):
    """Loads by kind of day, tiers that wait, step of the day and column; kinds of day at a source by step and column;
    days by column; weather by step and column; power from modules on the roof and elsewhere by step and controller,
    before the controllers' own limits [W]; capacity in the cold by temperature; kinds of source as they are used.
    """

    loads: Floats
    plugs: Floats
    days: Whole
    weather: Floats
    roof_w: Floats
    away_w: Floats
    limits_w: Floats
    cold_c: Floats
    cold_share: Floats
    order: Whole
