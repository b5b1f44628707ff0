"""Named changes to the roof: modules, obstacles, lanes, strings, arrays elsewhere."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits import GAP_M, Edit, next_tag, value_at, with_value
from weighty_axle.job.model import Job
from weighty_axle.job.roof import Module, Obstacle, String


def move_on_roof(tag: str, x_m: float, y_m: float, merge: str = "") -> Edit:
    """Put the centre of a module or an obstacle at a point of the roof."""

    def apply(job: Job) -> Job:
        group = "modules" if any(one.tag == tag for one in job.roof.modules) else "obstacles"
        path = f"roof.{group}[{tag}]"
        return with_value(job, path, replace(value_at(job, path), x_m=round(x_m, 3), y_m=round(y_m, 3)))

    return Edit(f"Move {tag}", apply, merge)


def add_obstacle() -> Edit:
    """A new obstacle of half a metre in the middle of the roof."""

    def apply(job: Job) -> Job:
        roof = job.roof
        middle = round((roof.start_m + roof.end_m) / 2, 2)
        made = Obstacle(tag=next_tag(job, "OB"), name="New obstacle", x_m=middle, y_m=0.0, length_m=0.5, width_m=0.5, height_m=0.15)
        return replace(job, roof=replace(roof, obstacles=(*roof.obstacles, made)))

    return Edit("Add an obstacle", apply)


def turn_module(tag: str) -> Edit:
    """Turn a module by a quarter."""
    return Edit(f"Turn {tag}", lambda job: with_value(job, f"roof.modules[{tag}].turned", not value_at(job, f"roof.modules[{tag}].turned")))


def add_module(string: str) -> Edit:
    """One more module on a string, behind the rearmost module."""

    def apply(job: Job) -> Job:
        roof = job.roof
        step = roof.module.width_m if roof.modules and roof.modules[-1].turned else roof.module.length_m
        rear = max(roof.modules, key=lambda one: one.x_m, default=None)
        new = Module(
            tag=next_tag(job, "PV"),
            x_m=round(rear.x_m + step + GAP_M, 3) if rear else round(roof.start_m + step, 3),
            y_m=rear.y_m if rear else 0.0,
            turned=rear.turned if rear else False,
            string=string,
        )
        return replace(job, roof=replace(roof, modules=(*roof.modules, new)))

    return Edit(f"Add a module to {string}" if string else "Add a module", apply)


def new_string(tag: str, controller: str) -> Edit:
    """Put a module on a new string of a controller."""

    def apply(job: Job) -> Job:
        string = String(tag=next_tag(job, "S"), controller=controller)
        grown = replace(job, roof=replace(job.roof, strings=(*job.roof.strings, string)))
        return with_value(grown, f"roof.modules[{tag}].string", string.tag)

    return Edit(f"New string on {controller} with {tag}", apply)


def take_module_out(string: str) -> Edit:
    """One module fewer in a string: the rearmost stays on the roof, unassigned."""

    def apply(job: Job) -> Job:
        rear = max((one for one in job.roof.modules if one.string == string), key=lambda one: one.x_m)
        return with_value(job, f"roof.modules[{rear.tag}].string", "")

    return Edit(f"Take one module out of {string}", apply)
