"""Step Place: axle loads from where everything sits, and what does not fit."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.place import Removed
from weighty_axle.job.models.roof import Roof, spec_of
from weighty_axle.job.models.vehicle import Axle, Trailer, Vehicle
from weighty_axle.physics.body.axles import Support, loads_kg, side_difference_kg


class AxleResult(Struct, frozen=True, kw_only=True):
    """One axle or coupling."""

    tag: str
    coupling: bool
    limit_kg: float
    added_kg: Figure
    load_kg: Figure
    margin_kg: Figure


class PlaceResult(Struct, frozen=True, kw_only=True):
    """Axle loads and the fit of items in the vehicle. Clashes are pairs of tags."""

    axles: tuple[AxleResult, ...]
    added_kg: Figure
    gross_kg: Figure
    gross_margin_kg: Figure
    right_minus_left_kg: Figure
    coupling_share: Figure | None
    combination_kg: Figure | None
    heaviest: str
    outside: tuple[str, ...]
    clashes: tuple[tuple[str, str], ...]


def place(vehicle: Vehicle, items: tuple[Item, ...], roof: Roof, removed: tuple[Removed, ...]) -> PlaceResult:
    """Weighbridge baseline plus everything added, less what leaves, by statics.

    What was on board when it was weighed is not added again. A trailer's coupling is added where it sits.

    Source: physics.axles.
    """
    new = tuple(item for item in items if not item.was_there)
    weights = [(item.mass_kg, item.place.x_m) for item in new]
    weights += [(spec_of(roof, module).mass_kg, module.x_m) for module in roof.modules]
    weights += [(-one.mass_kg, one.place.x_m) for one in removed]
    trailer = vehicle.trailer
    weights += [(trailer.coupling_kg, trailer.coupling_x_m)] if trailer is not None else []
    across = [(item.mass_kg, item.place.y_m) for item in new]
    across += [(spec_of(roof, module).mass_kg, module.y_m) for module in roof.modules]
    across += [(-one.mass_kg, one.place.y_m) for one in removed]
    across += [(trailer.coupling_kg, 0.0)] if trailer is not None else []  # it hangs on the middle
    modules_kg = sum(spec_of(roof, module).mass_kg for module in roof.modules)
    supports = [Support(axle.x_m, axle.share, axle.group == "front") for axle in vehicle.axles]
    added = loads_kg(supports, weights)
    total = Figure(
        name="Added mass",
        value=sum(mass for mass, _ in weights),
        unit="kg",
        formula="Σ mass of all items and modules − what leaves",
        inputs=(
            *(Given(item.name, item.mass_kg, "kg") for item in new),
            Given(f"{len(roof.modules)} modules", modules_kg, "kg"),
            *(Given(f"{one.name} leaves", -one.mass_kg, "kg") for one in removed),
            *((Given(f"Coupling of {trailer.name}", trailer.coupling_kg, "kg"),) if trailer is not None else ()),
        ),
        source=TEXTBOOK,
    )
    axles = tuple(
        _axle(axle, extra, vehicle, (total, Given("Its centre, along", _centre_m(weights), "m")))
        for axle, extra in zip(vehicle.axles, added, strict=True)
    )
    weighed = sum(axle.weighed_kg for axle in vehicle.axles)
    gross = Figure.total(
        name="Gross weight",
        unit="kg",
        formula="weighbridge total + added mass",
        inputs=(Given("Weighbridge total", weighed, "kg"), total),
        source=TEXTBOOK,
    )
    margin = Figure.difference(
        name="Gross margin",
        unit="kg",
        formula="gross limit − gross weight",
        inputs=(Given("Gross limit", vehicle.gross_limit_kg, "kg"), gross),
        source=TEXTBOOK,
    )
    side = Figure(
        name="Added, right minus left",
        value=side_difference_kg(across, track_m=vehicle.track_m),
        unit="kg",
        formula="2 × mass × its centre right of the middle ÷ track",
        inputs=(
            Given("Track", vehicle.track_m, "m"),
            total,
            Given("Its centre, right of the middle", _centre_m(across), "m"),
        ),
        source=TEXTBOOK,
        limit="how it splits between axles is not decided by statics",
    )
    coupling = next((one for one in axles if one.coupling), None)
    share = (
        Figure.quotient(
            name="Coupling load, share of gross",
            unit="1",
            formula="coupling load ÷ gross weight",
            inputs=(coupling.load_kg, gross),
            source=TEXTBOOK,
        )
        if coupling
        else None
    )
    heaviest = min(axles, key=lambda one: one.margin_kg.value).tag
    return PlaceResult(
        axles=axles,
        added_kg=total,
        gross_kg=gross,
        gross_margin_kg=margin,
        right_minus_left_kg=side,
        coupling_share=share,
        combination_kg=_combination(vehicle.trailer, gross),
        heaviest=heaviest,
        outside=_outside(vehicle, items),
        clashes=_clashes(items),
    )


def _combination(trailer: Trailer | None, gross: Figure) -> Figure | None:
    """Vehicle and trailer together: what the coupling carries is in the vehicle's weight already."""
    if trailer is None:
        return None
    return Figure(
        name="Combination weight",
        value=gross.value + trailer.mass_kg - trailer.coupling_kg,
        unit="kg",
        formula="gross weight + trailer − its load on the coupling",
        inputs=(gross, Given(trailer.name, trailer.mass_kg, "kg"), Given("On the coupling", trailer.coupling_kg, "kg")),
        source=TEXTBOOK,
    )


def _axle(axle: Axle, added_kg: float, vehicle: Vehicle, weights: tuple[Figure | Given, ...]) -> AxleResult:
    tag = axle.tag
    stands = tuple(
        given
        for one in vehicle.axles
        for given in (Given(f"{one.tag} along", one.x_m, "m"), Given(f"{one.tag} share of its group", one.share, "1"))
    )
    added = Figure(
        name=f"{tag} added",
        value=added_kg,
        unit="kg",
        formula="share of its group × mass × distance of its centre from the other group ÷ distance of the groups",
        inputs=(*weights, *stands),
        source=TEXTBOOK,
        limit=f"{tag} is in the {axle.group} group; a group acts at the mean of its places by share",
    )
    load = Figure.total(
        name=f"{tag} load",
        unit="kg",
        formula="weighbridge + added",
        inputs=(Given("Weighbridge", axle.weighed_kg, "kg"), added),
        source=TEXTBOOK,
    )
    margin = Figure.difference(
        name=f"{tag} margin",
        unit="kg",
        formula="plate − load",
        inputs=(Given("Plate", axle.limit_kg, "kg"), load),
        source=TEXTBOOK,
    )
    return AxleResult(
        tag=tag, coupling=axle.coupling, limit_kg=axle.limit_kg, added_kg=added, load_kg=load, margin_kg=margin
    )


def _centre_m(weights: list[tuple[float, float]]) -> float:
    """Where weights (mass [kg], place [m]) act together [m]; 0 without any."""
    total = sum(mass for mass, _ in weights)
    return sum(mass * place for mass, place in weights) / total if total else 0.0


def _outside(vehicle: Vehicle, items: tuple[Item, ...]) -> tuple[str, ...]:
    """Items that reach past the body in any direction (1 mm allowed)."""
    slack = 0.001
    return tuple(
        item.tag
        for item in items
        if item.place.x_m - item.size.length_m / 2 < -slack
        or item.place.x_m + item.size.length_m / 2 > vehicle.length_m + slack
        or abs(item.place.y_m) + item.size.width_m / 2 > vehicle.width_m / 2 + slack
        or item.place.z_m < vehicle.skirt_m - slack
        or item.place.z_m + item.size.height_m > vehicle.roof_m + slack
    )


def _clashes(items: tuple[Item, ...]) -> tuple[tuple[str, str], ...]:
    return tuple(
        (one.tag, other.tag) for index, one in enumerate(items) for other in items[index + 1 :] if _meet(one, other)
    )


def _meet(one: Item, other: Item) -> bool:
    slack = 0.001
    return (
        abs(one.place.x_m - other.place.x_m) < (one.size.length_m + other.size.length_m) / 2 - slack
        and abs(one.place.y_m - other.place.y_m) < (one.size.width_m + other.size.width_m) / 2 - slack
        and one.place.z_m < other.place.z_m + other.size.height_m - slack
        and other.place.z_m < one.place.z_m + one.size.height_m - slack
    )
