"""What comes off which reel or off-cut, with the least bought and wasted; what is cut already; what the stock gains."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Iterator
from functools import partial

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut, colour_words
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.files.stock import Stock, StockPiece
from weighty_axle.job.models.build import Build, Colour, CutDone
from weighty_axle.physics.search.cutting import Piece, nested

Progress = Callable[[float, str], None]

LONGER_M = 0.02
"""A conductor cut so much longer than it is wanted still does; shorter ones never. Source: common practice."""


class OffPiece(Struct, frozen=True, kw_only=True):
    """One cut off a piece."""

    tag: str
    cut_m: float


class ReelUse(Struct, frozen=True, kw_only=True):
    """A reel or off-cut with what comes off it, the longest first; `kept`: what is left goes into the stock."""

    name: str
    new: bool
    length_m: float
    off: tuple[OffPiece, ...]
    left_m: float
    kept: bool


class KindCut(Struct, frozen=True, kw_only=True):
    """All cuts of one conductor and colour. `problem` says why they cannot be nested; empty: they are."""

    sold_as: str
    colour: Colour
    reels: tuple[ReelUse, ...]
    bought_m: Figure
    scrap_m: Figure
    gap_m: float
    problem: str = ""

    @property
    def words(self) -> str:
        """What it is, in words."""
        return self.sold_as if self.colour == "cable" else f"{self.sold_as}, {colour_words(self.colour)}"

    @property
    def proven(self) -> bool:
        """Whether nothing better exists, to a centimetre."""
        return self.gap_m < 0.01


class CutState(Struct, frozen=True, kw_only=True):
    """A conductor with how far it is: `done` where somebody cut it, `differs` what to do where that is another now."""

    cut: Cut
    done: CutDone | None
    differs: str

    @property
    def to_cut(self) -> bool:
        """Whether it must be cut, or cut again."""
        return self.done is None or bool(self.differs)


def states(design: Design, made: tuple[Cut, ...] | None = None) -> tuple[CutState, ...]:
    """Every conductor with how far it is.

    Source: the cut list and what the job says is cut.
    """
    done = {one.conductor: one for one in design.whole.build.cuts}
    return tuple(
        CutState(cut=cut, done=done.get(cut.tag), differs=_differs(cut, done.get(cut.tag)))
        for cut in (made if made is not None else cuts(design))
    )


def in_no_design(design: Design, made: tuple[Cut, ...]) -> tuple[CutDone, ...]:
    """What is cut and no conductor of the design any more: it is kept for another use."""
    known = {cut.tag for cut in made}
    return tuple(one for one in design.whole.build.cuts if one.conductor not in known)


def _differs(cut: Cut, done: CutDone | None) -> str:
    if done is None:
        return ""
    if (done.size, done.colour) != (cut.sold_as, cut.colour):
        was, now = f"{done.size}, {colour_words(done.colour)}", f"{cut.sold_as}, {colour_words(cut.colour)}"
        return f"cut of {was}; now {now}: cut anew"
    if done.length_m < cut.cut_m.value - LONGER_M:
        return f"cut at {done.length_m:g} m, now {cut.cut_m.value:g} m: cut anew, keep the short one"
    return ""


BY_METRE_MM2 = 16.0
"""Thicker single conductors are bought by the metre, in one length. Source: common practice, no source."""


def reel_m(build: Build, sold_as: str, lengths_m: list[float]) -> float:
    """Length of a new reel of a conductor [m]: as stated; thick ones come in one length, whole metres of it.

    Source: common practice, no source.
    """
    stated = next((one.length_m for one in build.reels if one.size == sold_as), None)
    if stated is not None:
        return stated
    size = sold_as.removesuffix(" conductor")
    if size != sold_as and _area(size) > BY_METRE_MM2:
        return max(1.0, math.ceil(sum(lengths_m) + (len(lengths_m) - 1) * build.kerf_mm / 1000))
    return build.reel_m


def _area(size: str) -> float:
    try:
        return conductor_area_mm2(size)
    except ValueError:
        return 0.0


def bought_m(build: Build, sold_as: str, lengths_m: list[float]) -> float:
    """Metres of a conductor to buy for some cuts, off new reels only, the longest first [m].

    Source: physics.search.cutting; a cut no reel holds is bought by the metre.
    """
    try:
        return nested(
            lengths_m, (), reel_m(build, sold_as, lengths_m), build.kerf_mm / 1000, build.least_useful_m, 0.0
        ).bought_m
    except ValueError:
        return float(math.ceil(sum(lengths_m)))


def nest(
    design: Design,
    stock: Stock,
    progress: Progress = lambda _share, _words: None,
    longest_s: float = 3.0,
    only: tuple[CutState, ...] | None = None,
) -> tuple[KindCut, ...]:
    """Every conductor that is still to be cut, onto the stock's off-cuts and new reels. The search of all kinds
    together takes no longer than asked, and what one does not need the next ones have; the progress raises where the
    user cancels.

    Source: physics.search.cutting.
    """
    build = design.whole.build
    stock = booked_into(stock, build.cuts, build, design.whole.name)  # reels that are begun
    kinds: dict[tuple[str, Colour], list[Cut]] = {}
    for state in only if only is not None else states(design):
        if state.to_cut:
            kinds.setdefault(state.cut.kind, []).append(state.cut)
    found = []
    until_s = time.monotonic() + longest_s
    for at, (kind, some) in enumerate(kinds.items()):
        share_s = max(0.0, until_s - time.monotonic()) / (len(kinds) - at)
        watch = partial(progress, at / len(kinds), f"{kind[0]}, {colour_words(kind[1])}")
        found.append(_kind(build, stock, kind, some, share_s, watch))
    return tuple(found)


def _kind(
    build: Build, stock: Stock, kind: tuple[str, Colour], some: list[Cut], longest_s: float, watch: Callable[[], None]
) -> KindCut:
    watch()
    sold_as, colour = kind
    off_cuts = [one for one in stock.pieces if (one.conductor, one.colour) == kind]
    lengths = [cut.cut_m.value for cut in some]
    length = reel_m(build, sold_as, lengths)
    try:
        off_m = [one.length_m for one in off_cuts]
        got = nested(lengths, off_m, length, build.kerf_mm / 1000, build.least_useful_m, longest_s, watch)
        problem, pieces, bought, scrap, bound = "", got.pieces, got.bought_m, got.scrap_m, got.bound_m
    except ValueError:
        longest = max(some, key=lambda cut: cut.cut_m.value)
        problem = (
            f"{longest.tag} is {longest.cut_m.value:g} m long; a reel of {sold_as} has {length:g} m. "
            "State a longer reel, or a joint that is allowed there."
        )
        pieces, bought, scrap, bound = (), 0.0, 0.0, 0.0
    asked = Given("Cuts", sum(lengths), "m")
    return KindCut(
        sold_as=sold_as,
        colour=colour,
        reels=tuple(_uses(pieces, some, off_cuts, build, kind)),
        bought_m=Figure(
            name=f"{sold_as}: bought",
            value=bought,
            unit="m",
            formula="new reels × length, the fewest that do",
            inputs=(asked, Given("A reel", length, "m"), Given("Off-cuts there", len(off_cuts), "count")),
            source="integer programme, physics.search.cutting",
            limit=f"bought and waste cannot be below {bound:.2f} m together",
        ),
        scrap_m=Figure(
            name=f"{sold_as}: waste",
            value=scrap,
            unit="m",
            formula="Σ of what is left and too short to keep",
            inputs=(Given("Kept from", build.least_useful_m, "m"), Given("Lost at a cut", build.kerf_mm, "mm")),
            source="integer programme, physics.search.cutting",
        ),
        gap_m=max(0.0, bought + scrap - bound),
        problem=problem,
    )


NEW = "new reel "


def _uses(
    pieces: tuple[Piece, ...], some: list[Cut], off_cuts: list[StockPiece], build: Build, kind: tuple[str, Colour]
) -> Iterator[ReelUse]:
    """Pieces by name; new reels are counted on from those that cuts came off already."""
    came_off = [one.piece.removeprefix(NEW) for one in build.cuts if (one.size, one.colour) == kind]
    number = max((int(one) for one in came_off if one.isdigit()), default=0)
    for piece in pieces:
        number += piece.off_cut is None
        yield ReelUse(
            name=f"{NEW}{number}" if piece.off_cut is None else off_cuts[piece.off_cut].name,
            new=piece.off_cut is None,
            length_m=piece.length_m,
            off=tuple(OffPiece(tag=some[one].tag, cut_m=some[one].cut_m.value) for one in piece.cuts),
            left_m=piece.left_m,
            kept=piece.left_m >= build.least_useful_m,
        )


def booked_into(stock: Stock, done: tuple[CutDone, ...], build: Build, job: str) -> Stock:
    """The stock after what was cut and not yet booked is taken off it; reels that were new join it, what is too short
    to keep leaves it.

    A piece is known by its name; a new reel's name in the stock says the job and the conductor.
    """
    left: dict[tuple[str, str, Colour], float] = {}
    lengths: dict[tuple[str, str, Colour], list[float]] = {}
    for one in done:
        if not one.booked and one.piece:
            key = (one.piece, one.size, one.colour)
            left[key] = left.get(key, 0.0) + one.length_m + build.kerf_mm / 1000
            lengths.setdefault(key, []).append(one.length_m)
    pieces = list(stock.pieces)
    for (name, size, colour), taken in left.items():
        at = next((at for at, one in enumerate(pieces) if one.name == name and one.conductor == size), None)
        if at is None and not name.startswith(NEW):
            continue  # it has left the stock meanwhile
        new = StockPiece(
            name=_free_name(f"{job}, {size} {colour_words(colour)}"[:70], pieces),
            conductor=size,
            colour=colour,
            length_m=max(reel_m(build, size, lengths[name, size, colour]), taken),
            origin=f"{job}, {name}",
        )
        piece = pieces[at] if at is not None else new
        rest = round(piece.length_m - taken, 3)
        if at is not None:
            pieces.pop(at)
        if rest >= max(build.least_useful_m, 0.01):
            pieces.append(replace(piece, length_m=rest))
    return replace(stock, pieces=tuple(pieces))


def _free_name(name: str, pieces: list[StockPiece]) -> str:
    taken = {one.name for one in pieces}
    at = 1
    while f"{name} {at}" in taken:
        at += 1
    return f"{name} {at}"
