"""The 24 hours across a ribbon: where a minute lies, and what the ticks say."""

from __future__ import annotations

import math

from weighty_axle.design.brief.day import clock

LABELS, END = 250, 10


class Hours:
    """The stretch of the day on show and where it ends on screen, shared by ribbons and silhouette so that hours stand
    under hours.
    """

    def __init__(self) -> None:
        self.first_min, self.last_min = 0.0, 1440.0
        self.right_px = LABELS + 400.0

    def x(self, minute: float) -> float:
        """Pixel of a minute."""
        return LABELS + (self.right_px - LABELS) * (minute - self.first_min) / (self.last_min - self.first_min)

    def minute(self, x: float) -> float:
        """Minute under a pixel."""
        return self.first_min + (x - LABELS) / max(1.0, self.right_px - LABELS) * (self.last_min - self.first_min)

    def zoom(self, factor: float, about_min: float) -> None:
        """Show a shorter (factor under 1) or longer stretch about a minute; at least an hour, at most the day."""
        length = max(60.0, min(1440.0, (self.last_min - self.first_min) * factor))
        share = (about_min - self.first_min) / (self.last_min - self.first_min)
        self.first_min = max(0.0, min(1440.0 - length, about_min - share * length))
        self.last_min = self.first_min + length

    def ticks(self) -> range:
        """Minutes that get a mark: every 3 hours of a day, closer when zoomed in."""
        length = self.last_min - self.first_min
        step = 180 if length > 900 else 60 if length > 300 else 15
        return range(math.ceil(self.first_min / step) * step, int(self.last_min) + 1, step)


def tick_words(minute: int, hours: Hours) -> str:
    """What stands under a tick."""
    return f"{minute // 60:02d}" if hours.last_min - hours.first_min > 300 else clock(minute)
