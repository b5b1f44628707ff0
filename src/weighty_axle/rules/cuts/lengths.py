"""Rules of conductors that are cut, and of reels. Silent until somebody cuts or states a reel."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.answers.cuts.reels import in_no_design, reel_m, states
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.job.edits.build import cut_undone
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "cuts.differs",
    "check",
    "{conductor} differs from the design now: {what}.",
    PRACTICE,
    "Cut another, and keep this one as an off-cut.",
)
def differs(design: Design) -> Iterator[Hit]:
    """A conductor that is cut and is wanted longer, or of another kind, by now."""
    if design.system.key or not design.whole.build.cuts:
        return
    for one in states(design):
        if one.differs:
            yield hit(*one.cut.about, remedy=cut_undone(one.cut.tag), conductor=one.cut.tag, what=one.differs)


@rule(
    "cuts.not-wanted",
    "note",
    "{conductor}, {length} of {size}, is cut and no part of the design any more.",
    PRACTICE,
    "Keep it as an off-cut.",
)
def not_wanted(design: Design) -> Iterator[Hit]:
    """A conductor that is cut and in no design any more."""
    if design.system.key or not design.whole.build.cuts:
        return
    for one in in_no_design(design, cuts(design)):
        yield hit(
            remedy=cut_undone(one.conductor), conductor=one.conductor, length=f"{one.length_m:g} m", size=one.size
        )


@rule(
    "cuts.reel-short",
    "check",
    "{conductor} is {length} long; a reel of {size} has {reel}.",
    PRACTICE,
    "Another reel, or a shorter way.",
)
def reel_short(design: Design) -> Iterator[Hit]:
    """A stated reel shorter than the longest conductor that comes off it."""
    build = design.whole.build
    if design.system.key or not (build.reels or build.reel_m < 25):
        return
    longest: dict[str, Cut] = {}
    for cut in cuts(design):
        if cut.sold_as not in longest or cut.cut_m.value > longest[cut.sold_as].cut_m.value:
            longest[cut.sold_as] = cut
    for cut in longest.values():
        reel = reel_m(build, cut.sold_as, [cut.cut_m.value])
        if cut.cut_m.value > reel + 1e-9:
            yield hit(
                *cut.about, conductor=cut.tag, length=f"{cut.cut_m.value:g} m", size=cut.sold_as, reel=f"{reel:g} m"
            )
