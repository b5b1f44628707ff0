"""A recording as columns of this job: units, signs, counters and the clock put right; days and hours by the sun."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weighty_axle.answers.log.expected import ClearSun, clear_sun, modules_of
from weighty_axle.answers.log.recording import Recording
from weighty_axle.answers.log.tidy import unrolled
from weighty_axle.design.table import Design
from weighty_axle.job.models.log import ColumnMap
from weighty_axle.physics.series.lines import line_through
from weighty_axle.reference.quantities import BY_KEY

Floats = NDArray[np.float64]
Days = NDArray[np.int64]

LEAST_SWING_A, OF_FUSE = 5.0, 0.1
"""A day tells a share or a resistance only where currents swing by so much [A], in a small bank by so much of what its
main fuse carries. Source: judgement.
"""

KILO = 1 / 1000
"""Powers that reach a twentieth to one and a half of this share of the most there can be are in kW. Source:
judgement.
"""
FIRST_LIGHT = 0.03
"""A share of the most power at which there is light at all. Source: judgement."""


class Rows:
    """Columns by quantity and tag, in SI units, with what was put right told, and what cannot be told kept."""

    def __init__(self, design: Design, recording: Recording, columns: ColumnMap) -> None:
        self.design, self.recording = design, recording
        self.told: list[str] = []
        self.unknown: list[str] = []
        self.columns: dict[tuple[str, str], Floats] = {}
        self._clear: ClearSun | None = None
        self._set(recording.t_s)
        for one in columns.columns:
            if one.quantity and one.heading in recording.columns:
                values = recording.columns[one.heading].astype(np.float64) * one.scale
                self.columns[one.quantity, one.of] = self._put_right(one.quantity, one.heading, values)
        self._counted()
        self._turned()
        self._set_by_the_sun()

    def _counted(self) -> None:
        """Powers from counted energies, where no power was recorded."""
        apart_h = np.diff(self.t_s, prepend=self.t_s[0]) / 3600
        apart_h[apart_h > 3 * self.recording.step_s / 3600] = np.nan  # nobody knows when within a gap
        for counted, power in (("sun_wh", "sun_w"), ("ac_wh", "ac_w")):
            for tag, energy in self.of(counted).items():
                if (power, tag) not in self.columns:
                    with np.errstate(all="ignore"):
                        self.columns[power, tag] = np.diff(energy, prepend=np.nan) / apart_h

    def _set(self, t_s: Days) -> None:
        """Take moments in UTC as those of the rows; days and hours are the sun's at home."""
        self.t_s = t_s
        self.solar_s = t_s + int(self.design.job.site.longitude_deg * 240)
        self.solar_h = (self.solar_s % 86400) / 3600
        self.day = self.solar_s // 86400
        self.at_day = self.day - self.day[0]
        self.count = int(self.at_day[-1]) + 1
        self.days: Days = self.day[0] + np.arange(self.count)

    def _put_right(self, quantity: str, heading: str, values: Floats) -> Floats:
        """Units that were mistaken, and counters."""
        there = values[np.isfinite(values)]
        if not len(there):
            return values
        if quantity in ("air_c", "cells_c") and float(np.median(there)) > 48 and float(there.max()) > 60:
            self.told.append(f"“{heading}” can only be in °F: it was turned into °C.")
            return (values - 32) / 1.8
        most_w = self.most_w(quantity)
        if most_w and 0.05 * KILO < float(np.percentile(there, 99.5)) / most_w < 1.1 * KILO:
            self.told.append(f"“{heading}” can only be in kW: it was turned into W.")
            return values * 1000
        nominal = self.design.bank.nominal_v.value
        if quantity in ("bank_v", "bar_v", "unit_v") and not 0.5 < float(np.median(there)) / nominal < 1.6:
            self.told.append(
                f"“{heading}” reads {float(np.median(there)):.4g} V on most rows, and the bank has {nominal:.0f} V: "
                "its numbers are of another unit or another place."
            )
        if BY_KEY[quantity].counts:
            return unrolled(values, f"“{heading}”", self.told)
        return values

    def most_w(self, quantity: str) -> float:
        """The most a power can be [W]; 0: not known."""
        stack, roof = self.design.job.inverters, self.design.job.roof
        if quantity == "ac_w":
            return float(stack.spec.continuous_va * len(stack.units))
        if quantity == "sun_w":
            return float(sum(spec.pmp_w for one in roof.controllers for spec in modules_of(self.design, one.tag)))
        return 0.0

    @property
    def least_swing_a(self) -> float:
        """By how much currents must swing to tell a share or a resistance [A]."""
        return min(LEAST_SWING_A, OF_FUSE * self.design.wiring.main.fuse_a.value)

    def _turned(self) -> None:
        """The sign of the bank's current, told by its voltage: into the bank is up."""
        volts, amps = self.get("bank_v"), self.get("bank_a")
        if volts is None or amps is None:
            return
        rise, swing = np.diff(volts), np.diff(amps)
        there = np.isfinite(rise) & np.isfinite(swing) & (np.abs(swing) > self.least_swing_a)
        line = line_through(swing[there], rise[there])
        if line is not None and line.points > 30 and line.slope < -3 * line.slope_error:
            self.columns["bank_a", ""] = -amps
            self.told.append("The bank's current is written with charge negative: its sign was turned.")

    def _set_by_the_sun(self) -> None:
        """A clock that runs an hour or more beside the sun is put right by it: a time zone that was not said."""
        found = self.of("sun_w")
        if not found or self.count < 3:
            return
        slots = (self.t_s % 86400) // 1800
        # From the first light to the last: clouds, and a bank that is full, change what lies between.
        recorded, clear = (
            np.bincount(slots, np.minimum(one, FIRST_LIGHT * float(one.max())), 48)
            for one in (
                np.nan_to_num(np.sum(list(found.values()), axis=0)),
                np.sum(list(self.clear.watts.values()), axis=0),
            )
        )
        alike = np.array([float(np.roll(clear, lag) @ recorded) for lag in range(-24, 24)])
        lag = int(alike.argmax()) - 24
        if abs(lag) >= 2 and alike.max() > 1.05 * alike[24]:
            words = f"{abs(lag) / 2:g} h {'behind' if lag < 0 else 'ahead of'} UTC"
            self.told.append(
                f"By its sun the recording's clock runs {words}: it was moved. Say its time zone, to have it exactly."
            )
            self._set(self.t_s - lag * 1800)
            self._clear = None

    def get(self, quantity: str, tag: str = "") -> Floats | None:
        """A column by quantity and tag."""
        return self.columns.get((quantity, tag))

    def of(self, quantity: str) -> dict[str, Floats]:
        """Columns of a quantity by tag."""
        return {tag: values for (key, tag), values in self.columns.items() if key == quantity}

    def need(self, what: str, **wanted: object) -> bool:
        """Whether all that is wanted is there; else what cannot be told is said."""
        missing = [BY_KEY[name].words for name, have in wanted.items() if have is None]
        if missing:
            self.unknown.append(f"{what}: there is no {' and no '.join(missing)}.")
        return not missing

    @property
    def clear(self) -> ClearSun:
        """Sun under a clear sky, worked out once."""
        if self._clear is None:
            self._clear = clear_sun(self.design, self.t_s, self.get("air_c"))
        return self._clear


def spread_by_day(values: Floats, group: Days, groups: int) -> Floats:
    """Standard deviation of values by day; 0 where there are none."""
    with np.errstate(all="ignore"):
        n = np.bincount(group, minlength=groups)
        mean = np.bincount(group, values, groups) / n
        spread: Floats = np.sqrt(np.bincount(group, (values - mean[group]) ** 2, groups) / n)
    return np.nan_to_num(spread)
