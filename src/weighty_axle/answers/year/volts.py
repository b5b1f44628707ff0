"""Voltage of the bank through a year."""

from __future__ import annotations

import numpy as np

from weighty_axle.answers.year.lived import Lived
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Floats
from weighty_axle.reference.tables import open_circuit


def bank_v(year: Lived, steps: slice) -> Floats:
    """Mean voltage of the bank's terminals in some steps [V]: at rest by its charge, and what its resistance adds or
    takes; held between what it is cut out and charged at.

    Source: rest voltages of reference/open_circuit.json; Ohm's law.
    """
    design, series = year.design, year.series[steps]
    spec, p = design.job.bank.spec, year.inputs.candidate
    curve = next(row for row in open_circuit().rows if row.chemistry == spec.chemistry)
    cells = p[at.VOLTS] / spec.cell_nominal_v
    rest = cells * np.interp(series[:, at.STORED_WH] / p[at.FULL_WH], curve.soc, curve.cell_v)
    into = series[:, at.SHORE_W : at.SHORE_W + at.KINDS].sum(axis=1) + series[:, at.UNMET_W]
    net = into - series[:, (at.LOAD_W, at.LOSS_W, at.OWN_USED_W, at.HEATER_W)].sum(axis=1)
    made: Floats = np.clip(rest + net / p[at.VOLTS] * p[at.OHM], cells * spec.cell_min_v, cells * spec.cell_max_v)
    return made
