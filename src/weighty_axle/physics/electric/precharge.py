"""Filling the capacitors of inverters: through a resistor first, and what is left when the contact closes."""

from __future__ import annotations

import cmath
import math
from typing import NamedTuple

FILLED_SHARE = 0.95
"""Share of the source's voltage at which capacitors count as filled. Source: common practice, no source."""


class Filling(NamedTuple):
    """A capacitor filled through a resistor, with a load that starts on the way.

    `ends_v` is where it would end, `pinned` whether the starting load holds it there; `to_start_s` is when the load
    starts (inf: never).
    """

    source_v: float
    ohm: float
    farad: float
    load_w: float
    load_a: float
    starts_v: float
    ends_v: float
    pinned: bool
    to_start_s: float

    def voltage(self, at_s: float) -> float:
        """Voltage of the capacitor at a time [V]."""
        if at_s <= self.to_start_s:
            return self.source_v * -math.expm1(-at_s / (self.ohm * self.farad))
        if self.pinned:
            return self.starts_v
        return self._after(at_s - self.to_start_s)

    def time_to(self, volts: float) -> float:
        """When the capacitor reaches a voltage [s]; infinite where it never does."""
        tau = self.ohm * self.farad
        before = min(volts, self.starts_v)
        if before >= self.source_v:
            return math.inf
        first = -tau * math.log1p(-before / self.source_v)
        if volts <= self.starts_v:
            return first
        if self.pinned or volts >= self.ends_v:
            return math.inf
        return first + self._between(volts)

    def resistor_j(self, at_s: float) -> float:
        """Energy that the resistor has turned into heat by a time [J]: what the source gave, less what is stored and
        what the load took.
        """
        volts = self.voltage(at_s)
        stored = self.farad * volts**2 / 2
        given = self.source_v * self.farad * volts
        after = at_s - self.to_start_s
        if after <= 0:
            return given - stored
        if self.pinned:  # from then on the load takes, in turns, all that comes
            return given - stored + after * (self.source_v - volts) ** 2 / self.ohm
        taken_w, through_c = self._taken(after, volts)
        return given - stored + self.source_v * through_c - taken_w

    def _roots(self) -> tuple[float, float]:
        """The two voltages at which the resistor gives what a load of constant power takes."""
        root = math.sqrt(self.source_v**2 - 4 * self.load_w * self.ohm)
        return (self.source_v + root) / 2, (self.source_v - root) / 2

    def _between(self, volts: float) -> float:
        """Time from where the load starts to a voltage beyond."""
        tau, start = self.ohm * self.farad, self.starts_v
        if not self.load_w:
            return -tau * math.log((self.ends_v - volts) / (self.ends_v - start))
        high, low = self._roots()
        part = tau / (high - low)
        return part * (
            -high * math.log((high - volts) / (high - start)) + low * math.log((volts - low) / (start - low))
        )

    def _after(self, after_s: float) -> float:
        """Voltage so long after the load has started."""
        tau = self.ohm * self.farad
        if not self.load_w:
            return self.ends_v - (self.ends_v - self.starts_v) * math.exp(-after_s / tau)
        low, high = self.starts_v, self.ends_v
        for _ in range(80):
            middle = (low + high) / 2
            if middle in (low, high):
                break
            if self._between(middle) < after_s:
                low = middle
            else:
                high = middle
        return (low + high) / 2

    def _taken(self, after_s: float, volts: float) -> tuple[float, float]:
        """Energy the load took [J], and the charge that went through it [C], since it started."""
        if not self.load_w:
            # Voltage settles exponentially: its mean over the time by the charge that came.
            tau = self.ohm * self.farad
            mean = self.ends_v * after_s + (self.starts_v - self.ends_v) * tau * -math.expm1(-after_s / tau)
            return self.load_a * mean, self.load_a * after_s
        high, low = self._roots()
        start = self.starts_v
        if volts >= high * (1 - 1e-12):
            volts = high * (1 - 1e-12)
        ratio = (high - volts) / (volts - low) * (start - low) / (high - start)
        charge = -self.load_w * self.ohm * self.farad / (high - low) * math.log(ratio)
        # What goes on at the end voltage once it has settled.
        settled = after_s - self._between(volts)
        return self.load_w * after_s, charge + max(0.0, settled) * self.load_w / high


def filling(
    *, source_v: float, ohm: float, farad: float, load_w: float = 0.0, load_a: float = 0.0, starts_v: float = 0.0
) -> Filling:
    """A capacitor filled from empty through a resistor; a load of constant power or constant current starts at a
    voltage, and stops again under it.

    Before the load starts: an exponential. After it: with a constant power C dv/dt = (E - v)/R - P/v, whose time has a
    closed form by its two equilibria (E ± sqrt(E² - 4 P R))/2; started under the lower one, or with none, the load
    takes more than comes and pins the voltage where it starts. With a constant current: an exponential towards E - I R,
    pinned likewise where that is under the start.

    Parameters: source_v [V]; ohm [ohm] - resistor; farad [F]; load_w [W]; load_a [A]; starts_v [V]
    Returns: Filling
    Raises: ValueError for a source, resistor or capacitor that is not positive, or a load of both kinds
    Source: textbook relation (first-order circuits; separation of variables)
    """
    if not (source_v > 0 and ohm > 0 and farad > 0):
        raise ValueError("source, resistor and capacitor must be positive")
    if load_w and load_a:
        raise ValueError("a load takes constant power or constant current, not both")
    asks = bool(load_w or load_a) and starts_v < source_v
    tau = ohm * farad
    to_start = -tau * math.log1p(-starts_v / source_v) if asks else math.inf
    if not asks:
        return Filling(source_v, ohm, farad, 0.0, 0.0, source_v, source_v, False, math.inf)
    if load_a:
        ends = source_v - load_a * ohm
        pinned = ends <= starts_v
    else:
        root = source_v**2 - 4 * load_w * ohm
        ends = (source_v + math.sqrt(root)) / 2 if root > 0 else 0.0
        pinned = root <= 0 or not (source_v - math.sqrt(root)) / 2 < starts_v < ends
    return Filling(source_v, ohm, farad, load_w, load_a, starts_v, starts_v if pinned else ends, pinned, to_start)


class Inrush(NamedTuple):
    """What closing onto a capacitor does: largest current, when, and the highest voltage the capacitor then sees."""

    peak_a: float
    at_s: float
    highest_v: float


def inrush(*, source_v: float, ohm: float, henry: float, farad: float, from_v: float) -> Inrush:
    """A contact closing: resistance, inductance and capacitor in series, the capacitor at a voltage already.

    Parameters: source_v [V]; ohm [ohm]; henry [H] - of the loop; farad [F]; from_v [V] - of the capacitor before
    Returns: Inrush
    Raises: ValueError for a resistance, inductance or capacitor that is not positive
    Source: textbook relation (series RLC circuit, step response)
    """
    if not (ohm > 0 and henry > 0 and farad > 0):
        raise ValueError("resistance, inductance and capacitor must be positive")
    step, alpha, omega2 = source_v - from_v, ohm / (2 * henry), 1 / (henry * farad)
    if abs(alpha**2 / omega2 - 1) < 1e-9:
        at_s = 1 / alpha
        return Inrush(abs(step) / henry * at_s * math.exp(-1), at_s, max(source_v, from_v))
    if alpha**2 < omega2:
        ringing = math.sqrt(omega2 - alpha**2)
        at_s = math.atan2(ringing, alpha) / ringing
        peak = abs(step) / (ringing * henry) * math.exp(-alpha * at_s) * math.sin(ringing * at_s)
        return Inrush(peak, at_s, max(from_v, source_v + step * math.exp(-alpha * math.pi / ringing)))
    apart = math.sqrt(alpha**2 - omega2)
    slow = omega2 / (alpha + apart)  # not alpha - apart: that loses its digits
    fast = alpha + apart
    at_s = math.log(fast / slow) / (fast - slow)
    peak = abs(step) / henry * (math.exp(-slow * at_s) - math.exp(-fast * at_s)) / (fast - slow)
    return Inrush(peak, at_s, max(source_v, from_v))


def after_closing(
    *, source_v: float, ohm: float, henry: float, farad: float, from_v: float, at_s: float
) -> tuple[float, float]:
    """Current, and voltage of the capacitor, a time after a contact closed onto it.

    Parameters: source_v [V]; ohm [ohm]; henry [H]; farad [F]; from_v [V] - of the capacitor before; at_s [s]
    Returns: current [A] and voltage [V]
    Raises: ValueError for a resistance, inductance or capacitor that is not positive
    Source: textbook relation (series RLC circuit, step response by its two complex rates)
    """
    if not (ohm > 0 and henry > 0 and farad > 0):
        raise ValueError("resistance, inductance and capacitor must be positive")
    alpha = ohm / (2 * henry)
    # A hair off critical damping, where the two rates would be one: no digit that is shown changes.
    apart = cmath.sqrt(complex(alpha**2 * (1 + 1e-12) - 1 / (henry * farad)))
    fast, slow = -alpha - apart, -alpha + apart
    step = source_v - from_v
    one, other = cmath.exp(slow * at_s), cmath.exp(fast * at_s)
    amps = step / henry * ((one - other) / (slow - fast)).real
    volts = source_v - step * ((slow * other - fast * one) / (slow - fast)).real
    return amps, volts
