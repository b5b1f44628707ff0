"""Shadows of upright boxes on a level roof, and the share of sections of modules they cover."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Prism(NamedTuple):
    """An upright box on the roof [m]: from x0 to x1 along, y0 to y1 across, and its height over the modules."""

    x0_m: float
    x1_m: float
    y0_m: float
    y1_m: float
    height_m: float


class Points(NamedTuple):
    """Sample points of one module [m], and the section each belongs to."""

    x_m: Floats
    y_m: Floats
    section: NDArray[np.int64]


def away_from_sun(*, elevation_deg: Floats, azimuth_deg: Floats, heading_deg: float) -> tuple[Floats, Floats]:
    """Shift of a shadow's tip per metre of height, in the vehicle's own axes: x from front to rear, y to its right.

    Parameters: elevation_deg, azimuth_deg - of the sun, heading_deg - where the front points, from north over east
    Returns: shift along and across [1]
    Source: textbook geometry
    """
    turn = np.deg2rad(azimuth_deg - heading_deg)
    length = 1 / np.tan(np.deg2rad(np.maximum(elevation_deg, 0.1)))
    # The sun ahead (turn 0) throws shadows to the rear; the sun at the right (90) throws them to the left.
    return length * np.cos(turn), -length * np.sin(turn)


def outline(prism: Prism, along: float, across: float) -> tuple[tuple[float, float], ...]:
    """Corners of a shadow on the roof, foot and all, in order around it [m].

    Parameters: prism; along, across - shift of the tip per metre of height [1]
    Returns: corners
    Source: textbook geometry: the hull of a rectangle and its shifted copy
    """
    dx, dy = along * prism.height_m, across * prism.height_m
    corners = [(prism.x0_m, prism.y0_m), (prism.x1_m, prism.y0_m), (prism.x1_m, prism.y1_m), (prism.x0_m, prism.y1_m)]
    points = sorted(set(corners + [(x + dx, y + dy) for x, y in corners]))

    def half(ordered: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
        kept: list[tuple[float, float]] = []
        for point in ordered:
            while len(kept) > 1 and _turn(kept[-2], kept[-1], point) <= 1e-12:
                kept.pop()
            kept.append(point)
        return kept[:-1]

    return (*half(points), *half(points[::-1]))


def _turn(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


def shaded(points: Points, prisms: Sequence[Prism], along: Floats, across: Floats) -> NDArray[np.bool_]:
    """Which sample points lie in shadow: towards the sun from a point, is there a box before its top is passed?

    Parameters: points; prisms; along, across - shift of the tip per metre of height, per hour [1]
    Returns: shape (hours, points)
    Source: textbook geometry (slabs)
    """
    dark = np.zeros((len(along), len(points.x_m)), dtype=np.bool_)
    for prism in prisms:
        if prism.height_m <= 0:
            continue
        # Only hours in which the tip reaches the module at all.
        near = _reaches(points, prism, along, across)
        if not near.any():
            continue
        # A point p is dark when p = foot + t (dx, dy) for some t in 0..1, so p - t d lies in the rectangle.
        dx, dy = (along[near] * prism.height_m)[:, None], (across[near] * prism.height_m)[:, None]
        first, last = np.zeros((len(dx), len(points.x_m))), np.ones((len(dx), len(points.x_m)))
        for shift, low, high, at in (
            (dx, prism.x0_m, prism.x1_m, points.x_m),
            (dy, prism.y0_m, prism.y1_m, points.y_m),
        ):
            with np.errstate(divide="ignore", invalid="ignore"):
                one, other = (at[None, :] - high) / shift, (at[None, :] - low) / shift
            still = np.abs(shift) < 1e-9
            inside = (at[None, :] >= low) & (at[None, :] <= high)
            enter = np.where(still, np.where(inside, -np.inf, np.inf), np.minimum(one, other))
            leave = np.where(still, np.where(inside, np.inf, -np.inf), np.maximum(one, other))
            first, last = np.maximum(first, enter), np.minimum(last, leave)
        dark[near] |= first <= last
    return dark


def _reaches(points: Points, prism: Prism, along: Floats, across: Floats) -> NDArray[np.bool_]:
    """Hours in which the box around a shadow meets the box around the points."""
    dx, dy = along * prism.height_m, across * prism.height_m
    return np.asarray(
        (prism.x0_m + np.minimum(dx, 0) <= points.x_m.max())
        & (prism.x1_m + np.maximum(dx, 0) >= points.x_m.min())
        & (prism.y0_m + np.minimum(dy, 0) <= points.y_m.max())
        & (prism.y1_m + np.maximum(dy, 0) >= points.y_m.min())
    )


def section_shares(points: Points, dark: NDArray[np.bool_], sections: int, cells_in_row: int) -> Floats:
    """Share of the beam each section loses: its worst row of cells decides, as the cells of a section are in series.

    Parameters: points; dark - shape (hours, points); sections [1]; cells_in_row - sample points that make one cell [1]
    Returns: shape (hours, sections), 0 to 1
    Source: common practice, no source: a string of cells carries what its darkest cell lets through
    """
    shares = np.zeros((len(dark), sections))
    for section in range(sections):
        own = dark[:, points.section == section]
        cells = own.reshape(len(dark), -1, cells_in_row)
        shares[:, section] = cells.mean(axis=2).max(axis=1)
    return shares
