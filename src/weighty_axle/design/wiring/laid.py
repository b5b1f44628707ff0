"""Where the cables of a system lie: its runs, feeds and strings along the wire ways."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.cables import Cable
from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.lengths import along
from weighty_axle.design.ways import Ways
from weighty_axle.design.wiring.choices import ConductorChoice
from weighty_axle.design.wiring.feeds import FeedRun
from weighty_axle.design.wiring.runs import Run, WiringResult, bank_end
from weighty_axle.job.models.bank import Pack
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.roof import Roof
from weighty_axle.job.models.wiring import Wiring
from weighty_axle.job.stated import Place
from weighty_axle.job.systems import HOUSE, System


def laid(
    system: System,
    stated: Wiring,
    wiring: WiringResult,
    feeds_in: tuple[FeedRun, ...],
    roof: Roof,
    packs: tuple[Pack, ...],
    items: tuple[Item, ...],
    ways: Ways,
) -> tuple[Cable, ...]:
    """Every battery-voltage cable and every string's cable down from the roof; of a group that shares a bank, none:
    they are the bank's.

    Source: shortest path, physics.search.paths.
    """
    if system.shares_bank:
        return ()
    places = {item.tag: item.place for item in items}
    places |= {one.tag: places[one.unit] for one in roof.controllers if one.unit in places}
    places["bank"] = bank_end(packs, stated.board.place, ways)
    before = "" if system.key == HOUSE else f"{system.bar} "
    made = [_dc(f"{before}{run.tag}", run.start, run.end, run, places, ways) for run in wiring.runs]
    made += [
        _dc(feed.tag, feed.start, end, feed, places, ways)
        for feed in feeds_in
        for end in feed.end.split()[:1]
        if feed.length_m is not None and feed.start in places and end in places
    ]
    return (*made, *_strings(roof, places, ways))


def _dc(tag: str, start: str, end: str, run: FeedRun | Run, places: dict[str, Place], ways: Ways) -> Cable:
    """A two-wire run, both poles side by side."""
    assert run.length_m is not None
    chosen: ConductorChoice | None = run.chosen
    return Cable(
        tag=tag,
        kind="dc",
        start=start,
        end=end,
        words=f"{start} to {end}",
        length_m=run.length_m,
        path=ways.path(places[start], places[end], "dc"),
        count=2 * (chosen.count if chosen is not None else 1),
        outer_mm=outer_mm(chosen.size) if chosen is not None else outer_mm("none"),
    )


def _strings(roof: Roof, places: dict[str, Place], ways: Ways) -> Iterator[Cable]:
    """The cable of each string from where it comes through the roof to its controller."""
    controllers = {one.tag: one for one in roof.controllers}
    for string in roof.strings:
        one = controllers.get(string.controller)
        at = places.get(string.controller)
        if one is None or at is None or not any(module.string == string.tag for module in roof.modules):
            continue
        entry = Place(x_m=at.x_m if one.entry_m is None else one.entry_m, y_m=at.y_m, z_m=ways.vehicle.roof_m)
        path = ways.path(entry, at, "pv")
        yield Cable(
            tag=string.tag,
            kind="pv",
            start="ROOF",
            end=string.controller,
            words=f"string {string.tag} down to {string.controller}",
            length_m=along(string.tag, entry, at, path),
            path=path,
            count=2,
            outer_mm=outer_mm(roof.cable),
        )
