"""Cuts and reels as tables."""

from __future__ import annotations

from weighty_axle.answers.cuts.cut import colour_words
from weighty_axle.answers.cuts.reels import CutState, KindCut
from weighty_axle.exports.tables.cells import csv_bytes

HEADER = (
    "tag",
    "way",
    "carries",
    "for",
    "conductor",
    "colour",
    "insulation",
    "cut_m",
    "start_at",
    "start_with",
    "start_gland",
    "start_shrink",
    "end_at",
    "end_with",
    "end_gland",
    "end_shrink",
    "turn",
    "label_1",
    "label_2",
    "reel",
    "cut_on",
    "cut_by",
    "differs",
)


def cuts_csv(states: tuple[CutState, ...], kinds: tuple[KindCut, ...]) -> bytes:
    """Every conductor with both ends, the reel it comes off, and whether it is cut."""
    reel = {piece.tag: use.name for kind in kinds for use in kind.reels for piece in use.off}
    rows: list[tuple[object, ...]] = []
    for one in states:
        cut, done = one.cut, one.done
        rows.append(
            (
                cut.tag,
                cut.way,
                cut.carries,
                cut.words,
                cut.sold_as,
                colour_words(cut.colour),
                cut.insulation,
                cut.cut_m.value,
                cut.start.at,
                cut.start.fitting,
                cut.start.gland,
                cut.start.shrink,
                cut.end.at,
                cut.end.fitting,
                cut.end.gland,
                cut.end.shrink,
                cut.turn,
                cut.start.label,
                cut.end.label,
                done.piece if done is not None and not one.differs else reel.get(cut.tag, ""),
                done.on if done is not None else "",
                done.by if done is not None else "",
                one.differs,
            )
        )
    return csv_bytes(HEADER, rows)


def reels_csv(kinds: tuple[KindCut, ...]) -> bytes:
    """Every reel and off-cut in use: what comes off it, what is left."""
    rows: list[tuple[object, ...]] = [
        (
            kind.sold_as,
            colour_words(kind.colour),
            use.name,
            "new" if use.new else "stock",
            use.length_m,
            " ".join(f"{piece.tag.replace(' ', '')}={piece.cut_m:g}" for piece in use.off),
            round(use.left_m, 3),
            "stock" if use.kept else "waste",
            kind.problem,
        )
        for kind in kinds
        for use in kind.reels
    ]
    header = ("conductor", "colour", "reel", "is", "length_m", "cuts", "left_m", "left_goes_to", "problem")
    return csv_bytes(header, rows)
