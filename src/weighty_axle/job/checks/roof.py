"""What a roof cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Roof


def roof_problems(job: Job) -> Iterator[Problem]:
    """Modules, strings, controllers and arrays that name what is not there, and datasheets that cannot be."""
    roof = job.roof
    if roof.start_m >= roof.end_m:
        yield Problem("roof.start_m", "The roof ends before it starts.")
    names = [roof.module.name, *(spec.name for spec in roof.more_modules)]
    if len(set(names)) < len(names):
        yield Problem("roof.more_modules", "Two module types have one name.")
    if roof.sky.air_c and len(roof.sky.air_c) != 12:
        yield Problem("roof.sky.air_c", "Air by month needs twelve values.")
    yield from _datasheet_problems(roof)
    yield from _reference_problems(roof, names, {stay.tag for stay in job.stays})


def _datasheet_problems(roof: Roof) -> Iterator[Problem]:
    specs = {
        "roof.module": roof.module,
        **{f"roof.more_modules[{at}]": spec for at, spec in enumerate(roof.more_modules)},
    }
    specs |= {f"roof.remote[{array.tag}].module": array.module for array in roof.remote}
    for place, module in specs.items():
        if module.vmp_v >= module.voc_v:
            yield Problem(f"{place}.vmp_v", "Vmp must be below Voc.")
        if module.imp_a >= module.isc_a:
            yield Problem(f"{place}.imp_a", "Imp must be below Isc.")


def _reference_problems(roof: Roof, names: list[str], stays: set[str]) -> Iterator[Problem]:
    """Strings, types, controllers and stays that are named and are not there."""
    strings = {string.tag for string in roof.strings}
    controllers = {controller.tag for controller in roof.controllers}
    for module in roof.modules:
        if module.string and module.string not in strings:
            yield Problem(f"roof.modules[{module.tag}].string", f"There is no string {module.string}.")
        if module.kind and module.kind not in names:
            yield Problem(f"roof.modules[{module.tag}].kind", f"There is no module type {module.kind}.")
    for array in roof.remote:
        if array.controller not in controllers:
            yield Problem(f"roof.remote[{array.tag}].controller", f"There is no controller {array.controller}.")
        for stay in array.stays:
            if stay not in stays:
                yield Problem(f"roof.remote[{array.tag}].stays", f"There is no stay {stay}.")
    for string in roof.strings:
        if string.controller not in controllers:
            yield Problem(f"roof.strings[{string.tag}].controller", f"There is no controller {string.controller}.")
