"""A conductor as it is cut, its ends and its length: what parts, labels, tasks and joints are made from."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.job.models.build import Build, Colour
from weighty_axle.job.models.wiring import StudSize

LandedBy = Literal["lug", "ferrule", "plug", "gland", "as it comes"]
Carrying = Literal["DC", "AC", "PV", "earth", "signal"]


class Landing(Struct, frozen=True, kw_only=True):
    """An end of a conductor: where it lands, with what (`pieces` of it), on which stud, its shrink and its label."""

    at: str
    by: LandedBy
    pieces: int
    fitting: str
    stud: StudSize | None
    shrink: str
    boot: bool
    gland: str
    label: str


class Cut(Struct, frozen=True, kw_only=True):
    """One conductor, or one cable of several cores, as it is cut.

    `way` is the run, circuit or string it is of; `sold_as` its name in the parts list; `turn` how the second lug is
    turned to the first.
    """

    tag: str
    way: str
    carries: Carrying
    words: str
    size: str
    cores: int
    colour: Colour
    insulation: str
    cut_m: Figure
    start: Landing
    end: Landing
    turn: str

    @property
    def about(self) -> tuple[str, ...]:
        """Tags of the design it belongs to; links between packs and earths have none."""
        link = self.carries == "DC" and self.turn == "alike"
        return () if self.carries == "earth" or link else (self.way.removeprefix("CORD-"),)

    @property
    def kind(self) -> tuple[str, Colour]:
        """What it is cut from: conductors of one kind come off the same reels."""
        return self.sold_as, self.colour

    @property
    def sold_as(self) -> str:
        """Name under which it is bought, its colour left away."""
        if self.carries == "PV":
            return f"{self.size} roof cable"
        if self.carries == "signal":
            return f"signal cable, {self.size}"
        return f"{self.size} cable, {self.cores} cores" if self.cores > 1 else f"{self.size} conductor"


def colour_words(colour: Colour) -> str:
    """A colour as people read it."""
    return {"green_yellow": "green and yellow", "cable": "as it comes"}.get(colour, colour)


def cut_length(tag: str, route: Figure | Given, build: Build) -> Figure:
    """Length a conductor is cut at: its route with slack, and both ends.

    Source: common practice, no source.
    """
    slack, ends = Given("Slack", build.slack_share, "1"), Given("Each end, bend and strip", build.end_m, "m")
    return Figure(
        name=f"{tag} cut at",
        value=round(route.value * (1 + build.slack_share) + 2 * build.end_m, 3),
        unit="m",
        formula="route × (1 + slack) + 2 × each end",
        inputs=(route, slack, ends),
        source=PRACTICE,
        limit="measure the real way before cutting",
    )


def as_stated(tag: str, length_m: float) -> Figure:
    """A length that is stated with its ends within.

    Source: the job.
    """
    return Figure(
        name=f"{tag} cut at",
        value=round(length_m, 3),
        unit="m",
        formula="as stated, ends within",
        inputs=(Given("Stated", length_m, "m"),),
        source="the job",
    )


def landed(tag: str, at: str, by: LandedBy, fitting: str, pieces: int = 1, through: str = "") -> Landing:
    """An end without a stud.

    Source: the answers it is read from.
    """
    return Landing(
        at=at,
        by=by,
        pieces=pieces,
        fitting=fitting,
        stud=None,
        shrink="",
        boot=False,
        gland=through,
        label=f"{tag} → {at}",
    )
