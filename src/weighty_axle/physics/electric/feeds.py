"""Constant powers on one shared cable: each sees the voltage the others leave it."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.physics.electric.batteries import VoltageCollapseError, current_for_power


class Branch(NamedTuple):
    """One device on a shared cable: the power it takes [W], the loop of its own lead [ohm], the most it draws [A]."""

    power_w: float
    loop_ohm: float
    most_a: float


class Fed(NamedTuple):
    """What flows into each device [A], the voltage where the shared cable ends [V], and at each device [V]."""

    amps: tuple[float, ...]
    common_v: float
    device_v: tuple[float, ...]


def shared_feed(*, source_v: float, shared_ohm: float, branches: tuple[Branch, ...]) -> Fed:
    """Currents into devices of constant power behind a shared cable and a lead each.

    Starts from no drop and lets currents and drop follow one another until they settle (bounded).

    Parameters: source_v [V]; shared_ohm [ohm] - out and back; branches - the devices
    Returns: Fed
    Raises: VoltageCollapseError when the cable cannot carry the power
    Source: textbook relations (Ohm's and Kirchhoff's laws)
    """
    common_v, amps = source_v, tuple(0.0 for _ in branches)
    for _ in range(200):
        amps = tuple(
            min(
                one.most_a, current_for_power(power_w=one.power_w, open_circuit_v=common_v, resistance_ohm=one.loop_ohm)
            )
            for one in branches
        )
        settled_v = source_v - shared_ohm * sum(amps)
        if settled_v <= 0:
            raise VoltageCollapseError(
                f"{sum(amps):.0f} A drop all of {source_v:.1f} V on a cable of {1000 * shared_ohm:.1f} mohm"
            )
        if abs(settled_v - common_v) < 1e-9 * source_v:
            break
        common_v = settled_v
    else:
        raise VoltageCollapseError(f"the voltage behind {1000 * shared_ohm:.1f} mohm does not settle")
    at = tuple(common_v - one.loop_ohm * amp for one, amp in zip(branches, amps, strict=True))
    return Fed(amps, common_v, at)
