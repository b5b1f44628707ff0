"""Sheets: what can be stated of a thing, read from the models themselves: title, unit, bounds, help, choices.

A new field of a model stands on its sheet without another line of code.
"""

from __future__ import annotations

import functools
from collections.abc import Hashable, Iterator
from typing import Any, Literal, cast

from msgspec import Struct, inspect

from weighty_axle.job.models.document import Job
from weighty_axle.job.stated import Stated

Form = Literal["number", "whole", "text", "choice", "yes_no", "part", "entries", "values", "named"]
"""How a value is stated: a number with its unit, a whole number, words, one of several, yes or no, a part with fields
of its own, entries (parts in a row), values in a row, values by name.
"""

UNITS = {
    "_w_per_m2k": "W/(m²·K)",
    "_w_per_mk": "W/(m·K)",
    "_w_per_m2": "W/m²",
    "_m3_per_h": "m³/h",
    "_db": "dB",
    "_uf": "µF",
    "_l_per_h": "l/h",
    "_rpm": "1/min",
    "_kg_per_m2": "kg/m²",
    "_km_per_h": "km/h",
    "_per_c": "per °C",
    "_mm2": "mm2",
    "_m2": "m²",
    "_deg": "°",
    "_wh": "Wh",
    "_ah": "Ah",
    "_va": "VA",
    "_ohm": "ohm",
    "_kg": "kg",
    "_mm": "mm",
    "_ma": "mA",
    "_nm": "N m",
    "_min": "min",
    "_v": "V",
    "_a": "A",
    "_w": "W",
    "_n": "N",
    "_j": "J",
    "_m": "m",
    "_c": "degC",
    "_s": "s",
    "_h": "h",
}
"""Units by the end of a field's name, longest first."""
_BARE_UNITS = {"volts": "V", "amps": "A", "months": "months", "seconds": "s", "days": "days"}
REFERS: dict[str, tuple[str, ...]] = {
    "Source.inlet": ("inlet",),
    "Panel.fed_from": ("inlet", "selector", "panel", "inverter"),
    "Circuit.panel": ("panel",),
    "Circuit.shares_neutral": ("circuit",),
    "AcSide.inverters_fed_from": ("inlet", "selector", "panel"),
    "AcSide.second_input": ("inlet",),
    "Module.string": ("string",),
    "String.controller": ("controller",),
    "RemoteArray.controller": ("controller",),
    "Stay.day_kind": ("kind of day",),
    "Load.circuit": ("circuit", "DC circuit"),
    "Load.on": ("board", "inverter group"),
    "Controller.bar": ("board",),
    "Controller.unit": ("inverter",),
    "Group.bar": ("board",),
    "Converter.start": ("board",),
    "Converter.end": ("board",),
    "Alternator.bar": ("board",),
    "Load.charges": ("board",),
    "Signal.start": ("pack", "inverter", "board", "controller", "converter", "fitting", "outlet"),
    "Signal.end": ("pack", "inverter", "board", "controller", "converter", "fitting", "outlet"),
    "Outlet.start": ("inverter", "board", "controller", "converter", "panel", "DC panel", "fitting", "pack", "outlet"),
    "Lading.takes_from": ("lading",),
    "DcPanel.bar": ("board",),
    "DcCircuit.panel": ("DC panel",),
    "DcCircuit.bar": ("board",),
    "DcSwitch.feeds": ("DC panel",),
    "DcSwitch.now": ("board",),
    "Stay.source": ("source",),
}
"""Fields that name another thing, with the kinds of thing they may name."""


class StatedField(Struct, frozen=True, kw_only=True):
    """One field of a sheet. `part` is the class of a part or of each entry; `low` and `high` are the bounds."""

    name: str
    title: str
    help: str
    form: Form
    unit: str = ""
    low: float | None = None
    high: float | None = None
    most: int | None = None
    choices: tuple[Any, ...] = ()
    optional: bool = False
    part: type[Stated] | None = None
    refers: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """Title with help and bounds, as a tip tells them."""
        said = self.title + (f": {self.help}" if self.help else "")
        if self.low is not None and self.high is not None:
            said += f" ({self.low:g} to {self.high:g}{f' {self.unit}' if self.unit else ''})"
        return said


def sheet_of(kind: type[Any]) -> tuple[StatedField, ...]:
    """Fields of a class, in the order they are stated."""
    return _sheet(cast(Hashable, kind))


@functools.cache
def _sheet(kind: Hashable) -> tuple[StatedField, ...]:
    """A look-up in the models, which never change."""
    told = inspect.type_info(kind)
    assert isinstance(told, inspect.StructType)
    return tuple(_field(told.cls.__name__, field) for field in told.fields)


def _field(kind: str, field: inspect.Field) -> StatedField:
    inner, title, words = _plain(field.type)
    optional = isinstance(inner, inspect.UnionType)
    if isinstance(inner, inspect.UnionType):
        inner, _, _ = _plain(next(one for one in inner.types if not isinstance(one, inspect.NoneType)))
    name = field.name
    made: dict[str, Any] = {
        "name": name,
        "title": title or _title(name),
        "help": words,
        "optional": optional,
        "refers": REFERS.get(f"{kind}.{name}", ()),
    }
    return StatedField(**made, **_form(inner, name))


def _form(told: inspect.Type, name: str) -> dict[str, Any]:
    if isinstance(told, inspect.FloatType):
        return {"form": "number", "unit": _unit(name), "low": _bound(told.ge), "high": _bound(told.le)}
    if isinstance(told, inspect.IntType):
        return {"form": "whole", "unit": _unit(name), "low": _bound(told.ge), "high": _bound(told.le)}
    if isinstance(told, inspect.BoolType):
        return {"form": "yes_no"}
    if isinstance(told, inspect.LiteralType):
        return {"form": "choice", "choices": tuple(told.values)}
    if isinstance(told, inspect.StructType):
        return {"form": "part", "part": told.cls}
    if isinstance(told, inspect.DictType):
        return {"form": "named"}
    if isinstance(told, inspect.VarTupleType | inspect.TupleType):
        first, _, _ = _plain(told.item_type if isinstance(told, inspect.VarTupleType) else told.item_types[0])
        most = told.max_length if isinstance(told, inspect.VarTupleType) else len(told.item_types)
        if isinstance(first, inspect.StructType):
            return {"form": "entries", "part": first.cls, "most": most}
        return {"form": "values", "most": most}
    return {"form": "text"}


def _plain(told: inspect.Type) -> tuple[inspect.Type, str, str]:
    """A type without the words around it, its title and its help; the outermost words hold."""
    title = words = ""
    while isinstance(told, inspect.Metadata):
        extra = told.extra_json_schema or {}
        title, words = title or extra.get("title", ""), words or extra.get("description", "")
        told = told.type
    return told, title, words


def _bound(value: float | None) -> float | None:
    return None if value is None else float(value)


def _unit(name: str) -> str:
    return _BARE_UNITS.get(name) or next((unit for end, unit in UNITS.items() if name.endswith(end)), "")


def _title(name: str) -> str:
    return name.replace("_", " ").capitalize()


_CHOICES = {
    "": "none",
    "lfp": "LFP",
    "nmc": "NMC",
    "flooded": "lead-acid, flooded",
    "agm": "lead-acid, AGM",
    "leg_open": "a leg to be chosen",
    "AC": "the AC line",
    "DC_12": "12 V DC",
    "DC_24": "24 V DC",
    "DC_48": "48 V DC",
}


def choice_words(value: Any) -> str:
    """A choice as people read it."""
    return _CHOICES.get(value, str(value).replace("_", " "))


def stated_paths(job: Job) -> Iterator[tuple[str, StatedField]]:
    """Every field of a job with its path, parts and entries before what is in them."""
    yield from _paths(job, "")


def _paths(owner: Stated, base: str) -> Iterator[tuple[str, StatedField]]:
    for field in sheet_of(type(owner)):
        path, value = f"{base}{field.name}", getattr(owner, field.name)
        yield path, field
        if field.form == "part" and value is not None:
            yield from _paths(value, f"{path}.")
        elif field.form == "entries":
            for at, one in enumerate(value):
                yield from _paths(one, f"{path}[{getattr(one, 'tag', at)}].")
