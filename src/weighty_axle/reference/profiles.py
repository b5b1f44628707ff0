"""What units are told of a battery beside its voltages, by chemistry: profile, times, compensation, monitor."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.job.models.bank import Chemistry
from weighty_axle.job.models.settings import FullCharge


class Profile(NamedTuple):
    """Profile as units name it, longest absorption [min], compensation of a cell [mV/K], and what the monitor counts
    with: charge efficiency [%], exponent, time at the charged voltage [min].

    Source: common practice, no source; compensation of lead-acid cells about -4 mV/K (recalled).
    """

    name: str
    gentle_min: float
    brim_min: float
    compensation_mv_per_k: float
    efficiency_percent: float
    exponent: float
    charged_min: float

    def absorption_min(self, school: FullCharge) -> float:
        """Longest absorption in a school of charging [min]."""
        return self.gentle_min if school == "gentle" else self.brim_min


PROFILES: dict[Chemistry, Profile] = {
    "lfp": Profile("lithium, own values", 60, 30, 0.0, 99, 1.05, 3),
    "nmc": Profile("lithium, own values of its maker", 60, 30, 0.0, 99, 1.05, 3),
    "flooded": Profile("flooded lead-acid", 180, 240, -4.0, 85, 1.25, 3),
    "agm": Profile("sealed lead-acid", 180, 240, -4.0, 90, 1.15, 3),
}
"""Profiles by chemistry. Source: common practice, no source."""

LOW_LINE_V = 160.0
"""Lines under this are of 60 Hz countries, those above of 50 Hz ones: usual, not always so. Source: common practice."""
