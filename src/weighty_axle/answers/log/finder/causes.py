"""Every cause: how often it is behind a symptom, what measurements would show of it, how it is mended.

Weights, likelihoods and minutes: common practice, no source.
"""

from __future__ import annotations

from weighty_axle.answers.log.finder.cause import Cause
from weighty_axle.answers.log.finder.causes_ac import AC_CAUSES
from weighty_axle.answers.log.finder.causes_dc import DC_CAUSES

CAUSES: dict[str, Cause] = DC_CAUSES | AC_CAUSES
"""Causes by the kind of fault they are."""
OTHER = Cause(
    "something this list does not know",
    {},
    {},
    "Go on from what was measured: every answer so far stands in the log.",
    "not known",
    (),
    "unknown",
)
"""What no list can leave out: every measurement shows the usual of it."""


def cause_of(key: str) -> Cause:
    """The cause of a key; OTHER for any that is none."""
    return CAUSES.get(key, OTHER)
