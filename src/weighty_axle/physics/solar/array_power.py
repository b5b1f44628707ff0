"""Greatest power of modules wired together when some of their sections lie in shade."""

from __future__ import annotations

import functools
import itertools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weighty_axle.physics.solar.single_diode import Diode, at, voltages_v

Floats = NDArray[np.float64]
LEVELS = 8
"""Shade of a section is counted in so many steps."""
BYPASS_V = 0.5
"""Forward voltage of a bypass diode. Source: common practice, no source."""
_CURRENTS = 96
_UNDER_BEND = 1 - np.geomspace(2e-4, 0.3, _CURRENTS // 6)


class SkyLight(NamedTuple):
    """Light on the modules' plane and cell temperature, hour by hour [W/m2, degC]."""

    beam_w_per_m2: Floats
    diffuse_w_per_m2: Floats
    cell_c: Floats


class ModuleKind(NamedTuple):
    """A type of module: the diode of the whole module, and how many sections it has."""

    diode: Diode
    sections: int


def section_curves(
    kinds: Sequence[ModuleKind], *, beam_w_per_m2: float, diffuse_w_per_m2: float, cell_c: float
) -> tuple[Floats, Floats]:
    """Current and voltage of one section of every type for every level of shade, its bypass diode taking over where it
    would go below -0.5 V.

    Parameters: kinds; beam_w_per_m2, diffuse_w_per_m2, cell_c [degC]
    Returns: currents [A], voltages [V] of shape (types x (LEVELS + 1) + 1, currents): the rows `section_rows` tells;
        the last one is of no section at all
    Source: single-diode equation; sections are alike
    """
    whole = beam_w_per_m2 + diffuse_w_per_m2
    shares = [(diffuse_w_per_m2 + beam_w_per_m2 * (1 - level / LEVELS)) / whole for level in range(LEVELS + 1)]
    tops = [at(kind.diode, irradiance_w_per_m2=whole, cell_c=cell_c).photocurrent_a for kind in kinds]
    # Currents lie closer where curves bend: under the light current of every level of every type.
    bends = [top * share * _UNDER_BEND for top in tops for share in shares]
    amps = np.unique(np.concatenate([np.linspace(0, max(tops), _CURRENTS // 4), *bends]))
    volts = np.zeros((len(kinds) * (LEVELS + 1) + 1, len(amps)))
    for row, (kind, share) in enumerate(itertools.product(kinds, shares)):
        volts[row] = voltages_v(at(kind.diode, irradiance_w_per_m2=whole * share, cell_c=cell_c), amps) / kind.sections
    return amps, np.maximum(volts, -BYPASS_V)


def section_rows(
    kinds: Sequence[ModuleKind], kind_of: NDArray[np.int64], levels: NDArray[np.int64]
) -> NDArray[np.int64]:
    """Row of `section_curves` of every section.

    Parameters: kinds; kind_of - type of every module, shape (modules,); levels - shape (..., modules, sections of the
        type that has most), 0 to LEVELS
    Returns: shape of levels; sections a module does not have get the row of none
    Source: counting
    """
    rows: NDArray[np.int64] = kind_of[:, None] * (LEVELS + 1) + levels
    sections = np.array([kind.sections for kind in kinds])[kind_of]
    missing = np.arange(levels.shape[-1]) >= sections[:, None]
    return np.where(missing, len(kinds) * (LEVELS + 1), rows)


def greatest_power_w(amps: Floats, volts: Floats, groups: Sequence[Sequence[NDArray[np.int64]]]) -> float:
    """Greatest power of groups on a controller each: strings in parallel within a group, sections in series within a
    string.

    Parameters: amps - shape (currents,) [A]; volts - per row [V]; groups - per controller, per string the row of every
        section
    Returns: power [W]
    Source: Kirchhoff's laws: one current in a string, one voltage across strings side by side; a string alone feeds
        nothing back
    """
    total = 0.0
    for strings in groups:
        curves = [volts.T @ np.bincount(rows, minlength=len(volts)) for rows in strings]
        if len(curves) == 1:
            total += float((curves[0] * amps).max())
        elif curves:
            top = max(float(curve[0]) for curve in curves)
            across = np.linspace(0.02 * top, top, 4 * _CURRENTS)
            # Voltage falls as current rises; a string whose open voltage is below the bus gives nothing.
            current = sum(
                (np.interp(across, curve[::-1], amps[::-1], right=0.0) for curve in curves), np.zeros_like(across)
            )
            total += float((across * current).max())
    return total


@functools.lru_cache(maxsize=1024)
def _curves_near(kinds: tuple[ModuleKind, ...], light: tuple[int, int, int]) -> tuple[Floats, Floats]:
    """Curves at a step of 8 W/m2 of beam, 4 of diffuse light and 2 K; the same ones serve every heading of the
    vehicle.
    """
    return section_curves(
        kinds, beam_w_per_m2=light[0] * 8.0, diffuse_w_per_m2=max(1.0, light[1] * 4.0), cell_c=light[2] * 2.0
    )


def year_of_power_w(
    kinds: Sequence[ModuleKind],
    kind_of: NDArray[np.int64],
    sky: SkyLight,
    levels: NDArray[np.int64],
    wirings: Sequence[Sequence[Sequence[Sequence[int]]]],
) -> Floats:
    """Greatest power of every wiring in every hour.

    Hours of the same shade, and light and warmth within a percent or so, are solved once.

    Parameters: kinds; kind_of - type of every module; sky; levels - shape (hours, modules, sections), 0 to LEVELS;
        wirings - controllers of strings of modules
    Returns: shape (wirings, hours) [W]
    Source: single-diode equation and Kirchhoff's laws
    """
    powers = np.zeros((len(wirings), len(sky.beam_w_per_m2)))
    rows = section_rows(kinds, kind_of, levels)
    solved: dict[tuple[tuple[int, int, int], bytes], list[float]] = {}
    for hour in range(len(sky.beam_w_per_m2)):
        beam, diffuse = float(sky.beam_w_per_m2[hour]), float(sky.diffuse_w_per_m2[hour])
        if beam + diffuse < 5:
            continue
        light = (round(beam / 8), round(diffuse / 4), round(float(sky.cell_c[hour]) / 2))
        key = (light, rows[hour].tobytes())
        if key not in solved:
            amps, volts = _curves_near(tuple(kinds), light)
            solved[key] = [
                greatest_power_w(
                    amps, volts, [[rows[hour, list(string)].ravel() for string in strings] for strings in wiring]
                )
                for wiring in wirings
            ]
        powers[:, hour] = solved[key]
    return powers
