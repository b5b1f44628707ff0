"""Ways to string the modules on the controllers there are, ranked by the year's energy, the cold margin and the
copper.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.answers.roof.sunny import SunnyPlace
from weighty_axle.answers.roof.yields import STEPS_PER_H, lights, module_w
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.derive import Deriver
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.roof.geometry import rope_m
from weighty_axle.design.roof.strings import cold_voc_v
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.roof import set_controllers
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Controller, Module, ModuleSpec, String, spec_of
from weighty_axle.job.tags import free_tags
from weighty_axle.physics.electric.conductors import copper_mass_kg
from weighty_axle.physics.solar import sun
from weighty_axle.physics.solar.photovoltaics import design_current_a
from weighty_axle.reference import tables

MOST_PLANS = 12
MOST_CONTROLLERS = 3


def _silent(_share: float, _words: str) -> None:
    """Progress nobody watches."""


class Strung(Struct, frozen=True, kw_only=True):
    """What one controller gets: strings of so many modules, and the modules of each string."""

    controller: str
    series: int
    strings: tuple[tuple[str, ...], ...]


class Plan(Struct, frozen=True, kw_only=True):
    """One way to string the roof: what each controller gets, modules left out, the year into the bank, what is cut off,
    margins, copper.

    `controllers` is the change to other controllers it is made for; None for those there are.
    """

    parts: tuple[Strung, ...]
    left_out: tuple[str, ...]
    year_wh: Figure
    cut_wh: Figure
    cold_margin_v: Figure
    copper_kg: Figure
    controllers: Edit | None = None

    @property
    def words(self) -> str:
        """The plan as people say it: CC1: 2 strings of 3."""
        return "; ".join(f"{part.controller}: {len(part.strings)} × {part.series}" for part in self.parts)

    @property
    def edit(self) -> Edit:
        """The change that strings the roof so."""

        def apply(job: Job) -> Job:
            kept = replace(
                job,
                roof=replace(
                    job.roof, strings=(), modules=tuple(replace(module, string="") for module in job.roof.modules)
                ),
            )
            tags, strings, owner = free_tags(kept, "string"), [], {}
            for part in self.parts:
                for rope in part.strings:
                    tag = next(tags)
                    strings.append(String(tag=tag, controller=part.controller, order=rope))
                    owner.update(dict.fromkeys(rope, tag))
            modules = tuple(replace(module, string=owner.get(module.tag, "")) for module in kept.roof.modules)
            return replace(kept, roof=replace(kept.roof, strings=tuple(strings), modules=modules))

        if self.controllers is None:
            return Edit(f"String the roof {self.words}", apply)
        first = self.controllers
        return Edit(f"{first.label}, strings {self.words}", lambda job: apply(first.apply(job)))


def string_plans(design: Design, place: SunnyPlace) -> tuple[Plan, ...]:
    """Every mix of string lengths and counts the controllers' windows and inputs take, of one type, best first.

    Modules are shared out so that a controller's lie together: one half of the roof each where there are two, else from
    front to rear.
    Source: sums; physics.sun for the year; NEC 690.8(A)(1), recalled, for the input current.
    """
    roof = design.job.roof
    spec = roof.module
    own = [module for module in roof.modules if spec_of(roof, module) == spec]
    if not own or not roof.controllers:
        return ()
    years = _Years(_per_w(design, place, spec), spec, design.job.roof.losses.shade)
    choices = [_choices(design, controller, len(own)) for controller in roof.controllers]
    seen, found = set[tuple[tuple[int, int], ...]](), []
    for mix in itertools.islice(itertools.product(*choices), 20_000):
        used = sum(series * strings for series, strings in mix)
        if not 0 < used <= len(own) or mix in seen:
            continue
        seen.add(mix)
        found.append((years.together(design, mix)[0], -used, mix))
    found.sort(key=lambda one: (-one[0], one[1]))
    return tuple(_plan(design, mix, own, years) for _, _, mix in found[:MOST_PLANS])


def controller_plans(
    design: Design, place: SunnyPlace, progress: Callable[[float, str], None] = _silent
) -> tuple[Plan, ...]:
    """The best way to string on every controller of the table that is bought by itself, one to three of them: most
    energy first, of equals the fewest and lightest.

    Source: as string_plans, for the job with those controllers.
    """
    deriver, found = Deriver(), []
    alone = [spec for spec in tables.controllers().rows if not spec.built_in]
    offers = [(spec, count) for spec in alone for count in range(1, MOST_CONTROLLERS + 1)]
    for at, (spec, count) in enumerate(offers):
        progress(at / len(offers), f"{count} × {spec.name}")
        change = set_controllers(spec, count)
        best = string_plans(deriver.derive(change.apply(design.job)), place)[:1]
        found += [(one, (count, spec.mass_kg)) for one in (replace(plan, controllers=change) for plan in best)]
    found.sort(key=lambda pair: (-round(pair[0].year_wh.value, -3), len(pair[0].left_out), pair[1]))
    progress(1.0, "")
    return tuple(plan for plan, _ in found[:MOST_PLANS])


def _choices(design: Design, controller: Controller, count: int) -> list[tuple[int, int]]:
    """Pairs of series length and strings a controller takes; (0, 0): none."""
    result = next(one for one in design.roof.controllers if one.tag == controller.tag)
    isc = design.job.roof.module.isc_a
    found = [(0, 0)]
    for series in range(max(1, result.fewest_in_series), min(count, result.most_in_series) + 1):
        enough = range(1, count // series + 1)
        found += [
            (series, strings)
            for strings in enough
            if design_current_a(isc_a=isc, strings=strings) <= controller.spec.max_isc_a
        ]
    return found


def _per_w(design: Design, place: SunnyPlace, spec: ModuleSpec) -> list[tuple[float, list[float]]]:
    """Days of the year each mean sky stands for, and the power into the controller of one module step by step, losses
    counted [W].
    """
    from weighty_axle.design.brief.seasons import MONTH_DAYS

    roof, losses = design.job.roof, design.job.roof.losses
    through = losses.soiling * losses.wiring * losses.mismatch * losses.controller
    found = []
    for days, light in zip(MONTH_DAYS, lights(place, roof.sky, design.job.site), strict=True):
        for share, plane in (
            (light.clear_share, light.clear.global_w_per_m2),
            (1 - light.clear_share, light.overcast_w_per_m2),
        ):
            cells = sun.cell_c(air_c=light.air_c, irradiance_w_per_m2=plane, rise_c=roof.rise_c)
            found.append((days * share, [float(one) for one in module_w(spec, plane, cells) * through if one > 0]))
    return found


class _Years:
    """Energy into the bank and energy cut off in the year [Wh] of so many modules on a controller of so much power;
    each case is worked out once.
    """

    def __init__(self, per_w: list[tuple[float, list[float]]], spec: ModuleSpec, through_shade: float) -> None:
        self._per_w, self._spec, self._through_shade = per_w, spec, through_shade
        self._whole = sum(days * sum(powers) for days, powers in per_w) / STEPS_PER_H
        self._known: dict[tuple[int, float], tuple[float, float]] = {}

    def of(self, count: int, limit_w: float) -> tuple[float, float]:
        """Of one controller."""
        if count * self._spec.pmp_w <= limit_w:  # it can never be cut
            return count * self._whole * self._through_shade, 0.0
        key = (count, round(limit_w, 3))
        if key not in self._known:
            given = (
                sum(days * sum(min(limit_w, count * power) for power in powers) for days, powers in self._per_w)
                / STEPS_PER_H
            )
            self._known[key] = (given * self._through_shade, count * self._whole - given)
        return self._known[key]

    def together(self, design: Design, mix: tuple[tuple[int, int], ...]) -> tuple[float, float]:
        """Of all controllers."""
        bank_v = design.bank.nominal_v.value
        parts = [
            self.of(series * strings, one.spec.output_a * bank_v)
            for (series, strings), one in zip(mix, design.job.roof.controllers, strict=True)
        ]
        return sum(part[0] for part in parts), sum(part[1] for part in parts)


def _plan(design: Design, mix: tuple[tuple[int, int], ...], own: list[Module], years: _Years) -> Plan:
    roof, site, spec = design.job.roof, design.job.site, design.job.roof.module
    several = sum(1 for series, _ in mix if series) > 1
    ordered = sorted(own, key=lambda one: ((one.y_m >= 0) if several else 0, one.x_m, one.y_m))
    parts, at = [], 0
    for (series, strings), controller in zip(mix, roof.controllers, strict=True):
        if series:
            made = [tuple(one.tag for one in ordered[at + n * series : at + (n + 1) * series]) for n in range(strings)]
            parts.append(Strung(controller=controller.tag, series=series, strings=tuple(made)))
            at += series * strings
    year, cut = years.together(design, mix)
    cold_each = cold_voc_v(spec, site.record_low_c)
    margins = [
        (min(controller.spec.max_pv_v, spec.system_limit_v) - series * cold_each, series)
        for (series, _), controller in zip(mix, roof.controllers, strict=True)
        if series
    ]
    margin, series = min(margins)
    length = sum(rope_m(roof, part.controller, modules) for part in parts for modules in part.strings)
    count = Given("Modules used", at, "count")
    return Plan(
        parts=tuple(parts),
        left_out=tuple(one.tag for one in ordered[at:]),
        year_wh=Figure(
            name="The year gives",
            value=year,
            unit="Wh",
            formula="Σ days × power of the modules, at most the controller's output",
            inputs=(count, Given("Rated power of one", spec.pmp_w, "W")),
            source=TEXTBOOK,
            limit="without shadows",
        ),
        cut_wh=Figure(
            name="Cut off in the year",
            value=cut,
            unit="Wh",
            formula="Σ what modules give over the controller's output",
            inputs=(count,),
            source=TEXTBOOK,
        ),
        cold_margin_v=Figure(
            name="Least cold margin",
            value=margin,
            unit="V",
            formula="limit − modules × Voc in the cold",
            inputs=(Given("In series", series, "count"), Given("Voc of one in the cold", cold_each, "V")),
            source=TEXTBOOK,
        ),
        copper_kg=Figure(
            name="Copper on the roof",
            value=copper_mass_kg(area_mm2=conductor_area_mm2(roof.cable), length_m=length),
            unit="kg",
            formula="length of all ropes × area × density",
            inputs=(Given("Length", length, "m"),),
            source=TEXTBOOK,
        ),
    )
