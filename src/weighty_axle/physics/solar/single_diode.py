"""The single-diode model of a module: fitted to its datasheet, and its curve under any light."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

Floats = NDArray[np.float64]
_BAND_GAP_EV, _BOLTZMANN_EV = 1.121, 8.617333262e-5
_BAND_GAP_PER_C = -0.0002677
_REFERENCE_K = 298.15


class FitError(ValueError):
    """A datasheet no single diode fits; the message is a sentence."""


class Diode(NamedTuple):
    """Parameters at 1000 W/m2 and 25 degC: photocurrent [A], saturation current [A], n Ns kT/q [V], series and shunt
    resistance [ohm], dIsc/dT [A/K].
    """

    photocurrent_a: float
    saturation_a: float
    nnsvth_v: float
    series_ohm: float
    shunt_ohm: float
    isc_a_per_c: float


def fit(*, voc_v: float, isc_a: float, vmp_v: float, imp_a: float, voc_per_c: float, isc_per_c: float) -> Diode:
    """Five parameters from five conditions: short circuit, open circuit, the peak point, its slope, and the
    open-circuit voltage 10 K warmer.

    Parameters: voc_v [V], isc_a [A], vmp_v [V], imp_a [A], voc_per_c [1/K], isc_per_c [1/K]
    Returns: Diode
    Raises: FitError when no start converges
    Source: De Soto 2006 (the conditions solved directly, from several starts)
    """
    from scipy.optimize import root

    warm_k = _REFERENCE_K + 10
    warm_voc = voc_v * (1 + voc_per_c * 10)

    def spread(x: NDArray[np.float64]) -> tuple[float, float, float, float, float]:
        slope, series, shunt = (
            math.exp(min(max(float(one), low), high))
            for one, low, high in zip(x, (-3, -14, -2), (4, 3, 15), strict=True)
        )
        # Short circuit and open circuit give the light and saturation currents in closed form.
        at_short = math.exp(min((isc_a * series - voc_v) / slope, -1e-9))
        base = isc_a + (isc_a * series - voc_v) / shunt
        saturation = base * math.exp(-voc_v / slope) / (1 - at_short)
        return saturation * math.expm1(min(voc_v / slope, 300)) + voc_v / shunt, saturation, slope, series, shunt

    def missed(x: NDArray[np.float64]) -> list[float]:
        light, saturation, slope, series, shunt = spread(x)
        inner = vmp_v + imp_a * series
        current = light - saturation * math.expm1(min(inner / slope, 300)) - inner / shunt
        steep = saturation / slope * math.exp(min(inner / slope, 300)) + 1 / shunt
        peak = imp_a - vmp_v * steep / (1 + series * steep)
        warm_slope, warm_saturation = slope * warm_k / _REFERENCE_K, saturation * _saturation_factor(warm_k)
        warm_light = light + isc_a * isc_per_c * 10
        warm = warm_light - warm_saturation * math.expm1(min(warm_voc / warm_slope, 300)) - warm_voc / shunt
        return [(current - imp_a) / isc_a, peak / isc_a, warm / isc_a]

    with np.errstate(all="ignore"):
        for ideality in (1.1, 1.0, 1.3, 0.9, 1.6):
            for series_share, shunt_times in ((0.25, 50.0), (0.1, 200.0), (0.5, 20.0), (0.02, 1000.0)):
                cells = max(1.0, voc_v / 0.64)
                start = np.log(
                    [
                        ideality * cells * _BOLTZMANN_EV * _REFERENCE_K,
                        series_share * (voc_v - vmp_v) / imp_a,
                        shunt_times * voc_v / isc_a,
                    ]
                )
                found = root(missed, start, method="hybr")
                if found.success and max(map(abs, missed(found.x))) < 1e-6:
                    made = Diode(*spread(found.x), isc_a * isc_per_c)
                    if made.saturation_a > 0 and made.shunt_ohm < 1e8:
                        return made
    return _without_warmth(voc_v, isc_a, vmp_v, imp_a, isc_per_c)


def _without_warmth(voc_v: float, isc_a: float, vmp_v: float, imp_a: float, isc_per_c: float) -> Diode:
    """Where the temperature condition cannot be met: the slope of an ordinary cell, a shunt large enough, and the
    series resistance that meets the peak power.
    """
    from scipy.optimize import brentq

    best: tuple[float, Diode] | None = None
    for step in range(29):
        slope = (0.6 + 0.05 * step) * voc_v / 0.64 * _BOLTZMANN_EV * _REFERENCE_K

        def made(series: float, slope: float = slope) -> Diode:
            shunt = 500 * voc_v / isc_a
            base = isc_a + (isc_a * series - voc_v) / shunt
            saturation = base * math.exp(-voc_v / slope) / (1 - math.exp((isc_a * series - voc_v) / slope))
            return Diode(
                saturation * math.expm1(voc_v / slope) + voc_v / shunt,
                saturation,
                slope,
                series,
                shunt,
                isc_a * isc_per_c,
            )

        def over(series: float, made: object = made) -> float:
            diode = made(series)  # type: ignore[operator]  # the function above
            volts, amps = peak(diode)
            return volts * amps - vmp_v * imp_a

        try:
            series = float(brentq(over, 1e-6, 0.95 * (voc_v - vmp_v) / imp_a))
        except ValueError:
            continue
        diode = made(series)
        off = abs(peak(diode)[0] / vmp_v - 1)
        if best is None or off < best[0]:
            best = (off, diode)
    if best is None or best[0] > 0.05:
        raise FitError(
            f"no single diode goes through Voc {voc_v:g} V, Isc {isc_a:g} A, Vmp {vmp_v:g} V and Imp {imp_a:g} A"
        )
    return best[1]


def _saturation_factor(kelvin: float) -> float:
    """Saturation current over its value at 25 degC."""
    gap = _BAND_GAP_EV * (1 + _BAND_GAP_PER_C * (kelvin - _REFERENCE_K))
    return (kelvin / _REFERENCE_K) ** 3 * math.exp(
        _BAND_GAP_EV / (_BOLTZMANN_EV * _REFERENCE_K) - gap / (_BOLTZMANN_EV * kelvin)
    )


def at(diode: Diode, *, irradiance_w_per_m2: float, cell_c: float) -> Diode:
    """The parameters under other light and warmth; the shunt is kept large in the dark as the light current falls.

    Parameters: diode, irradiance_w_per_m2, cell_c [degC]
    Returns: Diode
    Source: De Soto 2006
    """
    kelvin, share = cell_c + 273.15, max(irradiance_w_per_m2, 1e-3) / 1000
    return Diode(
        share * (diode.photocurrent_a + diode.isc_a_per_c * (cell_c - 25)),
        diode.saturation_a * _saturation_factor(kelvin),
        diode.nnsvth_v * kelvin / _REFERENCE_K,
        diode.series_ohm,
        diode.shunt_ohm / share,
        diode.isc_a_per_c * share,
    )


def voltages_v(diode: Diode, amps: ArrayLike) -> Floats:
    """Voltage at given currents, by Newton's method on the diode's own voltage; falls below zero beyond the light
    current.

    Parameters: diode, amps [A]
    Returns: voltage [V]
    Raises: ValueError when the iteration does not settle
    Source: single-diode equation
    """
    current = np.asarray(amps, dtype=np.float64)
    left = diode.photocurrent_a - current
    inner = np.where(
        left > 0, diode.nnsvth_v * np.log1p(np.maximum(left, 0) / diode.saturation_a), left * diode.shunt_ohm
    )
    for _ in range(60):
        grown = diode.saturation_a * np.exp(np.minimum(inner / diode.nnsvth_v, 200))
        step = (grown - diode.saturation_a + inner / diode.shunt_ohm - left) / (
            grown / diode.nnsvth_v + 1 / diode.shunt_ohm
        )
        inner = inner - step
        if np.max(np.abs(step)) < 1e-10 * diode.nnsvth_v:
            break
    else:
        raise ValueError(
            f"the diode's voltage did not settle in 60 rounds: {float(np.max(np.abs(step))):.3g} V are left"
        )
    made: Floats = inner - current * diode.series_ohm
    return made


def peak(diode: Diode) -> tuple[float, float]:
    """Voltage and current at the greatest power.

    Parameters: diode
    Returns: voltage [V], current [A]
    Source: single-diode equation
    """

    def power(inner: float) -> tuple[float, float, float]:
        amps = diode.photocurrent_a - diode.saturation_a * math.expm1(inner / diode.nnsvth_v) - inner / diode.shunt_ohm
        volts = inner - amps * diode.series_ohm
        return volts * amps, volts, amps

    # Golden section on the diode's own voltage, in which current and voltage are explicit.
    low, high, ratio = 0.0, diode.nnsvth_v * math.log1p(diode.photocurrent_a / diode.saturation_a), (5**0.5 - 1) / 2
    a, b = high - ratio * (high - low), low + ratio * (high - low)
    power_a, power_b = power(a), power(b)
    while high - low > 1e-10 * diode.nnsvth_v:
        if power_a[0] > power_b[0]:
            high, b, power_b = b, a, power_a
            a = high - ratio * (high - low)
            power_a = power(a)
        else:
            low, a, power_a = a, b, power_b
            b = low + ratio * (high - low)
            power_b = power(b)
    return power_a[1], power_a[2]
