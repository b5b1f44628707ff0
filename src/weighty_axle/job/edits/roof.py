"""Named changes to the roof: modules, obstacles, lanes, strings, arrays elsewhere."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.bank import GAP_M
from weighty_axle.job.edits.edit import Edit, EditRefusedError, value_at, with_value
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Controller, ControllerSpec, Lane, Obstacle, RemoteArray, String
from weighty_axle.job.tags import next_tag


def move_on_roof(tag: str, x_m: float, y_m: float, merge: str = "") -> Edit:
    """Put the centre of a module or an obstacle at a point of the roof."""

    def apply(job: Job) -> Job:
        group = next(
            name for name in ("modules", "obstacles", "lanes") if any(one.tag == tag for one in getattr(job.roof, name))
        )
        path = f"roof.{group}[{tag}]"
        return with_value(job, path, replace(value_at(job, path), x_m=round(x_m, 3), y_m=round(y_m, 3)))

    return Edit(f"Move {tag}", apply, merge)


def add_obstacle() -> Edit:
    """A new obstacle of half a metre in the middle of the roof."""

    def apply(job: Job) -> Job:
        roof = job.roof
        middle = round((roof.start_m + roof.end_m) / 2, 2)
        made = Obstacle(
            tag=next_tag(job, "obstacle"),
            name="New obstacle",
            x_m=middle,
            y_m=0.0,
            length_m=0.5,
            width_m=0.5,
            height_m=0.15,
        )
        return replace(job, roof=replace(roof, obstacles=(*roof.obstacles, made)))

    return Edit("Add an obstacle", apply)


def turn_module(tag: str) -> Edit:
    """Turn a module by a quarter."""
    return Edit(
        f"Turn {tag}",
        lambda job: with_value(job, f"roof.modules[{tag}].turned", not value_at(job, f"roof.modules[{tag}].turned")),
    )


def new_string(tag: str, controller: str) -> Edit:
    """Put a module on a new string of a controller."""

    def apply(job: Job) -> Job:
        string = String(tag=next_tag(job, "string"), controller=controller)
        grown = replace(job, roof=replace(job.roof, strings=(*job.roof.strings, string)))
        return with_value(grown, f"roof.modules[{tag}].string", string.tag)

    return Edit(f"New string on {controller} with {tag}", apply)


def take_module_out(string: str) -> Edit:
    """One module fewer in a string: the rearmost stays on the roof, unassigned."""

    def apply(job: Job) -> Job:
        rear = max((module for module in job.roof.modules if module.string == string), key=lambda module: module.x_m)
        return with_value(job, f"roof.modules[{rear.tag}].string", "")

    return Edit(f"Take one module out of {string}", apply)


def move_all_on_roof(tags: tuple[str, ...], dx_m: float, dy_m: float, merge: str = "") -> Edit:
    """Shift several modules, obstacles or lanes together."""

    def apply(job: Job) -> Job:
        # Another system may have come on show while a hand still drags: its roof has other things.
        there = [
            one for group in (job.roof.modules, job.roof.obstacles, job.roof.lanes) for one in group if one.tag in tags
        ]
        if not there:
            raise EditRefusedError(f"{' and '.join(tags)} is not on the roof of this system.")
        for one in there:
            job = move_on_roof(one.tag, one.x_m + dx_m, one.y_m + dy_m).apply(job)
        return job

    return Edit(f"Move {tags[0]}" + (f" and {len(tags) - 1} more" if len(tags) > 1 else ""), apply, merge)


def align_on_roof(tags: tuple[str, ...], across: bool) -> Edit:
    """Put modules on one line: the first one's place across the roof (a row), or along it (a column)."""

    def apply(job: Job) -> Job:
        first = next(module for module in job.roof.modules if module.tag == tags[0])
        for tag in tags[1:]:
            one = next(each for each in job.roof.modules if each.tag == tag)
            job = move_on_roof(tag, one.x_m if across else first.x_m, first.y_m if across else one.y_m).apply(job)
        return job

    return Edit(f"Align {len(tags)} modules", apply)


def add_lane() -> Edit:
    """A lane half a metre wide along the middle of the roof."""

    def apply(job: Job) -> Job:
        roof = job.roof
        made = Lane(
            tag=next_tag(job, "lane"),
            name="Walk lane",
            x_m=round((roof.start_m + roof.end_m) / 2, 2),
            y_m=0.0,
            length_m=1.5,
            width_m=0.4,
        )
        return replace(job, roof=replace(roof, lanes=(*roof.lanes, made)))

    return Edit("Add a lane", apply)


def click_into_string(tag: str, string: str) -> Edit:
    """Put a module at the end of a string's rope, or take it out when it is on it already."""

    def apply(job: Job) -> Job:
        module = next((one for one in job.roof.modules if one.tag == tag), None)
        if module is None:
            raise EditRefusedError(f"There is no module {tag} any more.")
        out = module.string == string
        strings = tuple(
            replace(
                one,
                order=tuple(each for each in _rope(job, one) if each != tag)
                + ((tag,) if one.tag == string and not out else ()),
            )
            for one in job.roof.strings
        )
        modules = tuple(
            replace(one, string="" if out else string) if one.tag == tag else one for one in job.roof.modules
        )
        return replace(job, roof=replace(job.roof, strings=strings, modules=modules))

    return Edit(f"{tag} on {string}", apply)


def _rope(job: Job, string: String) -> tuple[str, ...]:
    """Tags of a string in the order of its rope."""
    place = {tag: at for at, tag in enumerate(string.order)}
    own = sorted(
        (module for module in job.roof.modules if module.string == string.tag),
        key=lambda module: (place.get(module.tag, len(place)), module.x_m, module.y_m),
    )
    return tuple(one.tag for one in own)


def add_remote(controller: str) -> Edit:
    """An array on the ground, on a controller: as many modules in series as the strings that are there, two where there
    are none.
    """

    def apply(job: Job) -> Job:
        beside = [string.tag for string in job.roof.strings if string.controller == controller]
        lengths = [count for tag in beside if (count := sum(module.string == tag for module in job.roof.modules))]
        made = RemoteArray(
            tag=next_tag(job, "array"),
            name="Ground array",
            controller=controller,
            module=job.roof.module,
            plug=f"key {len(job.roof.remote) + 1}",
            series=min(lengths, default=2),
        )
        return replace(job, roof=replace(job.roof, remote=(*job.roof.remote, made)))

    return Edit("Add an array elsewhere", apply)


def set_controllers(spec: ControllerSpec, count: int) -> Edit:
    """Other charge controllers: type and number.

    They keep tags and places, new ones stand beside the last; strings of those that go move to the first.
    """

    def apply(job: Job) -> Job:
        roof = job.roof
        kept = [replace(controller, spec=spec) for controller in roof.controllers[:count]]
        while len(kept) < count:
            place = kept[-1].place if kept else job.wiring.board.place
            beside = replace(place, x_m=round(place.x_m + spec.size.length_m + GAP_M, 3))
            grown = replace(job, roof=replace(roof, controllers=(*roof.controllers, *kept)))
            kept.append(Controller(tag=next_tag(grown, "controller"), spec=spec, place=beside))
        tags = {one.tag for one in kept}
        strings = tuple(
            string if string.controller in tags else replace(string, controller=kept[0].tag) for string in roof.strings
        )
        remote = tuple(
            array if array.controller in tags else replace(array, controller=kept[0].tag) for array in roof.remote
        )
        return replace(job, roof=replace(roof, controllers=tuple(kept), strings=strings, remote=remote))

    return Edit(f"{count} × {spec.name}", apply)
