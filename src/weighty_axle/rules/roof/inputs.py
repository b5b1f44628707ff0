"""Rules of solar inputs built into inverters."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import InverterSpec
from weighty_axle.rules.registry import Hit, amps, hit, rule


def _integrated(design: Design) -> Iterator[tuple[str, InverterSpec, tuple[str, ...]]]:
    """Inverters with the tags of the inputs stated to be built into them."""
    for stack in (design.job.inverters, *(group.inverters for group in design.whole.groups)):
        for unit in stack.units:
            inputs = tuple(one.tag for one in design.job.roof.controllers if one.unit == unit.tag)
            if inputs:
                yield unit.tag, stack.spec, inputs


@rule(
    "roof.inputs-too-many",
    "stop",
    "{unit} has {has} solar inputs; {stated} are stated to be built into it.",
    "inverter datasheet",
)
def inputs_too_many(design: Design) -> Iterator[Hit]:
    """More inputs than the unit has."""
    for unit, spec, inputs in _integrated(design):
        if len(inputs) > spec.solar_inputs:
            yield hit(unit, *inputs, unit=unit, has=str(spec.solar_inputs), stated=str(len(inputs)))


@rule(
    "roof.input-alone",
    "stop",
    "{controller} is an input built into an inverter, and no inverter is named: by itself there is no such part.",
    "datasheet",
    "Name the inverter it is an input of, or take a controller that is bought by itself.",
)
def input_alone(design: Design) -> Iterator[Hit]:
    """An input of an inverter that is stated as a controller of its own."""
    for one in design.job.roof.controllers:
        if one.spec.built_in and not one.unit:
            yield hit(one.tag, controller=one.tag)


@rule(
    "roof.inputs-power",
    "check",
    "The modules on {unit} are rated {rated}; its solar inputs take {limit} together, the rest is lost at noon.",
    "inverter datasheet",
)
def inputs_power(design: Design) -> Iterator[Hit]:
    """Rated power above what all inputs of a unit take."""
    rated = {one.tag: one.rated_w.value for one in design.roof.controllers}
    elsewhere = dict.fromkeys(rated, 0.0)
    for array in design.remote:
        elsewhere[array.controller] = elsewhere.get(array.controller, 0.0) + array.rated_w.value
    for unit, spec, inputs in _integrated(design):
        total = sum(rated[tag] + elsewhere[tag] for tag in inputs)
        if spec.solar_w is not None and over(total, spec.solar_w):
            yield hit(unit, *inputs, unit=unit, rated=Given("", total, "W"), limit=Given("", spec.solar_w, "W"))


@rule(
    "roof.inputs-share",
    "note",
    "The solar inputs of {unit} together give {sum}; they share a limit of {limit}.",
    "inverter datasheet",
)
def inputs_share(design: Design) -> Iterator[Hit]:
    """Inputs that together pass what the unit lets into the bank."""
    given = {one.tag: one.output_a.value for one in design.roof.controllers}
    for unit, spec, inputs in _integrated(design):
        total = sum(given[tag] for tag in inputs)
        if spec.solar_charge_a is not None and over(total, spec.solar_charge_a):
            yield hit(unit, *inputs, unit=unit, sum=amps(total), limit=amps(spec.solar_charge_a))
