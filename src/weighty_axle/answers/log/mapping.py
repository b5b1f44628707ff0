"""What the columns of a recording are: remembered, or guessed by headings and values against this job."""

from __future__ import annotations

import re

from weighty_axle.answers.log.layout import Layout
from weighty_axle.design.table import Design
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import ColumnMap, MappedColumn
from weighty_axle.job.tags import tagged
from weighty_axle.reference.quantities import BY_KEY, QUANTITIES, THOUSANDS, UNIT_WORDS, Quantity

_WORD = re.compile(r"w/m[2²]|%|°[cf]|[a-z]+\d*|\d+", re.IGNORECASE)
SUBJECT, UNIT, TAG = 2, 3, 4
"""How much it tells when a heading names a quantity's subject, its unit, a thing it can belong to. Source:
judgement.
"""


def remembered(job: Job, layout: Layout) -> ColumnMap | None:
    """How recordings with these headings were read before; None: never."""
    return next((one for one in job.log.maps if tuple(x.heading for x in one.columns) == layout.headings), None)


def column_map(design: Design, layout: Layout) -> ColumnMap:
    """How a recording is read: as remembered, else guessed."""
    return remembered(design.whole, layout) or guessed(design, layout)


def guessed(design: Design, layout: Layout) -> ColumnMap:
    """What every column is, by its heading and its first values; what cannot be told is left out.

    Source: common practice, no source.
    """
    of = {one.of for one in QUANTITIES if one.of}
    kinds = {thing.tag.casefold(): (thing.tag, kind.word) for kind, thing in tagged(design.whole) if kind.word in of}
    taken: set[tuple[str, str]] = set()
    columns = []
    for at, heading in enumerate(layout.headings):
        made = MappedColumn(heading=heading)
        if at not in (layout.time_at, layout.clock_at):
            one = _guess(design, heading, kinds, [row[at] for row in layout.rows], layout.comma)
            if one is not None and (one.quantity, one.of) not in taken:
                taken.add((one.quantity, one.of))
                made = one
        columns.append(made)
    return ColumnMap(columns=tuple(columns), day_first=layout.day_first)


def _guess(
    design: Design, heading: str, kinds: dict[str, tuple[str, str]], cells: list[str], comma: bool
) -> MappedColumn | None:
    words = [one.casefold() for one in _WORD.findall(heading.replace("_", " "))]
    tag, kind = next((kinds[one] for one in words if one in kinds), ("", ""))
    units = {unit for unit, signs in UNIT_WORDS.items() if any(one in signs for one in words)}
    if "W/m²" in units:
        units = {"W/m²"}
    if "Wh" in units:
        units -= {"W"}

    def score(one: Quantity) -> int:
        if units and one.unit not in units:
            return 0
        if kind and one.of != kind:
            return 0
        told = SUBJECT * any(word.rstrip("0123456789") in one.subjects for word in words)
        told += UNIT * (one.unit in units)
        return told + TAG * bool(kind)

    best = max(QUANTITIES, key=score)
    if score(best) < SUBJECT + UNIT:
        return None
    scale = next((THOUSANDS[one] for one in words if one in THOUSANDS), 1.0)
    values = [found for cell in cells if (found := _number(cell, comma)) is not None]
    if scale == 1.0 and values:
        scale = usual_scale(design, best.key, values)
    return MappedColumn(heading=heading, quantity=best.key, of=tag, scale=scale)


def _number(cell: str, comma: bool) -> float | None:
    try:
        return float(cell.replace(",", ".") if comma else cell)
    except ValueError:
        return None


def usual_scale(design: Design, quantity: str, values: list[float]) -> float:
    """What numbers are multiplied by so that they can be what they are said to be: voltages of this bank in mV or
    tenths,
    charge as a share. 1 where nothing tells.
    """
    middle = sorted(values)[len(values) // 2]
    nominal = design.bank.nominal_v.value
    if quantity in ("bank_v", "bar_v", "unit_v") and middle > 0:
        return next((one for one in (1.0, 0.001, 0.01, 0.1) if 0.7 <= middle * one / nominal <= 1.35), 1.0)
    if quantity == "soc" and max(values) <= 1.0 and min(values) >= 0.0 and middle > 0:
        return 100.0
    return 1.0


def wrong_map(design: Design, made: ColumnMap) -> list[str]:
    """What a map says that cannot be: in sentences."""
    found = []
    tags = {thing.tag: kind.word for kind, thing in tagged(design.whole)}
    seen: dict[tuple[str, str], str] = {}
    for one in made.columns:
        if not one.quantity:
            continue
        quantity = BY_KEY.get(one.quantity)
        if quantity is None:
            found.append(f"“{one.heading}”: there is no quantity {one.quantity!r}.")
            continue
        if one.of and tags.get(one.of) != (quantity.of or None):
            found.append(f"“{one.heading}”: {one.of} is no {quantity.of or 'thing this can belong to'}.")
        if quantity.of == "pack" and not one.of:
            found.append(f"“{one.heading}”: say which pack it is of.")
        if (one.quantity, one.of) in seen:
            found.append(f"“{one.heading}” and “{seen[one.quantity, one.of]}” are said to be the same.")
        if one.scale == 0:
            found.append(f"“{one.heading}”: numbers times 0 are nothing.")
        seen[one.quantity, one.of] = one.heading
    return found
