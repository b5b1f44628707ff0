"""Every conductor as it is cut: size, colour, length with slack and ends, what each end is landed with, its labels."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.cuts.cut import Cut, LandedBy, Landing, as_stated, cut_length, landed
from weighty_axle.answers.kept import kept
from weighty_axle.answers.wiring.bonding import bonds
from weighty_axle.answers.wiring.conduit import cores_of
from weighty_axle.answers.wiring.joints import Joint, WayEnd, joints, shrink_for, stud_row
from weighty_axle.answers.wiring.schedule import Conductor, gland, schedule
from weighty_axle.design.bank.links import in_service, pack_states, strings_of
from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.build import Build, Colour
from weighty_axle.job.models.document import WAS_THERE
from weighty_axle.job.models.wiring import StudSize

NO_SIZE = "none"
"""Size of a way that no conductor does: a rule stops there, and nothing can be cut."""

MODULE_LEAD_M = 1.0
"""Lead a module has of its own, each pole [m]; between middles that are farther apart a piece of cable goes in.

Source: common practice, no source.
"""

EARTH_M = 2.0
"""Length of an earth conductor that nobody has measured [m]. Source: common practice, no source."""


@kept(
    "system",
    "job.bank",
    "job.inverters",
    "job.practice",
    "job.roof",
    "job.wiring",
    "bank.sharing",
    "cables",
    "house",
    "roof.strings",
    "signals",
    "wiring",
    "whole.build.end_m",
    "whole.build.slack_share",
    asks_each=(joints, schedule),
)
def cuts(design: Design) -> tuple[Cut, ...]:
    """Every conductor of the whole job, system by system, in the order of the schedule.

    Source: lengths as the design has them; slack and ends as the job states them.
    """
    build = design.whole.build
    found: list[Cut] = []
    for own in (design, *design.others):
        found += (_named(one, prefix(design, own)) for one in _of_system(own, build))
    return tuple(_unlike(found))


def prefix(house: Design, own: Design) -> str:
    """What stands before tags of ways of another system, which may be called as the house's are."""
    return f"{own.system.key} " if own is not house and not own.system.shares_bank else ""


def _named(one: Cut, before: str) -> Cut:
    return replace(one, tag=f"{before}{one.tag}") if before else one


def _unlike(found: list[Cut]) -> Iterator[Cut]:
    """Each tag once: what two systems both list is one conductor."""
    seen: set[str] = set()
    for one in found:
        if one.tag not in seen:
            seen.add(one.tag)
            yield one


def _of_system(own: Design, build: Build) -> Iterator[Cut]:
    found = was_there(own)
    if not own.system.shares_bank:
        if not found:
            yield from _links(own)
        for joint in joints(own):
            if joint.size != NO_SIZE and not (found and joint.tag == MAIN_RUN):
                yield from _direct(own, joint, build)
    for one in schedule(own):
        if one.carries == "AC":
            yield _alternating(own, one, build)
    if not own.system.shares_bank:
        yield from _strings(own, build)
        yield from _elsewhere(own)
    if not found:
        yield from _earths(own, build)
    yield from _signals(own, build)


def was_there(own: Design) -> bool:
    """Whether the bank of a system, its bar and what joins them were on board before."""
    return own.job.bank.role in WAS_THERE


# ---- by what they carry ----


def _landing(end: WayEnd, tag: str, at: str, size: str) -> Landing:
    if end.stud is None:
        return landed(tag, at, "ferrule", f"ferrule {size}")
    hole = stud_row(end.stud).stud
    return Landing(
        at=at,
        by="lug",
        pieces=1,
        fitting=f"lug {size} × {hole}",
        stud=end.stud,
        shrink=end.shrink,
        boot=bool(end.boot),
        gland="",
        label=f"{tag} → {at}",
    )


_POLES: tuple[tuple[str, Colour], tuple[str, Colour]] = (("+", "red"), ("−", "black"))


def _direct(own: Design, joint: Joint, build: Build) -> Iterator[Cut]:
    """Both poles of a DC way, each with as many conductors as lie side by side."""
    unlike = next((one.lengths_m for one in own.job.wiring.abreast if one.run == joint.tag), ())
    for pole, colour in _POLES:
        for at in range(joint.count):
            tag = f"{joint.tag} {pole}{at + 1 if joint.count > 1 else ''}"
            route = unlike[at] if len(unlike) == joint.count else joint.length_m
            yield Cut(
                tag=tag,
                way=joint.tag,
                carries="DC",
                words=joint.words,
                size=joint.size,
                cores=1,
                colour=colour,
                insulation=f"{own.job.wiring.insulation_c} °C",
                cut_m=cut_length(tag, Given("Route", route, "m"), build),
                start=_landing(joint.start, tag, _of_pole(joint.start.at, pole), joint.size),
                end=_landing(joint.end, tag, _of_pole(joint.end.at, pole), joint.size),
                turn=joint.turn,
            )


def _of_pole(at: str, pole: str) -> str:
    """Where an end of a pole is: the plus as the way says, the minus beside it."""
    bare = at.removesuffix(" +")
    return at if pole == "+" and at != bare else f"{bare} {pole}"


def _links(own: Design) -> Iterator[Cut]:
    """Leads and links of packs, as the bank is linked."""
    bank, links = own.job.bank, own.job.bank.links
    strings = strings_of(pack_states(in_service(bank.packs)), bank.series)
    stud: StudSize = "M8"
    for at, part in enumerate(own.bank.sharing.paths):
        lead, link = part.name.startswith("lead of"), part.name.startswith("link")
        if not lead and not link:
            continue
        pole = "+" if "+" in part.start else "−"
        index = int(part.start[1:])
        step = links.lead_step_m if links.take_off == "bar_unequal" else 0.0
        length = links.lead_m + step * index if lead else links.link_m
        tag = f"BL{at + 1} {pole}"
        ends = [
            f"{strings[int(node[1:])][0].tag} {pole}" if node[1:].isdigit() else f"bank bar {pole}"
            for node in (part.start, part.end)
        ]
        yield _link(tag, part.name, links.size, length, "red" if pole == "+" else "black", ends, stud)
    for string in strings:
        for one, other in itertools.pairwise(string):
            tag = f"{one.tag}-{other.tag}"
            ends = [f"{one.tag} −", f"{other.tag} +"]
            yield _link(tag, "link in series", links.size, links.link_m, "black", ends, stud)


def _link(tag: str, words: str, size: str, length_m: float, colour: Colour, ends: list[str], stud: StudSize) -> Cut:
    made = [
        Landing(
            at=at,
            by="lug",
            pieces=1,
            fitting=f"lug {size} × {stud}",
            stud=stud,
            shrink=shrink_for(size),
            boot=True,
            gland="",
            label=f"{tag} → {at}",
        )
        for at in ends
    ]
    return Cut(
        tag=tag,
        way=tag,
        carries="DC",
        words=words,
        size=size,
        cores=1,
        colour=colour,
        insulation="as the runs",
        cut_m=as_stated(tag, length_m),
        start=made[0],
        end=made[1],
        turn="alike",
    )


def _alternating(own: Design, one: Conductor, build: Build) -> Cut:
    cores = cores_of(own, one)
    through = gland(outer_mm(one.size, cores))
    cord = one.tag.startswith("CORD-")
    route = Given("Route", one.length_m, "m")
    at_start, at_end = ("plug", "connector") if cord else ("ferrules", "ferrules")
    by: LandedBy = "plug" if cord else "ferrule"
    hole = "" if cord else through
    return Cut(
        tag=one.tag,
        way=one.tag,
        carries="AC",
        words=one.words,
        size=one.size,
        cores=cores,
        colour="cable",
        insulation="cord" if cord else "sheathed cable",
        cut_m=as_stated(one.tag, one.length_m) if cord else cut_length(one.tag, route, build),
        start=landed(one.tag, one.start, by, at_start, 1 if cord else cores, hole),
        end=landed(one.tag, one.end, by, at_end, 1 if cord else cores, hole),
        turn="",
    )


def _strings(own: Design, build: Build) -> Iterator[Cut]:
    """Both home runs of every string, and what goes in where modules are farther apart than their own leads reach."""
    roof = own.job.roof
    middles = {module.tag: (module.x_m, module.y_m) for module in roof.modules}
    down = {one.tag: one.length_m for one in own.cables if one.kind == "pv"}
    through = gland(outer_mm(roof.cable))
    controllers = {one.tag: one for one in roof.controllers}
    for string in own.roof.strings:
        one = controllers.get(string.controller)
        if not string.modules or one is None:
            continue
        entry = (one.entry_m if one.entry_m is not None else one.place.x_m, one.place.y_m)
        below = down[string.tag].value if string.tag in down else 0.0
        for pole, colour, module in (("+", "red", string.modules[0]), ("−", "black", string.modules[-1])):
            tag = f"{string.tag} {pole}"
            route = Figure.total(
                name=f"{tag} route",
                unit="m",
                formula="on the roof + down to the controller",
                inputs=(Given("On the roof", math.dist(entry, middles[module]), "m"), Given("Down", below, "m")),
                source=TEXTBOOK,
            )
            yield Cut(
                tag=tag,
                way=string.tag,
                carries="PV",
                words=f"{module} to {string.controller}",
                size=roof.cable,
                cores=1,
                colour="red" if colour == "red" else "black",
                insulation="for the sun, double",
                cut_m=cut_length(tag, route, build),
                start=landed(tag, f"{module} {pole}", "plug", "module plug"),
                end=landed(tag, f"{string.controller} PV {pole}", "ferrule", f"ferrule {roof.cable}", 1, through),
                turn="",
            )
        for at, (near, far) in enumerate(itertools.pairwise(string.modules), start=1):
            between = math.dist(middles[near], middles[far])
            if between > 2 * MODULE_LEAD_M:
                tag = f"{string.tag} piece {at}"
                yield Cut(
                    tag=tag,
                    way=string.tag,
                    carries="PV",
                    words=f"{near} to {far}",
                    size=roof.cable,
                    cores=1,
                    colour="black",
                    insulation="for the sun, double",
                    cut_m=cut_length(tag, Given("Between", between - 2 * MODULE_LEAD_M, "m"), build),
                    start=landed(tag, f"{near} −", "plug", "module plug"),
                    end=landed(tag, f"{far} +", "plug", "module plug"),
                    turn="",
                )


def _elsewhere(own: Design) -> Iterator[Cut]:
    """Cables of arrays that are not on the roof: plugs at both ends, both poles as long as is stated."""
    for array in own.job.roof.remote:
        for pole, colour in _POLES:
            tag = f"{array.tag} {pole}"
            yield Cut(
                tag=tag,
                way=array.tag,
                carries="PV",
                words=f"{array.name} to {array.controller}",
                size=array.size,
                cores=1,
                colour=colour,
                insulation="for the sun, double",
                cut_m=as_stated(tag, array.cable_m),
                start=landed(tag, f"{array.name} {pole}", "plug", "module plug"),
                end=landed(tag, f"socket of {array.controller} {pole}", "plug", "plug of its key"),
                turn="",
            )


def _earths(own: Design, build: Build) -> Iterator[Cut]:
    """Bonding conductors; the earths of feeders and circuits are cores of their cables."""
    before = f"{own.system.key} " if own.system.shares_bank else ""  # those of its bank are numbered by the bank
    for at, bond in enumerate(one for one in bonds(own) if not one.what.startswith("earth of")):
        tag = f"{before}E{at + 1}"
        stud: StudSize = "M8"
        ends = [
            Landing(
                at=place,
                by="lug",
                pieces=1,
                fitting=f"lug {bond.size} × {stud}",
                stud=stud,
                shrink=shrink_for(bond.size),
                boot=False,
                gland="",
                label=f"{tag} → {place}",
            )
            for place in (bond.start, bond.end)
        ]
        yield Cut(
            tag=tag,
            way=tag,
            carries="earth",
            words=bond.what,
            size=bond.size,
            cores=1,
            colour="green_yellow",
            insulation="as the runs",
            cut_m=cut_length(tag, Given("Taken, not measured", EARTH_M, "m"), build),
            start=ends[0],
            end=ends[1],
            turn="lay out first",
        )


def _signals(own: Design, build: Build) -> Iterator[Cut]:
    for one in own.signals:
        yield Cut(
            tag=one.tag,
            way=one.tag,
            carries="signal",
            words=one.name,
            size=one.lead.cable,
            cores=1,
            colour="cable",
            insulation="as it comes",
            cut_m=cut_length(one.tag, one.length_m, build),
            start=landed(one.tag, one.start, "as it comes", one.lead.name),
            end=landed(one.tag, one.end, "as it comes", one.lead.name),
            turn="",
        )
