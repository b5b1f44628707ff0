"""How long a lead is: as measured, or from where its ends stand."""

from __future__ import annotations

from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.job.stated import Place

SLACK_M = 0.3
"""Added to each end of a lead whose length is taken from the drawing. Source: common practice, no source."""


def measured(name: str, length_m: float) -> Figure:
    """A length that was measured, one way."""
    return Figure(
        name=f"{name} length",
        value=length_m,
        unit="m",
        formula="measured",
        inputs=(Given("Measured, one way", length_m, "m"),),
        source="measured at the survey",
    )


def length(name: str, measured_m: float | None, one: Place, other: Place) -> Figure:
    """One-way length of a lead between two places, along the axes, where it was not measured."""
    if measured_m is not None:
        return measured(name, measured_m)
    along, across, up = (abs(getattr(one, axis) - getattr(other, axis)) for axis in ("x_m", "y_m", "z_m"))
    return Figure(
        name=f"{name} length",
        value=along + across + up + 2 * SLACK_M,
        unit="m",
        formula="along + across + up + slack at both ends",
        inputs=(
            Given("Along", along, "m"),
            Given("Across", across, "m"),
            Given("Up", up, "m"),
            Given("Slack at each end", SLACK_M, "m"),
        ),
        source=PRACTICE,
        limit="taken from the drawing; measure before cutting",
    )
