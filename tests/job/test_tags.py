from __future__ import annotations

import typing

from msgspec.structs import replace

from weighty_axle.job.checks.whole import problems
from weighty_axle.job.models.document import Job, items
from weighty_axle.job.stated import Stated
from weighty_axle.job.tags import KINDS, next_tag, tagged, used_tags


def test_no_tag_is_given_twice(library_bus):
    used = used_tags(library_bus)
    assert {"MAIN", "INLET", "INVERTERS", "ROOF", "CAB"} <= used and next_tag(library_bus, "equipment") not in used
    for tag in ("EX1", "ST1", library_bus.roof.strings[0].tag, library_bus.vehicle.bays[0].tag):
        assert problems(replace(library_bus, loads=(replace(library_bus.loads[0], tag=tag), *library_bus.loads[1:])))


def _tagged_paths(kind, path=""):
    """Every place in the models where things with a tag are stated."""
    for name, hint in typing.get_type_hints(kind).items():
        here, inner = f"{path}.{name}".lstrip("."), typing.get_args(hint)
        one = inner[0] if typing.get_origin(hint) is tuple and inner[1:] == (...,) else hint
        one = next((part for part in typing.get_args(one) if part is not type(None)), one)
        if isinstance(one, type) and issubclass(one, Stated):
            if "tag" in one.__struct_fields__:
                yield here
            yield from _tagged_paths(one, here)


def test_everything_with_a_tag_is_registered(clinic):
    paths = [path for kind in KINDS for path in kind.paths]
    # Things of a variant stand in no list but their own design's: it is turned to as a whole.
    assert sorted(paths) == sorted(path for path in _tagged_paths(Job) if not path.startswith("variants."))
    assert len({kind.stem for kind in KINDS}) == len({kind.word for kind in KINDS}) == len(KINDS)
    placed = [thing.tag for kind, thing in tagged(clinic) if kind.placed]
    assert placed == [item.tag for item in items(clinic)]
