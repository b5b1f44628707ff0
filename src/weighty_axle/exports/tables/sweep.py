"""The designs of a sweep as a table."""

from __future__ import annotations

from weighty_axle.answers.year.sweep import Point
from weighty_axle.exports.tables.cells import csv_bytes

HEADER = (
    "modules",
    "packs",
    "inverters",
    "chargers",
    "missing_wh",
    "generator_h",
    "unused_sun_wh",
    "lowest_share",
    "more_cost",
    "more_mass_kg",
    "carries_peak",
    "efficient",
    "binds",
)


def sweep_csv(points: tuple[Point, ...]) -> bytes:
    """One row for each design; cost and mass are what it has more than the job's own."""
    return csv_bytes(
        HEADER,
        [
            (
                one.modules,
                one.packs,
                one.inverters,
                one.chargers,
                round(one.missing_wh, 1),
                one.generator_h,
                round(one.cut_wh, 1),
                round(one.lowest_share, 4),
                one.cost,
                round(one.mass_kg, 2),
                one.carries_peak,
                one.efficient,
                one.binds,
            )
            for one in points
        ],
    )
