"""Greatest power of modules wired together when some of their sections lie in shade."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weighty_axle.physics.single_diode import Diode, at, voltages_v

Floats = NDArray[np.float64]
LEVELS = 8
"""Shade of a section is counted in so many steps."""
BYPASS_V = 0.5
"""Forward voltage of a bypass diode. Source: common practice, no source."""
_CURRENTS = 96


class Sky(NamedTuple):
    """Light on the modules' plane and cell temperature, hour by hour [W/m2, degC]."""

    beam_w_per_m2: Floats
    diffuse_w_per_m2: Floats
    cell_c: Floats


def section_curves(diode: Diode, sections: int, *, beam_w_per_m2: float, diffuse_w_per_m2: float, cell_c: float) -> tuple[Floats, Floats]:
    """Current and voltage of one section for every level of shade, its bypass diode taking over where it would go below -0.5 V.

    Parameters: diode - of the whole module; sections [1]; beam_w_per_m2, diffuse_w_per_m2, cell_c [degC]
    Returns: currents [A], voltages of shape (LEVELS + 1, currents) [V]
    Source: single-diode equation; sections are alike
    """
    whole = beam_w_per_m2 + diffuse_w_per_m2
    brightest = at(diode, irradiance_w_per_m2=whole, cell_c=cell_c)
    # Currents lie closer where curves bend: under the light current of every level.
    lights = [brightest.light_a * (diffuse_w_per_m2 + beam_w_per_m2 * (1 - level / LEVELS)) / whole for level in range(LEVELS + 1)]
    bends = [one * (1 - np.geomspace(2e-4, 0.3, _CURRENTS // 6)) for one in lights]
    amps = np.unique(np.concatenate([np.linspace(0, brightest.light_a, _CURRENTS // 4), *bends]))
    volts = np.empty((LEVELS + 1, len(amps)))
    for level in range(LEVELS + 1):
        light = diffuse_w_per_m2 + beam_w_per_m2 * (1 - level / LEVELS)
        volts[level] = voltages_v(at(diode, irradiance_w_per_m2=light, cell_c=cell_c), amps) / sections
    return amps, np.maximum(volts, -BYPASS_V)


def greatest_power_w(amps: Floats, volts: Floats, groups: Sequence[Sequence[NDArray[np.int64]]]) -> float:
    """Greatest power of groups on a controller each: strings in parallel within a group, sections in series within a string.

    Parameters: amps - shape (currents,) [A]; volts - per level of shade [V]; groups - per controller, per string the level of every section
    Returns: power [W]
    Source: Kirchhoff's laws: one current in a string, one voltage across strings side by side; a string alone feeds nothing back
    """
    total = 0.0
    for strings in groups:
        curves = [volts.T @ np.bincount(levels, minlength=len(volts)) for levels in strings]
        if len(curves) == 1:
            total += float((curves[0] * amps).max())
        elif curves:
            top = max(float(curve[0]) for curve in curves)
            across = np.linspace(0.02 * top, top, 4 * _CURRENTS)
            # Voltage falls as current rises; a string whose open voltage is below the bus gives nothing.
            current = sum((np.interp(across, curve[::-1], amps[::-1], right=0.0) for curve in curves), np.zeros_like(across))
            total += float((across * current).max())
    return total


def year_of_power_w(diode: Diode, sections: int, sky: Sky, levels: NDArray[np.int64], wirings: Sequence[Sequence[Sequence[Sequence[int]]]]) -> Floats:
    """Greatest power of every wiring in every hour.

    Hours of the same shade, and light and warmth within a percent or so, are solved once.

    Parameters: diode; sections [1] - of a module; sky; levels - shape (hours, modules, sections), 0 to LEVELS; wirings - controllers of strings of modules
    Returns: shape (wirings, hours) [W]
    Source: single-diode equation and Kirchhoff's laws
    """
    powers = np.zeros((len(wirings), len(sky.beam_w_per_m2)))
    curves: dict[tuple[int, int, int], tuple[Floats, Floats]] = {}
    solved: dict[tuple[tuple[int, int, int], bytes], list[float]] = {}
    for hour in range(len(sky.beam_w_per_m2)):
        beam, diffuse = float(sky.beam_w_per_m2[hour]), float(sky.diffuse_w_per_m2[hour])
        if beam + diffuse < 5:
            continue
        light = (round(beam / 8), round(diffuse / 4), round(float(sky.cell_c[hour]) / 2))
        key = (light, levels[hour].tobytes())
        if key not in solved:
            if light not in curves:
                curves[light] = section_curves(
                    diode, sections, beam_w_per_m2=light[0] * 8.0, diffuse_w_per_m2=max(1.0, light[1] * 4.0), cell_c=light[2] * 2.0
                )
            amps, volts = curves[light]
            solved[key] = [
                greatest_power_w(amps, volts, [[levels[hour, list(string)].ravel() for string in strings] for strings in wiring])
                for wiring in wirings
            ]
        powers[:, hour] = solved[key]
    return powers
