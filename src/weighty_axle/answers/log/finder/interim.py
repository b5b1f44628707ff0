"""What makes it safe until it is mended: computed limits, with their working."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.answers.log.finder.finder import Hunt, Suspect
from weighty_axle.answers.log.finder.measure import Measure
from weighty_axle.answers.proving.trials import trials
from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.units import show

ALLOWED_JOINT_W = 10.0
"""Heat a joint may make for good: a lug on its bar stays under some 30 K with it. Source: common practice, no
source.
"""
USUAL_BAD_OHM = 0.0015
"""What a bad joint adds where nobody has measured it. Source: common practice, no source."""


class Repair(Struct, frozen=True, kw_only=True):
    """What follows from a cause: what to do until it is mended, with the figures of it; how it is mended, with what,
    and the tests that prove it with what they must read.
    """

    interim: str
    figures: tuple[Figure, ...]
    mend: str
    parts: str
    proof: tuple[str, ...]


def repair(design: Design, hunt: Hunt, suspect: Suspect, known: dict[str, Measure]) -> Repair:
    """Interim measure, repair and proof of a suspect.

    Source: joint heat = current² × resistance; common practice, no source (limits).
    """
    words, figures = _interim(design, hunt, suspect, known)
    return Repair(
        interim=words,
        figures=figures,
        mend=suspect.cause.mend.format(p=suspect.place),
        parts=suspect.cause.parts,
        proof=tuple(_proof(design, suspect)),
    )


def _proof(design: Design, suspect: Suspect) -> list[str]:
    keys = {one.format(p=suspect.place) for one in suspect.cause.proof}
    found = []
    for one in trials(design):
        if one.key in keys:
            band = ""
            if one.low is not None and one.high is not None:
                band = f": {one.low:.4g} to {one.high:.4g} {one.unit}"
            found.append(f"{one.words}{band} (step Tests, {one.key})")
    return found or ["The same measurement again, under the same load, reads sound."]


def _interim(design: Design, hunt: Hunt, suspect: Suspect, known: dict[str, Measure]) -> tuple[str, tuple[Figure, ...]]:
    kind, place = suspect.cause.interim, suspect.place
    if kind == "joint":
        return _joint(design, hunt, place, known)
    if kind == "pack":
        return _pack(design, place)
    plain = {
        "unit": f"Switch {place} off and take its load off; what hangs behind it stays off.",
        "string": f"Open the isolator of {place} and leave it open; the others go on.",
        "source": f"Do not plug in at {place}; the bank alone carries "
        f"{show(design.bank.days.value, design.bank.days.unit)}.",
        "voltage": f"Switch {place} off. Other chargers may go on as long as none holds more than "
        f"{design.bank.max_v.value:.1f} V.",
        "engine": "Do not count on the engine: charge from the sun or a source outside.",
        "off": "Leave the main switch off until it is mended.",
        "open": f"Leave the breaker of {place} off.",
        "standing": "Main switch off while it stands; by day it may run.",
        "closing": "Leave the main switch as it is, and close it as seldom as can be: each time pits its contacts.",
        "unknown": "Nobody knows yet what it is: off at the packs if anything is hot or smells, else watched.",
        "none": "Nothing burns of it: it can wait for the repair.",
    }
    return plain[kind], ()


def _joint(design: Design, hunt: Hunt, way: str, known: dict[str, Measure]) -> tuple[str, tuple[Figure, ...]]:
    """Limit the current so that the joint stays under the heat it may make."""
    extra = _extra_ohm(hunt, way, known)
    measured = extra is not None
    ohm = Given("Beyond what its parts have", extra if extra is not None else USUAL_BAD_OHM, "ohm")
    limit = Figure(
        name=f"{way}: at most, until it is mended",
        value=math.sqrt(ALLOWED_JOINT_W / ohm.value),
        unit="A",
        formula="√(heat a joint may make / resistance)",
        inputs=(Given("Heat a joint may make", ALLOWED_JOINT_W, "W"), ohm),
        source="joint heat = current² × resistance; 10 W common practice, no source",
    )
    nominal = design.bank.nominal_v
    watts = _ac_w(design, limit.value * nominal.value, way)
    on_ac = Figure(
        name="On the AC side then",
        value=watts,
        unit="W",
        formula="limit × bank's voltage, less the inverters' losses",
        inputs=(limit, Given("Bank", nominal.value, "V")),
        source="loss curve of the datasheet",
    )
    heat, inverting = limit.value**2 * ohm.value, bool(design.job.inverters.units)
    on_loads = (
        f"AC loads under {show(watts, 'W')}, " if inverting else f"what it feeds under {show(limit.value, 'A')}, "
    )
    said = "as measured" if measured else "a usual bad joint, not measured yet: measure it first"
    words = (
        f"Keep {way} under {show(limit.value, 'A')} ({ohm.value * 1000:.2f} mΩ too much, {said}: {heat:.0f} W of heat "
        f"there): {on_loads}charge currents together under "
        f"{show(limit.value, 'A')}. A holder that has melted or browned: off until it is renewed."
    )
    return words, (limit, on_ac) if inverting else (limit,)


def _extra_ohm(hunt: Hunt, way: str, known: dict[str, Measure]) -> float | None:
    """What a way has more than it should by the readings typed: the largest over any stretch of it [ohm]."""
    found = []
    for key, answer in hunt.reading_of.items():
        measure = known.get(key)
        if measure is None or answer.reading is None or measure.unit != "mV" or not key.endswith(f" {way}"):
            continue
        if measure.amps > 1 and answer.reading > measure.expected:
            found.append((answer.reading - measure.expected) / 1000 / measure.amps)
    return max(found, default=None)


def _ac_w(design: Design, dc_w: float, way: str) -> float:
    """What the inverters can give on the AC side of a power taken through a way [W]."""
    stack = design.job.inverters
    if not stack.units:
        return 0.0
    units = 1 if way in {f"W-{unit.tag}" for unit in stack.units} else len(stack.units)
    curve, each = loss_curve(stack), dc_w / units
    low, high = 0.0, each
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if middle + curve.loss_w(middle) < each else (low, middle)
    return low * units


def _pack(design: Design, place: str) -> tuple[str, tuple[Figure, ...]]:
    """The others carry what the pack did, up to their own limits."""
    spec, count = design.job.bank.spec, len(design.job.bank.packs)
    left = Given("Packs that are left", count - 1, "1")
    out, into = (
        Figure.product(
            name=name,
            unit="A",
            formula="limit of a pack × packs that are left",
            inputs=(Given("Limit of a pack", amps, "A"), left),
            source="datasheet of the pack",
        )
        for name, amps in (("Out of the bank, at most", spec.discharge_a), ("Into the bank, at most", spec.charge_a))
    )
    words = (
        f"Switch {place} off. The other {count - 1} carry {show(out.value, 'A')} out and "
        f"{show(into.value, 'A')} in; set the charge limit so"
    )
    if design.job.inverters.units:
        watts = show(_ac_w(design, out.value * design.bank.nominal_v.value, ""), "W")
        words += f", and keep AC loads under {watts}"
    words += "."
    return words, (out, into)
