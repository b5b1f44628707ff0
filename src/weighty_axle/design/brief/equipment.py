"""Equipment found on board: what stays, and what feeds what once there is one bank."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.job.models.brief import Existing, ExistingKind
from weighty_axle.job.models.vehicle import VehicleKind

LEAVES = ("remove", "replace", "isolate")
"""Dispositions after which a piece no longer acts."""
KIND_WORDS: dict[ExistingKind, str] = {
    "battery": "battery",
    "charger": "charger",
    "alternator_link": "alternator link",
    "battery_link": "trickle or boost link",
    "tow_wire": "tow charge wire",
    "solar_controller": "solar controller",
    "inverter": "inverter",
    "generator": "generator",
    "starter": "starter",
    "breaker": "breaker or switch",
    "loads": "DC loads",
    "other": "other",
}
TOWED: tuple[VehicleKind, ...] = ("semi_trailer", "drawbar_trailer", "centre_axle_trailer")


class Feed(Struct, frozen=True, kw_only=True):
    """Something that needs power afterwards: what feeds it, through what, and what to mind."""

    consumer: str
    tags: tuple[str, ...]
    source: str
    through: str
    mind: str


class EquipmentResult(Struct, frozen=True, kw_only=True):
    """What stays in use, the voltages of the batteries and loads found, and the feeds afterwards."""

    acting: tuple[str, ...]
    house_volts: tuple[int, ...]
    feeds: tuple[Feed, ...]


def equipment(existing: tuple[Existing, ...], vehicle: VehicleKind, bank_class: int) -> EquipmentResult:
    """Consolidation: every house load on the one new bank, the starting battery left to the vehicle and kept up by a
    charger.

    Source: common practice, no source.
    """
    acting = tuple(piece.tag for piece in existing if acts(piece))
    volts = tuple(sorted({round(piece.nominal_v) for piece in existing if is_house_battery(piece)}))
    return EquipmentResult(
        acting=acting, house_volts=volts, feeds=tuple(_feeds(existing, vehicle, bank_class)) if existing else ()
    )


def acts(one: Existing) -> bool:
    """Whether a piece stays connected (undecided counts as staying)."""
    return one.disposition not in LEAVES


def is_house_battery(one: Existing) -> bool:
    """A battery that is not the starting battery."""
    return one.kind == "battery" and one.ties_to != "starter_battery"


def stays_apart(one: Existing) -> bool:
    """A house battery that is kept beside the new bank, on something of its own."""
    return is_house_battery(one) and acts(one) and one.ties_to != "house_bank"


def battery_of(one: Existing, existing: tuple[Existing, ...]) -> str:
    """The battery a piece that was fed from the house battery hangs on afterwards: one of its voltage that stays apart,
    or the new bank.
    """
    apart = any(stays_apart(other) and round(other.nominal_v) == round(one.nominal_v) for other in existing)
    return "other_battery" if apart else "house_bank"


def way_round(charger: Existing, existing: tuple[Existing, ...]) -> tuple[str, ...] | None:
    """Tags on the way by which what a charger puts in comes back to the inverter that feeds it; None where there is no
    such way.

    Source: textbook relation: a cycle in the graph of what feeds what.
    """
    ways: dict[str, list[tuple[str, str]]] = {"house_bank": [("inverter", "")]}
    for piece in existing:
        if not acts(piece):
            continue
        fed = battery_of(piece, existing) if piece.fed_from == "house_battery" else piece.fed_from
        if piece.kind == "inverter":
            ways.setdefault(fed, []).append(("inverter", piece.tag))
        elif piece.kind in ("charger", "alternator_link", "battery_link", "tow_wire"):
            ways.setdefault(fed, []).append((piece.ties_to, piece.tag))
            if piece.kind == "battery_link":
                ways.setdefault(piece.ties_to, []).append((fed, piece.tag))
    waiting: list[tuple[str, tuple[str, ...]]] = [(charger.ties_to, (charger.tag,))]
    seen: set[str] = {charger.ties_to}
    while waiting:
        at, path = waiting.pop(0)
        if at == "inverter":
            return path
        for to, tag in ways.get(at, []):
            if to not in seen and tag != charger.tag:
                seen.add(to)
                waiting.append((to, (*path, tag) if tag else path))
    return None


def _feeds(existing: tuple[Existing, ...], vehicle: VehicleKind, bank_class: int) -> list[Feed]:
    bank = f"the new {bank_class} V bank"
    feeds = []
    load_volts = sorted(
        {round(piece.nominal_v) for piece in existing if piece.kind == "loads" or is_house_battery(piece)}
        - {120, 230, 240}
    )
    for volts in load_volts:
        tags = tuple(
            piece.tag
            for piece in existing
            if round(piece.nominal_v) == volts and (piece.kind == "loads" or is_house_battery(piece))
        )
        kept = next((piece for piece in existing if stays_apart(piece) and round(piece.nominal_v) == volts), None)
        if kept is not None:
            feeds.append(
                Feed(
                    consumer=f"{volts} V house loads",
                    tags=tags,
                    source=kept.name,
                    through="as it is",
                    mind="it stays a bank of its own: give it a charger that suits it, and no link to the new one",
                )
            )
        elif volts == bank_class:
            feeds.append(
                Feed(
                    consumer=f"{volts} V house loads",
                    tags=tags,
                    source=bank,
                    through="their own fused way",
                    mind="check every device for the bank's highest voltage",
                )
            )
        else:
            feeds.append(
                Feed(
                    consumer=f"{volts} V house loads",
                    tags=tags,
                    source=bank,
                    through=f"converter {bank_class} to {volts} V, fused at its input",
                    mind="size it for the sum and the start of pumps",
                )
            )
    stay = tuple(piece for piece in existing if piece.kind == "inverter" and piece.disposition == "keep")
    if stay:
        names = " and ".join(one.name for one in stay)
        feeds.append(
            Feed(
                consumer="AC circuits of the old inverter",
                tags=tuple(one.tag for one in stay),
                source=names,
                through="as it is",
                mind="on a panel of its own that nothing else feeds",
            )
        )
    ac = tuple(piece.tag for piece in existing if piece.kind == "inverter" and piece.disposition != "keep")
    if ac:
        feeds.append(
            Feed(
                consumer="AC circuits of the old inverter",
                tags=ac,
                source=bank,
                through="the new inverters",
                mind="the old inverter's output and neutral bond go with it",
            )
        )
    starting = tuple(
        piece.tag for piece in existing if piece.kind in ("battery", "starter") and piece.ties_to == "starter_battery"
    )
    if starting:
        feeds.append(
            Feed(
                consumer="Starting battery",
                tags=starting,
                source="alternator, as built",
                through="its own cable; a small maintenance charger from the bank",
                mind="no link to the bank but a charger that suits it",
            )
        )
    elif vehicle in TOWED and any(piece.kind == "tow_wire" for piece in existing):
        tags = tuple(piece.tag for piece in existing if piece.kind == "tow_wire")
        feeds.append(
            Feed(
                consumer="Bank, while towed",
                tags=tags,
                source="towing vehicle's alternator",
                through="a DC-DC charger, fused at both ends",
                mind="never straight onto the bank",
            )
        )
    return feeds
