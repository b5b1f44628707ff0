"""Where a new thing stands until it is placed: free room beside the house board."""

from __future__ import annotations

from weighty_axle.job.models.document import Job, items
from weighty_axle.job.stated import Place, Size

_STEP_M = 0.1


def beside_board(job: Job, size: Size) -> Place:
    """The nearest place along the vehicle, in line with the house board, where a box stands in nothing else.

    Where there is none within the body, the board's own place: a finding says so then.
    """
    board, taken = job.wiring.board, items(job)
    half = size.length_m / 2
    for steps in range(1, 200):
        for way in (1, -1):
            x_m = round(board.place.x_m + way * steps * _STEP_M, 3)
            if half <= x_m <= job.vehicle.length_m - half:
                at = Place(x_m=x_m, y_m=board.place.y_m, z_m=board.place.z_m)
                if not any(_meets(at, size, one.place, one.size) for one in taken):
                    return at
    return board.place


def _meets(one: Place, size: Size, other: Place, its: Size) -> bool:
    return (
        abs(one.x_m - other.x_m) < (size.length_m + its.length_m) / 2
        and abs(one.y_m - other.y_m) < (size.width_m + its.width_m) / 2
        and one.z_m < other.z_m + its.height_m
        and other.z_m < one.z_m + size.height_m
    )
