"""Datasheets an installer keeps for later jobs: one file in the user's data folder, all kinds of part together."""

from __future__ import annotations

from pathlib import Path
from typing import Any, get_args, get_type_hints

import msgspec
from msgspec.structs import replace

from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing
from weighty_axle.job.models.bank import PackSpec
from weighty_axle.job.models.charging import ConverterSpec
from weighty_axle.job.models.inverters import InverterSpec
from weighty_axle.job.models.roof import ControllerSpec, ModuleSpec
from weighty_axle.reference import tables

Datasheet = PackSpec | InverterSpec | ModuleSpec | ControllerSpec | ConverterSpec


class OwnTypes(msgspec.Struct, frozen=True):
    """Kept datasheets by the kind of part."""

    packs: tuple[PackSpec, ...] = ()
    inverters: tuple[InverterSpec, ...] = ()
    modules: tuple[ModuleSpec, ...] = ()
    controllers: tuple[ControllerSpec, ...] = ()
    converters: tuple[ConverterSpec, ...] = ()

    def of(self, kind: type[Datasheet]) -> tuple[Datasheet, ...]:
        """Those of one kind."""
        found: tuple[Datasheet, ...] = getattr(self, LISTS[kind])
        return found

    def all(self) -> tuple[Datasheet, ...]:
        """Every one."""
        return (*self.packs, *self.inverters, *self.modules, *self.controllers, *self.converters)


LISTS: dict[type[Datasheet], str] = {get_args(hint)[0]: name for name, hint in get_type_hints(OwnTypes).items()}
"""Name of the list each kind of datasheet is kept in."""


def typical(kind: type[Any]) -> tuple[Datasheet, ...]:
    """Typical rows of a kind, as shipped; none of a class that is no datasheet."""
    shipped: dict[type[Any], tuple[Datasheet, ...]] = {
        PackSpec: tables.packs().rows,
        InverterSpec: tables.inverters().rows,
        ModuleSpec: tables.modules().rows,
        ControllerSpec: tables.controllers().rows,
        ConverterSpec: tables.converters().rows,
    }
    return shipped.get(kind, ())


def read_own(path: Path) -> OwnTypes:
    """Types kept in a file; none when there is no file. Raises ValueError with a sentence when it is damaged."""
    if not path.exists():
        return OwnTypes()
    try:
        raw = read_whole(path, limits.OWN_FILE_BYTES, "a file of own types")
        return msgspec.json.decode(raw, type=OwnTypes)
    except UnreadableError as error:
        raise ValueError(str(error)) from error
    except (msgspec.MsgspecError, RecursionError) as error:
        raise ValueError(f"Your own types in {path} cannot be read ({error}).") from error


def keep(path: Path, types: tuple[Datasheet, ...]) -> None:
    """Keep datasheets for later jobs, whole or not at all; one of the same name and kind is replaced.

    Raises: OSError, ValueError with a sentence; the file is as it was then.
    """
    kept = read_own(path)
    for one in types:
        name = LISTS[type(one)]
        others = tuple(other for other in getattr(kept, name) if other.name != one.name)
        kept = replace(kept, **{name: (*others, one)})
    path.parent.mkdir(parents=True, exist_ok=True)
    with replacing(path, follow=True) as file:
        file.write(msgspec.json.format(msgspec.json.encode(kept)))
