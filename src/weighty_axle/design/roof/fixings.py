"""What holds the modules down: lift of the wind at speed against the fixings, weight on the roof, members under the
feet.
"""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.roof.geometry import module_boxes
from weighty_axle.job.models.roof import Roof, spec_of
from weighty_axle.physics.body.wind import dynamic_pressure_pa

KMH_PER_M_S = 3.6
G_M_S2 = 9.81


class FixingResult(Struct, frozen=True, kw_only=True):
    """Of the module that pulls hardest: lift, pull on one fixing against what it may take, and how many are needed;
    load on the roof; modules over too few members.
    """

    lift_n: Figure
    pull_n: Figure
    needed_count: Figure
    roof_load_kg_per_m2: Figure
    foot_kg: Figure
    off_members: tuple[str, ...]
    members_m: tuple[float, ...]


def fixings(roof: Roof) -> FixingResult:
    """Lift and load of the modules that go along: those on the roof, and arrays on a trailer, held alike.

    Source: dynamic pressure (textbook relation); the lift coefficient is an assumption of the job.
    """
    stated = roof.fixing
    own = {spec_of(roof, module) for module in roof.modules} | {
        array.module for array in roof.remote if array.where == "trailer"
    }
    if not own:
        return _nothing_goes_along()
    specs = sorted(own, key=lambda spec: spec.name)
    speed = Given("Air speed", (stated.speed_km_per_h + stated.headwind_km_per_h) / KMH_PER_M_S, "m_per_s")
    pressure = Given("Dynamic pressure", dynamic_pressure_pa(speed.value), "Pa")
    # Not always the largest: a light one may pull harder.
    hardest = max(
        specs,
        key=lambda spec: (
            pressure.value * stated.lift_coefficient * spec.length_m * spec.width_m - spec.mass_kg * G_M_S2
        ),
    )
    area = hardest.length_m * hardest.width_m
    lift = Figure(
        name="Lift on one module",
        value=pressure.value * stated.lift_coefficient * area,
        unit="N",
        formula="ρ v² ÷ 2 × lift coefficient × area, at road speed with headwind",
        inputs=(
            speed,
            pressure,
            Given("Lift coefficient, assumed", stated.lift_coefficient, "1"),
            Given("Area", area, "m2"),
        ),
        source=PRACTICE,
        limit=f"{hardest.name}, which pulls hardest; the coefficient is an assumption, measured ones vary with the gap",
    )
    weight = hardest.mass_kg * G_M_S2
    pull_each = max(0.0, lift.value - weight) * stated.safety / stated.each
    given = (lift, Given("Weight", weight, "N"), Given("Safety", stated.safety, "ratio"))
    pull = Figure(
        name="Pull on one fixing",
        value=pull_each,
        unit="N",
        formula="(lift − weight) × safety ÷ fixings of a module",
        inputs=(*given, Given("Fixings", stated.each, "count")),
        source=TEXTBOOK,
    )
    needed = Figure(
        name="Fixings each, at least",
        value=float(max(4, math.ceil(max(0.0, lift.value - weight) * stated.safety / stated.allowed_n - 1e-9))),
        unit="count",
        formula="(lift − weight) × safety ÷ pull allowed on one, four at least",
        inputs=(*given, Given("Allowed on one", stated.allowed_n, "N")),
        source=TEXTBOOK,
    )
    load = Figure(
        name="Load on the skin",
        value=max(spec.mass_kg / (spec.length_m * spec.width_m) for spec in specs),
        unit="kg_per_m2",
        formula="mass ÷ footprint, heaviest type",
        inputs=tuple(Given(spec.name, spec.mass_kg, "kg") for spec in specs),
        source=TEXTBOOK,
    )
    heaviest = max(spec.mass_kg for spec in specs)
    foot = Figure.quotient(
        name="Weight on one foot",
        unit="kg",
        formula="mass of the heaviest ÷ fixings of a module",
        inputs=(Given("Mass", heaviest, "kg"), Given("Fixings", stated.each, "count")),
        source=TEXTBOOK,
    )
    members: tuple[float, ...] = ()
    if stated.member_pitch_m > 0:
        first = stated.members_from_m
        members = tuple(
            round(first + n * stated.member_pitch_m, 3)
            for n in range(200)
            if first + n * stated.member_pitch_m <= roof.end_m
        )
    off = tuple(
        tag for tag, box in module_boxes(roof).items() if members and sum(box[0] <= x <= box[1] for x in members) < 2
    )
    return FixingResult(
        lift_n=lift,
        pull_n=pull,
        needed_count=needed,
        roof_load_kg_per_m2=load,
        foot_kg=foot,
        off_members=off,
        members_m=members,
    )


def _nothing_goes_along() -> FixingResult:
    """No module on the roof and none on a trailer: nothing to hold."""

    def nothing(name: str, unit: str) -> Figure:
        return Figure(name=name, value=0.0, unit=unit, formula="no module goes along", inputs=(), source=TEXTBOOK)

    return FixingResult(
        lift_n=nothing("Lift on one module", "N"),
        pull_n=nothing("Pull on one fixing", "N"),
        needed_count=nothing("Fixings each, at least", "count"),
        roof_load_kg_per_m2=nothing("Load on the skin", "kg_per_m2"),
        foot_kg=nothing("Weight on one foot", "kg"),
        off_members=(),
        members_m=(),
    )
