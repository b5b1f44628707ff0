"""Views of the vehicle or of one bay: which axes each shows, where, and at what scale."""

from __future__ import annotations

from typing import Literal, NamedTuple

from PySide6.QtCore import QPointF, QRectF

from weighty_axle.design.place.clear import Box
from weighty_axle.job.models.vehicle import Bay, Vehicle

View = Literal["side", "top", "end"]
_AXES: dict[View, tuple[int, int]] = {"side": (0, 2), "top": (0, 1), "end": (1, 2)}
"""Axes to the right and up of each view: along, across, up."""
_BARS_PX = 62.0
_ROUND_M = 0.12


class Pane(NamedTuple):
    """One view; `middle` is the point in the middle of its area [m]."""

    view: View
    area: QRectF
    scale: float
    middle: tuple[float, float, float]

    def at(self, point: tuple[float, float, float]) -> QPointF:
        """Pixel of a point."""
        right, up = _AXES[self.view]
        centre = self.area.center()
        return QPointF(
            centre.x() + (point[right] - self.middle[right]) * self.scale,
            centre.y() - (point[up] - self.middle[up]) * self.scale,
        )

    def rect(self, box: Box) -> QRectF:
        """Pixels of a box."""
        return QRectF(self.at(box.low), self.at(box.high)).normalized()

    def shift(self, dx: float, dy: float) -> tuple[float, float, float]:
        """Metres of a distance in pixels."""
        right, up = _AXES[self.view]
        found = [0.0, 0.0, 0.0]
        found[right], found[up] = dx / self.scale, -dy / self.scale
        return found[0], found[1], found[2]

    @property
    def axes(self) -> tuple[int, int]:
        """Axes to the right and up."""
        return _AXES[self.view]


class Look(NamedTuple):
    """How near one looks, and how far the middle is moved from where it would be [m]."""

    zoom: float = 1.0
    moved: tuple[float, float, float] = (0.0, 0.0, 0.0)


def whole_panes(
    width: float, height: float, vehicle: Vehicle, extent: tuple[float, float, float], at: Look
) -> list[Pane]:
    """Side view over top view; `extent` is left, right and top of what is drawn. Axle bars stand between them."""
    left, right, top = extent
    high = top + 0.1
    scale = min((width - 30) / (right - left), (height - _BARS_PX - 22) / (high + vehicle.width_m))
    side_px = scale * high
    middle = ((left + right) / 2, 0.0, high / 2)
    seen = (middle[0] + at.moved[0], middle[1] + at.moved[1], middle[2] + at.moved[2])
    top_px = vehicle.width_m * scale
    return [
        Pane("side", QRectF(15, 4, width - 30, side_px), scale * at.zoom, seen),
        Pane("top", QRectF(15, 4 + side_px + _BARS_PX, width - 30, top_px), scale * at.zoom, seen),
    ]


def bay_panes(width: float, height: float, vehicle: Vehicle, bay: Bay, at: Look) -> list[Pane]:
    """A bay opened: from its side, from behind, and from above, at one scale."""
    long, high, wide = bay.end_m - bay.start_m, bay.top_m - bay.bottom_m, vehicle.width_m
    scale = min((width - 60) / (long + wide + 4 * _ROUND_M), (height - 54) / (high + wide + 4 * _ROUND_M))
    middle = ((bay.start_m + bay.end_m) / 2, 0.0, (bay.bottom_m + bay.top_m) / 2)
    seen = (middle[0] + at.moved[0], middle[1] + at.moved[1], middle[2] + at.moved[2])
    first, upper = (long + 2 * _ROUND_M) * scale, (high + 2 * _ROUND_M) * scale
    second, lower = (wide + 2 * _ROUND_M) * scale, (wide + 2 * _ROUND_M) * scale
    left, top = (width - first - second - 20) / 2, 18.0
    return [
        Pane("side", QRectF(left, top, first, upper), scale * at.zoom, seen),
        Pane("end", QRectF(left + first + 20, top, second, upper), scale * at.zoom, seen),
        Pane("top", QRectF(left, top + upper + 20, first, lower), scale * at.zoom, seen),
    ]


def room_for_bars(panes: list[Pane], width: float) -> QRectF:
    """Where axle bars stand beside an opened bay: right of its top view."""
    top = panes[-1].area
    return QRectF(top.right() + 24, top.y(), max(120.0, width - top.right() - 34), top.height())


def bay_box(vehicle: Vehicle, bay: Bay) -> Box:
    """A bay as a box."""
    half = vehicle.width_m / 2
    return Box((bay.start_m, -half, bay.bottom_m), (bay.end_m, half, bay.top_m))


def door_box(vehicle: Vehicle, bay: Bay) -> Box:
    """The clear opening of a bay's door, through the whole width."""
    half = vehicle.width_m / 2
    long = bay.door_m if bay.door_m is not None else bay.end_m - bay.start_m
    high = bay.door_high_m if bay.door_high_m is not None else bay.top_m - bay.bottom_m
    middle = bay.door_x_m if bay.door_x_m is not None else (bay.start_m + bay.end_m) / 2
    sill = bay.door_z_m if bay.door_z_m is not None else bay.bottom_m
    return Box((middle - long / 2, -half, sill), (middle + long / 2, half, sill + high))
