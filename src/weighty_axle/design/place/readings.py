"""Weighbridge before and after: what was predicted, what was read, and what mass where would explain the difference."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.vehicle import Vehicle


class Readings(Struct, frozen=True, kw_only=True):
    """Differences by axle, the axle that disagrees most, and the mass that would explain all of it.

    `where_m` is None where the differences add up to nothing: then no mass explains them.
    """

    differences: dict[str, Figure]
    worst: str
    mass_kg: Figure
    where_m: Figure | None


def readings(vehicle: Vehicle, added: tuple[float, ...]) -> Readings | None:
    """Readings after against weighbridge before plus what was added; None until every axle has one.

    Source: textbook relation (statics).
    """
    if any(axle.after_kg is None for axle in vehicle.axles):
        return None
    apart = {
        axle.tag: Figure(
            name=f"{axle.tag} read minus predicted",
            value=(axle.after_kg or 0.0) - axle.weighed_kg - more,
            unit="kg",
            formula="read after − weighed before − added",
            inputs=(
                Given("Read after", axle.after_kg or 0.0, "kg"),
                Given("Weighed before", axle.weighed_kg, "kg"),
                Given("Added", more, "kg"),
            ),
            source="weighbridge",
        )
        for axle, more in zip(vehicle.axles, added, strict=True)
    }
    mass = Figure.total(
        name="Mass that is not accounted for",
        unit="kg",
        formula="Σ of the differences",
        inputs=tuple(apart.values()),
        source=TEXTBOOK,
    )
    where = None
    if abs(mass.value) > 1e-6:
        moment = sum(apart[axle.tag].value * axle.x_m for axle in vehicle.axles)
        where = Figure(
            name="It would sit, along",
            value=moment / mass.value,
            unit="m",
            formula="Σ difference × place of its axle ÷ Σ differences",
            inputs=(Given("Moment", moment, "kg m"), mass),
            source=TEXTBOOK,
        )
    return Readings(
        differences=apart, worst=max(apart, key=lambda tag: abs(apart[tag].value)), mass_kg=mass, where_m=where
    )
