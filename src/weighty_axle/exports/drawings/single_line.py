"""The single-line drawing: sheets of lines, boxes and words in millimetres, read from left to right as current flows.

A bar is a thick upright line, a way a level one that leaves it at its stud; its fuse is a box with the rating in it;
what it is made of stands over the line, what its ends are landed with under it.
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.answers.wiring.cords import cords_of
from weighty_axle.answers.wiring.schedule import Conductor, schedule
from weighty_axle.design.roof.protection import InputProtection
from weighty_axle.design.roof.strings import StringResult
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.tree import TreeWay
from weighty_axle.exports.drawings.marks import HIGH_MM, Box, Dot, Line, Mark, Sheet, Words
from weighty_axle.job.models.inverters import FROM_INVERTERS, Panel, Selector
from weighty_axle.job.models.roof import Controller, spec_of
from weighty_axle.units import System, conductor_words, show

_ROW, _TOP = 13.0, 16.0
_STRINGS = 8


def single_line(design: Design, units: System = "metric") -> tuple[Sheet, ...]:
    """Sheets of every system: DC side bar by bar, AC side panel by panel, strings.

    A bar or panel with more ways than a sheet holds goes on on the next.
    """
    found: list[Sheet] = []
    for own in (design, *design.others):
        made = _Sheets(own, units)
        # A group that shares a bank has its DC leads and strings there.
        found += (
            made.alternating() if own.system.shares_bank else [*made.direct(), *made.alternating(), *made.strings()]
        )
    return tuple(found)


def _cut(text: str, room_mm: float, size: float) -> str:
    """As much of a text as there is room for; letters are some 0.85 of their height wide."""
    most = max(4, int(room_mm / (0.85 * size)))
    return text if len(text) <= most else f"{text[: most - 1]}…"


def _tags(ways: list[TreeWay]) -> set[str]:
    return {way.tag for way in ways}


def _lines(count: int) -> str:
    return f"{count} lines" if count > 1 else "1 line"


def _neutral(panel: Panel) -> str:
    return "neutral bonded" if panel.bonded else "neutral apart"


class _Row(Struct, frozen=True):
    """A way that leaves a bar: where it leaves, and what is at its end."""

    conductor: Conductor
    ends_at: str
    under: tuple[Conductor, ...]


def _parts(row: _Row, most: int) -> list[_Row]:
    """A way with more ways of its own than a sheet holds, in parts."""
    if len(row.under) <= most:
        return [row]
    return [_Row(row.conductor, row.ends_at, row.under[at : at + most]) for at in range(0, len(row.under), most)]


class _Sheets:
    """The sheets of a system while they are drawn."""

    def __init__(self, design: Design, units: System) -> None:
        self.design, self.units = design, units
        self.by_tag = {one.tag: one for one in schedule(design)}
        self.name = f"{design.system.name}: " if design.others or design.system.key else ""

    # ---- DC ----

    def direct(self) -> Iterator[Sheet]:
        """A bar with the bank or the converters that feed it, and its ways."""
        for root in self.design.tree.roots:
            ways = [way for way in root.ways if way.kind != "bar"]
            into = [way for way in ways if way.kind == "main" or way.start in root.converters]
            inner = {way.tag for way in ways if way.kind == "panel"} | {way.above for way in ways if way.kind == "feed"}
            out = [way for way in ways if way not in into and (way.above not in inner or way.above in _tags(into))]
            rows = [
                _Row(self.by_tag[way.tag], way.end, tuple(self.by_tag[one.tag] for one in ways if one.above == way.tag))
                for way in out
            ]
            source = self._source(root.bar, root.converters)
            feeding = [self.by_tag[way.tag] for way in into]
            yield from self._bar(f"{self.name}DC side of {root.bar}", source, feeding, root.bar, rows)

    def _source(self, bar: str, converters: tuple[str, ...]) -> list[str]:
        if converters:
            return [" ".join(converters), "converter" if len(converters) == 1 else "converters", f"holds {bar}"]
        bank, spec = self.design.bank, self.design.job.bank.spec
        packs = self.design.job.bank.packs
        return [
            "bank",
            f"{len(packs)} packs",
            f"{show(bank.nominal_v.value, 'V')} {show(bank.capacity_ah.value, 'Ah')}",
            f"to {show(bank.max_v.value, 'V')}",
            f"fuse inside {show(spec.fuse_a, 'A')}" if spec.fuse_a is not None else "no fuse inside",
        ]

    # ---- AC ----

    def alternating(self) -> Iterator[Sheet]:
        """Panels with what feeds them and their circuits."""
        if not self.design.job.inverters.units:
            return
        yield self._overview()
        yield from (self._contacts(one) for one in self.design.ac.selectors)
        panels = self.design.panels.panels
        for panel in panels:
            feeder = self.by_tag[panel.tag]
            rows = [
                _Row(self.by_tag[one.tag], one.name, ())
                for one in self.design.circuits
                if one.panel == panel.tag and one.tag in self.by_tag
            ]
            source = [feeder.start, "before the inverters" if panel.before else "behind the inverters"]
            yield from self._bar(f"{self.name}AC panel {panel.tag}: {panel.name}", source, [feeder], panel.tag, rows)

    def _overview(self) -> Sheet:
        """Where it plugs in, what chooses, the inverters, the panels: column by column, joined as they are fed."""
        wiring, spec = self.design.ac, self.design.job.inverters.spec
        cords = {one.inlet.tag: one for one in cords_of(self.design)}
        columns = (
            [(one.tag, one.name, f"inlet, {one.amps:g} A, {_lines(one.lines)}") for one in wiring.inlets],
            [(one.tag, one.name, f"selector, {one.amps:g} A") for one in wiring.selectors],
            [(one.tag, spec.name, f"line {one.leg}") for one in wiring.units],
            [(one.tag, one.name, f"{one.breaker_a:g} A, {_neutral(one)}") for one in wiring.panels],
        )
        at: dict[str, tuple[float, float]] = {}
        marks: list[Mark] = []
        for column, own in enumerate(columns):
            x = 48.0 * column
            # Many of them stand closer, without what is said of each.
            pitch = min(1.6 * _ROW, (HIGH_MM - _TOP - 8) / max(1, len(own)))
            high = min(14.0, pitch - 1.2)
            for row, (tag, name, more) in enumerate(own):
                y = _TOP + row * pitch
                at[tag] = (x, y)
                marks.append(Box(x, y - 6, 34, high))
                lines = [
                    Words(x + 1.5, y - 2, _cut(tag, 31, 2.4), 2.4, bold=True),
                    Words(x + 1.5, y + 1.6, _cut(name, 31, 1.8), 1.8),
                    Words(x + 1.5, y + 5.2, _cut(more, 31, 1.8), 1.8),
                ]
                marks += lines[: max(1, int(high / 4.4))]
                if tag in cords:
                    cord = cords[tag]
                    of = f"{conductor_words(cord.size)}, {show(cord.length_m.value, 'm', self.units)}"
                    marks.append(Words(1.5, y + 10.8, cord.tag, 1.7))
                    marks.append(Words(1.5, y + 13.4, _cut(of, 33, 1.7), 1.7))
        return Sheet(f"{self.name}AC side, from inlet to panel", (*self._joined(at), *marks))

    def _contacts(self, selector: Selector) -> Sheet:
        """What a selector closes in each position: terminals level, positions upright, a dot where it is closed."""
        pairs = list(dict.fromkeys(one for position in selector.positions for one in position.contacts))
        step = min(20.0, 98.0 / len(selector.positions))
        pitch = min(8.0, (HIGH_MM - _TOP - 24) / max(1, len(pairs)))
        marks: list[Mark] = []
        bottom = _TOP + 12 + pitch * len(pairs)
        for at, position in enumerate(selector.positions):
            x = 80 + step * (at + 0.5)
            now = position.name == selector.now
            marks.append(Words(x, _TOP, _cut(position.name, step, 1.8), 1.8, "middle", now))
            if position.stacking is not None:
                marks.append(Words(x, _TOP + 3, _cut(position.stacking.replace("_", " "), step, 1.5), 1.5, "middle"))
            marks.append(Line(x, _TOP + 5, x, bottom - 4, 0.5 if now else 0.2, not now))
        for row, pair in enumerate(pairs):
            y = _TOP + 10 + row * pitch
            marks += [Words(0, y + 0.8, pair.start, 2.0), Words(40, y + 0.8, pair.end, 2.0)]
            marks += [Line(24, y, 39, y), Line(66, y, 80 + step * len(selector.positions), y, 0.15, True)]
            for at, position in enumerate(selector.positions):
                if pair in position.contacts:
                    marks.append(Dot(80 + step * (at + 0.5), y, min(1.2, pitch / 3)))
        neutral = "neutrals follow the contacts" if selector.switches_neutral else "neutrals are tied together"
        marks.append(Words(0, bottom, f"{selector.amps:g} A; {neutral}; stands at {selector.now}", 1.8))
        title = f"{self.name}selector {selector.tag}: {selector.name}, closed contacts by position"
        return Sheet(title, tuple(marks))

    def _joined(self, at: dict[str, tuple[float, float]]) -> Iterator[Mark]:
        """A line from what feeds to what is fed, drawn before the boxes so that these lie on it."""
        wiring = self.design.ac
        pairs = [(wiring.fed_from, unit.tag) for unit in wiring.units]
        pairs += [(wiring.second_input, unit.tag) for unit in wiring.units if wiring.second_input]
        for panel in wiring.panels:
            of_all = panel.fed_from == FROM_INVERTERS
            pairs += [(one.tag, panel.tag) for one in wiring.units] if of_all else [(panel.fed_from, panel.tag)]
        for selector in wiring.selectors:
            contacts = [one for position in selector.positions for one in position.contacts]
            pairs += [(one.start.split(".")[0], selector.tag) for one in contacts]
            pairs += [(selector.tag, one.end.split(".")[0]) for one in contacts]
        for start, end in dict.fromkeys(pairs):
            if start in at and end in at and start != end:
                (x1, y1), (x2, y2) = at[start], at[end]
                across = x1 + 34 if x2 >= x1 else x1
                yield Line(across, y1 + 1, (across + x2) / 2, y1 + 1, 0.5)
                yield Line((across + x2) / 2, y1 + 1, (across + x2) / 2, y2 + 1, 0.5)
                yield Line((across + x2) / 2, y2 + 1, x2, y2 + 1, 0.5)

    # ---- PV ----

    def strings(self) -> Iterator[Sheet]:
        """Strings of each controller."""
        roof = self.design.job.roof
        specs = {module.tag: spec_of(roof, module).name for module in roof.modules}
        guards = {one.controller: one for one in self.design.protection}
        for controller in roof.controllers:
            own = [
                one for one in self.design.roof.strings if one.controller == controller.tag and one.tag in self.by_tag
            ]
            for first in range(0, len(own), _STRINGS):
                part = own[first : first + _STRINGS]
                of = f", sheet {first // _STRINGS + 1}" if len(own) > _STRINGS else ""
                marks = self._strings_of(controller, part, guards[controller.tag], specs)
                yield Sheet(f"{self.name}strings of {controller.tag}{of}", tuple(marks))

    def _strings_of(
        self, controller: Controller, own: list[StringResult], guard: InputProtection, specs: dict[str, str]
    ) -> list[Mark]:
        """Some strings of a controller, its isolator, the controller itself."""
        marks: list[Mark] = []
        for at, string in enumerate(own):
            y = _TOP + 10 + at * 2 * _ROW
            one = self.by_tag[string.tag]
            marks.append(Box(0, y - 8, 46, 16))
            marks += [
                Words(2, y - 3.6, f"{string.tag}: {len(string.modules)} modules in series", bold=True, size=2.0),
                Words(2, y - 0.2, _cut(specs[string.modules[0]], 43, 1.8), 1.8),
                Words(2, y + 3.0, _cut(" ".join(string.modules), 43, 1.8), 1.8),
                Words(2, y + 6.2, f"cold {show(string.cold_voc_v.value, 'V')}", 1.8),
            ]
            marks += self._way(one, 46, 140, y)
        y0, y1 = _TOP + 2, _TOP + 10 + (len(own) - 1) * 2 * _ROW + 8
        marks += [Line(140, y0, 140, y1, 0.9), Box(146, y0, 30, max(14.0, y1 - y0))]
        marks.append(Line(140, (y0 + y1) / 2, 146, (y0 + y1) / 2, 0.5))
        marks.append(Words(148, y0 + 5, controller.tag, 2.6, bold=True))
        isolator = f"isolator {show(guard.isolator_v.value, 'V')}, {show(guard.isolator_a.value, 'A')}"
        marks += [
            Words(148, y0 + 8.6, _cut(controller.spec.name, 27, 1.8), 1.8),
            Words(148, y0 + 12, _cut(isolator, 27, 1.6), 1.6),
        ]
        return marks

    # ---- parts ----

    def _bar(
        self, title: str, source: list[str], feeding: list[Conductor], bar: str, rows: list[_Row]
    ) -> Iterator[Sheet]:
        """A bar with its ways on as many sheets as it takes; a way with ways of its own is a bar at its end."""
        sheets: list[list[_Row]] = [[]]
        taken = 0
        most = int((HIGH_MM - 12 - _TOP) / _ROW)
        for row in (part for one in rows for part in _parts(one, most)):
            needs = max(1, len(row.under))
            if taken and _TOP + (taken + needs) * _ROW > HIGH_MM - 12:
                sheets.append([])
                taken = 0
            sheets[-1].append(row)
            taken += needs
        for number, own in enumerate(sheets):
            of = f", sheet {number + 1} of {len(sheets)}" if len(sheets) > 1 else ""
            yield Sheet(
                f"{title}{of}",
                tuple(
                    self._marks(
                        source if not number else [f"{bar}", "goes on"], feeding if not number else [], bar, own
                    )
                ),
            )

    def _marks(self, source: list[str], feeding: list[Conductor], bar: str, rows: list[_Row]) -> Iterator[Mark]:
        high = max(24.0, 6.0 + 3.6 * len(source))
        yield Box(0, _TOP - 6, 27, high)
        for at, text in enumerate(source):
            yield Words(1.6, _TOP - 1.6 + 3.6 * at, _cut(text, 25, 1.8), 2.2 if not at else 1.8, bold=not at)
        for at, one in enumerate(feeding):
            yield from self._way(one, 27, 74, _TOP + 3 + at * _ROW)
        if not feeding:
            yield Line(27, _TOP + 3, 74, _TOP + 3, 0.5, True)
        rows_high = sum(max(1, len(row.under)) for row in rows) * _ROW
        bottom = _TOP + max(rows_high, len(feeding) * _ROW, 10.0)
        yield Line(74, _TOP - 4, 74, bottom, 1.1)
        yield Words(74, _TOP - 5.6, bar, 2.8, "middle", True)
        y = _TOP + 3.0
        for row in rows:
            end = 138.0 if not row.under else 112.0
            yield Dot(74, y, 0.8)
            yield from self._way(row.conductor, 74, end, y, short=bool(row.under))
            if row.under:
                below = y + (len(row.under) - 1) * _ROW + 4
                yield Line(112, y - 4, 112, below, 0.9)
                for at, one in enumerate(row.under):
                    yield Dot(112, y + at * _ROW, 0.7)
                    yield from self._way(one, 112, 156, y + at * _ROW)
                    yield Words(157, y + at * _ROW + 0.8, _cut(one.end, 20, 1.8), 1.8)
                    yield Words(157, y + at * _ROW + 3.8, _cut(one.words.rpartition(" to ")[2], 20, 1.7), 1.7)
            else:
                yield from self._thing(row, y)
            y += max(1, len(row.under)) * _ROW

    def _thing(self, row: _Row, y: float) -> Iterator[Mark]:
        """What is at the end of a way."""
        one = row.conductor
        yield Box(138, y - 4.5, 40, 9)
        if one.carries == "AC":
            yield Words(139.5, y - 0.6, _cut(one.end, 38, 2.0), 2.0, bold=True)
            yield Words(139.5, y + 2.9, _cut(one.words, 38, 1.7), 1.7)
            return
        item = {item.tag: item for item in self.design.items}.get(row.ends_at.removeprefix("W-"))
        yield Words(139.5, y - 0.6, _cut(row.ends_at.removeprefix("W-"), 38, 2.2), 2.2, bold=True)
        yield Words(139.5, y + 2.9, _cut(item.name if item is not None else one.end, 38, 1.7), 1.7)

    def _way(self, one: Conductor, start: float, end: float, y: float, *, short: bool = False) -> Iterator[Mark]:
        """A level line with its fuse, tag, copper, length and drop over it, hardware under it."""
        fuse = start + 3.0
        yield Line(start, y, fuse, y, 0.5)
        if one.fuse_a is not None:
            yield Box(fuse, y - 1.7, 9, 3.4)
            yield Words(fuse + 4.5, y + 0.75, show(one.fuse_a, "A"), 1.8, "middle")
            yield Line(fuse + 9, y, end, y, 0.5)
        else:
            yield Line(fuse, y, end, y, 0.5)
        size = conductor_words(f"{one.count} x {one.size}" if one.count > 1 else one.size)
        drop = f" −{show(one.drop_share, '1')}" if one.drop_share is not None else ""
        long = show(one.length_m, "m", self.units)
        room = end - fuse - 11.5
        yield Words(fuse + 10.5, y - 3.4, _cut(one.tag, room, 2.0), 2.0, bold=True)
        yield Words(fuse + 10.5, y - 0.8, _cut(f"{size} {long}{drop}", room, 1.7), 1.7)
        if not short:
            yield Words(fuse + 10.5, y + 2.6, _cut(self._landed(one), room, 1.5), 1.5)

    def _landed(self, one: Conductor) -> str:
        start, end = one.start_on.split(", shrink")[0], one.end_on.split(", shrink")[0]
        first = f"{start}, {one.start_nm:g} N m" if one.start_nm is not None else start
        last = f"{end}, {one.end_nm:g} N m" if one.end_nm is not None else end
        return conductor_words(first if first == last else f"{first} – {last}")
