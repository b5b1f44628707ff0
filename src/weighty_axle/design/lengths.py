"""How long a cable is: as measured, or along the wire ways from where its ends stand."""

from __future__ import annotations

from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.ways import Path, Ways, apart_m
from weighty_axle.job.models.vehicle import CableKind
from weighty_axle.job.stated import Place

SLACK_M = 0.3
"""Added to each end of a cable whose length is taken from the drawing: its termination and some to spare.
Source: common practice, no source.
"""
NO_WAY = "no wire way leads there: along the axes"


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


def taken(name: str, length_m: float) -> Figure:
    """A length nobody has measured or drawn."""
    return Figure(
        name=f"{name} length",
        value=length_m,
        unit="m",
        formula="taken, until it is measured or drawn",
        inputs=(),
        source=PRACTICE,
        limit="measure before cutting",
    )


def length(name: str, measured_m: float | None, one: Place, other: Place, ways: Ways, kind: CableKind = "dc") -> Figure:
    """One-way length of a cable between two places, along the ways, where it was not measured."""
    if measured_m is not None:
        return measured(name, measured_m)
    return along(name, one, other, ways.path(one, other, kind))


def along(name: str, one: Place, other: Place, path: Path | None, end_m: float = SLACK_M) -> Figure:
    """Length of a cable that goes a way; straight along the axes where there is none. `end_m` is left at its end."""
    straight = path is None or not path.ways
    if straight:
        parts: tuple[Given, ...] = tuple(
            Given(words, abs(getattr(one, axis) - getattr(other, axis)), "m")
            for words, axis in (("Along", "x_m"), ("Across", "y_m"), ("Up", "z_m"))
        )
        value, formula = apart_m(one, other), "along + across + up + slack at both ends"
    else:
        assert path is not None
        parts = (
            *(Given(f"{way.tag} {way.name}", way.length_m, "m") for way in path.ways),
            Given("To, between and from the ways", path.outside_m, "m"),
            Given("Bends", path.bends_m, "m"),
        )
        value, formula = path.total_m, "Σ ways + what lies outside them + bends + slack at both ends"
    # Two slacks of one size are one input, as they always were.
    slack: tuple[Given, ...] = (Given("Slack at each end", SLACK_M, "m"),)
    if end_m != SLACK_M:
        slack = (Given("Slack where it starts", SLACK_M, "m"), Given("Tail", end_m, "m"))
    return Figure(
        name=f"{name} length",
        value=value + SLACK_M + end_m,
        unit="m",
        formula=formula,
        inputs=(*parts, *slack),
        source=PRACTICE,
        limit=NO_WAY if path is None else "taken from the drawing; measure before cutting",
    )
