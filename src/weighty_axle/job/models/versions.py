"""Steps that bring a document of an older format version to the present one, in order; each is a pure dict change."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

Document = dict[str, Any]


def _one_to_two(document: Document) -> Document:
    """Version 1 kept a load's day as 24 hourly levels; version 2 keeps painted stretches in minutes."""
    loads = []
    for load in document.get("loads", []):
        patterns = {}
        for kind, hours in load.get("hours", {}).items():
            spans: list[list[float]] = []
            for hour, level in enumerate(hours):
                if not level:
                    continue
                if spans and spans[-1][1] == hour * 60 and spans[-1][2] == level:
                    spans[-1][1] = hour * 60 + 60
                else:
                    spans.append([hour * 60, hour * 60 + 60, level])
            patterns[kind] = spans
        loads.append({**{key: value for key, value in load.items() if key != "hours"}, "patterns": patterns})
    return {**document, "loads": loads}


def _two_to_three(document: Document) -> Document:
    """Version 2 named DC loads by where they hang (bank or converter); version 3 names their voltage.

    A converter gave 12 V.
    """
    bank = document.get("bank", {})
    bank_v = (
        bank.get("spec", {}).get("cells_in_series", 16)
        * bank.get("series", 1)
        * bank.get("spec", {}).get("cell_nominal_v", 3.2)
    )
    supplies = {"DC": f"DC_{min((12, 24, 48), key=lambda volts: abs(volts - bank_v * 0.94))}", "DC_low": "DC_12"}
    loads = [
        {**load, "supply": supplies.get(load.get("supply"), load.get("supply"))} for load in document.get("loads", [])
    ]
    return {**document, "loads": loads}


def _three_to_four(document: Document) -> Document:
    """Version 4 says which inverter ties the neutral to earth while inverting; until then the first one was meant."""
    inverters = document.get("inverters", {})
    units = [{**unit, "bonds": unit.get("bonds", index == 0)} for index, unit in enumerate(inverters.get("units", []))]
    return {**document, "inverters": {**inverters, "units": units}}


def _four_to_five(document: Document) -> Document:
    """Version 5 has one kind of converter, from bar to bar; version 4 had alternator chargers only, into the house
    bar. An array's way it faces is its azimuth.
    """
    charging = dict(document.get("charging", {}))
    converters = charging.pop("alternator_chargers", [])
    roof = document.get("roof", {})
    remote = [
        {("azimuth_deg" if key == "towards_deg" else key): value for key, value in array.items()}
        for array in roof.get("remote", [])
    ]
    changed = {**document, "charging": charging, "roof": {**roof, "remote": remote} if remote else roof}
    return {**changed, "converters": converters} if converters else changed


def _five_to_six(document: Document) -> Document:
    """Version 6 has alternators by tag, each on its bar, and chargers on the AC side name the bar they charge; version
    5 had one alternator, and such a load charged the house bank.
    """
    charging = dict(document.get("charging", {}))
    one, bar = charging.pop("alternator", None), charging.pop("alternator_bar", "VEHICLE")
    if one is not None:
        taken = set(_tags_in(document))
        tag = next(name for number in range(1, len(taken) + 2) if (name := f"AL{number}") not in taken)
        charging["alternators"] = [{**one, "tag": tag, "bar": bar}]
    house = document.get("wiring", {}).get("board", {}).get("tag", "")
    loads = []
    for load in document.get("loads", []):
        kept = {key: value for key, value in load.items() if key != "charges_bank"}
        charger = load.get("charges_bank") and not str(load.get("supply", "")).startswith(
            "DC"
        )  # a DC one never counted
        loads.append({**kept, "charges": house} if charger else kept)
    return {**document, "charging": charging, "loads": loads}


def _six_to_seven(document: Document) -> Document:
    """Version 7 has the log; an older program would not know it."""
    return document


def _tags_in(value: Any) -> Iterator[str]:
    """Every tag in a document."""
    if isinstance(value, dict):
        if isinstance(value.get("tag"), str):
            yield value["tag"]
        for inner in value.values():
            yield from _tags_in(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from _tags_in(inner)


STEPS: tuple[Callable[[Document], Document], ...] = (
    _one_to_two,
    _two_to_three,
    _three_to_four,
    _four_to_five,
    _five_to_six,
    _six_to_seven,
)
"""Steps in order: the first brings version 1 to 2. A new one at the end makes a new version."""
FORMAT_VERSION = 1 + len(STEPS)
"""Version of the documents this program writes."""
COPIED_BELOW = 6
"""Steps to this version copy what they change entry by entry; later ones leave lists as they are."""
