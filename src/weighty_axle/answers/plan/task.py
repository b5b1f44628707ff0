"""A task of the build: what it is, where, by what skill, after what."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from weighty_axle.design.figures import Figure
from weighty_axle.job.models.build import Skill

Phase = Literal["bench", "vehicle", "roof", "proving"]

PHASE_WORDS: dict[Phase, str] = {
    "bench": "on the bench",
    "vehicle": "in the vehicle",
    "roof": "on the roof",
    "proving": "proving",
}
"""How a phase is said."""

LIFT_KG = 25.0
"""What one person lifts alone [kg]. Source: common practice after ISO 11228-1 (recalled); defer to local rules."""


class Task(Struct, frozen=True, kw_only=True):
    """A task: its key, words, phase, skill, hours of one person, the keys it comes after, the parts it waits for, the
    things it is about, and what it says to whoever does it.
    """

    key: str
    words: str
    phase: Phase
    skill: Skill
    hours_h: Figure
    after: tuple[str, ...]
    parts: tuple[str, ...]
    about: tuple[str, ...]
    how: str = ""
