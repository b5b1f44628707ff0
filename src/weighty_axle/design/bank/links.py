"""How the packs share the bank's current, by the resistances of packs, links, leads and bars."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.conductors import conductor_ohm_per_km
from weighty_axle.job.models.bank import Links, Pack, PackSpec, TakeOff
from weighty_axle.physics.electric.conductors import COPPER_RESISTIVITY_20C
from weighty_axle.physics.electric.network import Branch, opened_one_by_one, solve

TAKE_OFF_WORDS: dict[TakeOff, str] = {
    "bar_equal": "common bars, equal leads",
    "opposite_ends": "linked, taken off at opposite ends",
    "same_end": "linked, both taken off at one end",
    "middle": "linked, taken off in the middle",
    "bar_unequal": "common bars, leads as they come",
    "groups": "groups at opposite ends, on common bars",
}


class PackState(Struct, frozen=True, kw_only=True):
    """What sharing needs to know of one pack, wherever it stands."""

    tag: str
    resistance_factor: float
    out: bool


def in_service(packs: tuple[Pack, ...]) -> tuple[tuple[str, float, bool], ...]:
    """Of every pack its tag, resistance factor and whether it is out: moving a pack changes none of it."""
    return tuple((pack.tag, pack.resistance_factor, pack.out) for pack in packs)


def pack_states(packs: tuple[tuple[str, float, bool], ...]) -> tuple[PackState, ...]:
    """States from tag, resistance factor and whether it is out: places left away, so that moving a pack changes nothing
    here.
    """
    return tuple(PackState(tag=tag, resistance_factor=factor, out=out) for tag, factor, out in packs)


class LinkPart(Struct, frozen=True, kw_only=True):
    """One conductor between packs, bars and terminals: its share of the bank's current (signed) and resistance
    [ohm].
    """

    name: str
    start: str
    end: str
    ohm: float
    share: float


class StringShare(Struct, frozen=True, kw_only=True):
    """One string (packs in series): its share of the current, and that over the mean. Both are 0 when it is out."""

    tags: tuple[str, ...]
    share: float
    of_mean: float


class Sharing(Struct, frozen=True, kw_only=True):
    """How one ampere of the bank divides.

    `spread` is the largest share over the mean; `ohm` the resistance between the bank's terminals.
    """

    take_off: TakeOff
    strings: tuple[StringShare, ...]
    paths: tuple[LinkPart, ...]
    spread: float
    first: str
    ohm: float

    def total_a(self, limit_each_a: float) -> float:
        """The bank's current at which the busiest string reaches its limit [A]."""
        return limit_each_a / max(string.share for string in self.strings)


def strings_of(packs: tuple[PackState, ...], series: int) -> tuple[tuple[PackState, ...], ...]:
    """Packs string by string, in the order they are named."""
    return tuple(packs[index : index + series] for index in range(0, len(packs) - series + 1, series))


def sharing(
    spec: PackSpec, series: int, packs: tuple[PackState, ...], links: Links, take_off: TakeOff | None = None
) -> Sharing:
    """Current of every string per ampere of the bank, packs being at the same state of charge.

    Raises: ValueError for an unknown conductor size, or when no string is in service.
    Source: physics.network (Kirchhoff); see docs/methods.md.
    """
    chosen = take_off or links.take_off
    strings = strings_of(packs, series)
    working, branches, wires = _network(spec, strings, links, chosen)
    # One ampere is drawn at the positive terminal and comes back at the negative one; equal forces in all packs drop
    # out.
    solved = solve(branches, drawn_a={"+": 1.0}, ground="-")
    shares = dict.fromkeys(range(len(strings)), 0.0) | dict(zip(working, solved.branch_a, strict=False))
    mean = 1 / len(working)
    busiest = max(working, key=lambda index: shares[index])
    paths = tuple(
        LinkPart(name=name, start=start, end=end, ohm=ohm, share=amps)
        for (name, start, end, ohm), amps in zip(wires, solved.branch_a[len(working) :], strict=True)
    )
    return Sharing(
        take_off=chosen,
        strings=tuple(
            StringShare(tags=tuple(one.tag for one in string), share=shares[index], of_mean=shares[index] / mean)
            for index, string in enumerate(strings)
        ),
        paths=paths,
        spread=shares[busiest] / mean,
        first=strings[busiest][0].tag,
        ohm=-solved.node_v["+"],
    )


CABLES = ("link", "lead")
"""How the names of conductors begin that are cables; bars and terminals are not."""


class Cable(Struct, frozen=True, kw_only=True):
    """The busiest link or lead: its name and its share of the bank's current, with every string in and with the string
    out that burdens it most.
    """

    name: str
    share: float
    one_out: float


class OneOut(Struct, frozen=True):
    """The busiest string's share of the bank's current with each string out in turn (none where there is one string
    only), and the busiest cable.
    """

    strings: tuple[float, ...]
    cable: Cable | None


def one_out(spec: PackSpec, series: int, packs: tuple[PackState, ...], links: Links, shared: Sharing) -> OneOut:
    """What the loss of any one string does to the others and to the cables between them.

    Raises: ValueError for an unknown conductor size.
    Source: physics.network (superposition).
    """
    working, branches, wires = _network(spec, strings_of(packs, series), links, links.take_off)
    each = (
        opened_one_by_one(branches, drawn_a={"+": 1.0}, ground="-", indices=range(len(working)))
        if len(working) > 1
        else []
    )
    cables = [
        Cable(name=path.name, share=abs(path.share), one_out=abs(path.share))
        for path in shared.paths
        if path.name.startswith(CABLES)
    ]
    if each:
        worst = [max(abs(amps[len(working) + at]) for amps in each) for at in range(len(wires))]
        cables = [
            Cable(name=wire[0], share=abs(path.share), one_out=most)
            for wire, path, most in zip(wires, shared.paths, worst, strict=True)
            if wire[0].startswith(CABLES)
        ]
    if series > 1:
        largest = max(string.share for string in shared.strings)
        cables.append(
            Cable(
                name="link between packs in series",
                share=largest,
                one_out=max((max(amps[: len(working)]) for amps in each), default=largest),
            )
        )
    return OneOut(
        tuple(max(amps[: len(working)]) for amps in each),
        max(cables, key=lambda one: max(one.share, one.one_out), default=None),
    )


def _network(
    spec: PackSpec, strings: tuple[tuple[PackState, ...], ...], links: Links, take_off: TakeOff
) -> tuple[list[int], list[Branch], list[Wire]]:
    """Strings in service, the branches (those strings first, then the wires), and the wires by name."""
    working = [index for index, string in enumerate(strings) if not any(pack.out for pack in string)]
    ohm_per_m = conductor_ohm_per_km(links.size) / 1000
    wires = _wires(take_off, len(strings), links, ohm_per_m)
    branches = [
        Branch(f"-{index}", f"+{index}", _string_ohm(spec, strings[index], links, ohm_per_m)) for index in working
    ]
    branches += [Branch(start, end, ohm) for _, start, end, ohm in wires]
    return working, branches, wires


def _string_ohm(spec: PackSpec, string: tuple[PackState, ...], links: Links, ohm_per_m: float) -> float:
    """Packs of a string and the links between them."""
    return sum(spec.resistance_ohm * pack.resistance_factor for pack in string) + (len(string) - 1) * _link_ohm(
        links.link_m, links, ohm_per_m
    )


def _link_ohm(length_m: float, links: Links, ohm_per_m: float) -> float:
    return length_m * ohm_per_m + 2 * links.lug_ohm


Wire = tuple[str, str, str, float]
"""Name, from, to, resistance [ohm]."""


def _wires(take_off: TakeOff, count: int, links: Links, ohm_per_m: float) -> list[Wire]:
    """Conductors between the strings' poles (`+0`, `-0`, ...) and the bank's terminals (`+`, `-`)."""
    if take_off == "groups":
        return _grouped(count, links, ohm_per_m)
    if take_off in ("bar_equal", "bar_unequal"):
        step = links.lead_step_m if take_off == "bar_unequal" else 0.0
        wires = []
        for pole in "+-":
            leads = [
                (f"{pole}{index}", _link_ohm(links.lead_m + step * index, links, ohm_per_m)) for index in range(count)
            ]
            wires += _barred(pole, leads, links, from_end=pole == "-")
        return wires
    link = _link_ohm(links.link_m, links, ohm_per_m)
    last = count - 1
    at = {"same_end": (0, 0), "opposite_ends": (0, last), "middle": (last // 2, last - last // 2)}[take_off]
    wires = [
        (f"link {pole}{index + 1}–{index + 2}", f"{pole}{index}", f"{pole}{index + 1}", link)
        for pole in "+-"
        for index in range(last)
    ]
    return [
        *wires,
        *(
            (f"terminal {pole}", f"{pole}{index}", pole, 2 * links.lug_ohm)
            for pole, index in zip("+-", at, strict=True)
        ),
    ]


def _barred(pole: str, leads: list[tuple[str, float]], links: Links, *, from_end: bool) -> list[Wire]:
    """Leads onto a bar with its own segments; the terminal is at the first way, or at the last one for the other
    pole.
    """
    segment = COPPER_RESISTIVITY_20C * links.bar_pitch_m / (links.bar_mm2 * 1e-6)
    wires = [(f"lead of {node}", node, f"bar{pole}{way}", ohm) for way, (node, ohm) in enumerate(leads)]
    wires += [
        (f"bar {pole}{way + 1}–{way + 2}", f"bar{pole}{way}", f"bar{pole}{way + 1}", segment)
        for way in range(len(leads) - 1)
    ]
    return [*wires, (f"terminal {pole}", f"bar{pole}{len(leads) - 1 if from_end else 0}", pole, segment)]


def _grouped(count: int, links: Links, ohm_per_m: float) -> list[Wire]:
    """Groups linked within and taken off at opposite ends, each on the bars by equal leads."""
    link, lead = _link_ohm(links.link_m, links, ohm_per_m), _link_ohm(links.lead_m, links, ohm_per_m)
    wires: list[Wire] = []
    ends: dict[str, list[tuple[str, float]]] = {"+": [], "-": []}
    for first in range(0, count, links.group_size):
        last = min(first + links.group_size, count) - 1
        wires += [
            (f"link {pole}{index + 1}–{index + 2}", f"{pole}{index}", f"{pole}{index + 1}", link)
            for pole in "+-"
            for index in range(first, last)
        ]
        ends["+"].append((f"+{first}", lead))
        ends["-"].append((f"-{last}", lead))
    for pole in "+-":
        wires += _barred(pole, ends[pole], links, from_end=pole == "-")
    return wires
