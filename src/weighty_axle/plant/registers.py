"""The plant as registers, and registers as readings: what a gateway of the plant would show."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from typing import NamedTuple

from weighty_axle.job.models.inverters import LINES, line_v
from weighty_axle.plant import models
from weighty_axle.plant.models import Block, Point, Value, decode, encode, size_of
from weighty_axle.plant.plant import Plant
from weighty_axle.reference.profiles import LOW_LINE_V

_AC = {"A_SF": -1, "V_SF": -1, "W_SF": 0, "Hz_SF": -2, "VA_SF": 0, "DCA_SF": -1, "DCV_SF": -2, "DCW_SF": 0, "Tmp_SF": 0}
_STORE = {
    "AHRtg_SF": 0, "WHRtg_SF": 1, "WChaDisChaMax_SF": 0, "SoC_SF": -1, "V_SF": -2, "CellV_SF": -3, "A_SF": -1,
    "AMax_SF": 0, "W_SF": 0,
}  # fmt: skip
_INPUTS = {"DCA_SF": -1, "DCV_SF": -2, "DCW_SF": 0, "DCWH_SF": 0}
_WAYS = {"A_SF": -2, "V_SF": -3}
INVERTER_IDS = {1: 101, 2: 102, 3: 103}


class NonsenseError(ValueError):
    """Registers that are no plant; the message is a sentence."""


class Reading(NamedTuple):
    """What one way shows: current [A], voltage where it starts and ends [V]."""

    tag: str
    amps: float | None
    start_v: float | None
    end_v: float | None


class Live(NamedTuple):
    """Everything that was read: blocks of the common models by name, ways, and settings as they stand (None: not asked
    for); `unknown` are ids of models that were passed over.
    """

    common: Block
    inverter: Block
    storage: Block
    inputs: tuple[Block, ...]
    ways: tuple[Reading, ...]
    settings: tuple[str, ...] | None
    settings_sum: int | None
    unknown: tuple[int, ...]


def image(plant: Plant) -> list[int]:
    """All registers of a plant from the mark to the end."""
    found = list(models.MARK)
    for number, body in _blocks(plant):
        found += [number, len(body), *body]
    return [*found, models.END, 0]


def settings_sum(keys: Sequence[str]) -> int:
    """What tells that both sides speak of the same settings in the same order."""
    return zlib.crc32("\n".join(keys).encode()) & 0x7FFFFFFF


def settings_at(registers: Sequence[int]) -> int:
    """Offset of the first setting in an image.

    Raises: NonsenseError where there are none.
    """
    for number, at, _length in walk(registers):
        if number == models.OWN_SETTINGS:
            return at + size_of(models.SETTINGS)
    raise NonsenseError("There are no settings in these registers.")


def _blocks(plant: Plant) -> list[tuple[int, list[int]]]:
    job = plant.job
    common: dict[str, Value] = {
        "Mn": "Weighty Axle",
        "Md": "Simulated plant",
        "Vr": "1",
        "SN": plant.design.whole.name[:32],
        "DA": 1.0,
    }
    found = [(1, encode(models.COMMON, common, {}))]
    if job.inverters.units:
        lines = len(LINES[job.inverters.stacking])
        found.append((INVERTER_IDS[lines], encode(models.INVERTER, _inverter(plant), _AC)))
    found.append((802, encode(models.STORAGE, _storage(plant), _STORE)))
    found.append((160, _inputs(plant)))
    found.append((models.OWN_WAYS, _ways(plant)))
    found.append((models.OWN_SETTINGS, _settings(plant)))
    return found


def _inverter(plant: Plant) -> dict[str, Value]:
    stack, flow = plant.job.inverters, plant.flow
    inverting = [unit for unit in stack.units if plant.at[unit.tag] == "on" and unit.tag not in plant.tripped]
    live = bool(inverting) and flow.bar_v > 0
    volts = line_v(stack) if live else 0.0
    watts = sum(flow.ac_w.values())
    ways = [flow.ways[f"W-{unit.tag}"] for unit in stack.units if f"W-{unit.tag}" in flow.ways]
    amps = sum(way.amps for way in ways)
    made: dict[str, Value] = {
        "A": watts / volts if volts else 0.0,
        "PhVphA": volts,
        "W": watts,
        "Hz": (60.0 if line_v(stack) < LOW_LINE_V else 50.0) if live else 0.0,
        "VA": watts,
        "DCA": max(0.0, amps),
        "DCV": min((way.end_v for way in ways), default=flow.bar_v),
        "DCW": sum(way.amps * way.end_v for way in ways),
        "TmpCab": plant.design.whole.proving.air_c
        + 15.0 * watts / max(1.0, stack.spec.continuous_va * len(stack.units)),
        "St": 7.0 if plant.tripped.keys() & {unit.tag for unit in stack.units} else 4.0 if live else 1.0,
    }
    if len(LINES[stack.stacking]) > 1:
        made["PhVphB"] = volts
        swapped = plant.has("leg swapped") or plant.has("selector")
        made["PPVphAB"] = 0.0 if swapped or stack.stacking == "legs_in_phase" else 2.0 * volts
    return made


def _storage(plant: Plant) -> dict[str, Value]:
    packs = plant.packs
    amps = sum(one.amps for one in packs.strings)
    live = plant.live()
    volts = plant.flow.bank_v or (packs.behind(live)[0] if live else 0.0)
    cells = [volts / packs.cells] * 2
    return {
        "AHRtg": packs.capacity_ah * len(packs.strings),
        "WHRtg": packs.capacity_ah * len(packs.strings) * plant.design.bank.nominal_v.value,
        "SoCMax": 100.0,
        "SoCMin": 0.0,
        "SoC": 100 * min(1.0, packs.soc),
        "ChaSt": 4.0 if amps < -1 else 3.0 if amps > 1 else 6.0,
        "State": 3.0 if live else 1.0,
        "V": volts,
        "VMax": packs.high_v,
        "VMin": packs.low_v,
        "CellVMax": cells[0],
        "CellVMin": cells[1],
        "A": -amps if not plant.has("swapped sense") else amps,
        "W": -amps * volts,
    }


def _inputs(plant: Plant) -> list[int]:
    roof = plant.job.roof
    found = encode(models.INPUTS, {"N": float(len(roof.controllers)), "Evt": 0.0}, _INPUTS)
    for at, one in enumerate(roof.controllers):
        amps = plant.flow.sun_a.get(one.tag, 0.0)
        block: dict[str, Value] = {
            "ID": float(at + 1),
            "IDStr": one.tag,
            "DCA": amps,
            "DCV": plant.flow.bar_v,
            "DCW": amps * plant.flow.bar_v,
            "DCSt": 4.0 if amps > 0 else 1.0,
        }
        found += encode(models.INPUT, block, _INPUTS)
    return found


def _ways(plant: Plant) -> list[int]:
    """Every run of the house's bar; of one that is dead nothing is known."""
    tags = plant.run_tags
    found = encode(models.WAYS, {"N": float(len(tags))}, _WAYS)
    for tag in tags:
        way = plant.flow.ways.get(tag)
        block: dict[str, Value] = {"Tag": tag}
        if way is not None:
            block |= {"A": way.amps, "V1": way.start_v, "V2": way.end_v}
        found += encode(models.WAY, block, _WAYS)
    return found


def _settings(plant: Plant) -> list[int]:
    keys = list(plant.stands)
    found = encode(models.SETTINGS, {"Sum": float(settings_sum(keys)), "N": float(len(keys))}, {})
    one = (Point("Said", "string", models.SETTING_REGISTERS),)
    for key in keys:
        found += encode(one, {"Said": plant.stands[key]}, {})
    return found


# ---- read -----------------------------------------------------------------------------------------------------


def walk(registers: Sequence[int]) -> list[tuple[int, int, int]]:
    """Models by id, offset of their first point, length.

    Raises: NonsenseError
    """
    if tuple(registers[:2]) != models.MARK:
        swapped = tuple((one & 0xFF) << 8 | one >> 8 for one in registers[:2])
        if swapped == models.MARK:
            raise NonsenseError("The bytes of every register come the wrong way round: set the gateway to big-endian.")
        raise NonsenseError("These registers do not begin with the mark of such a device.")
    found: list[tuple[int, int, int]] = []
    at = 2
    while at + 1 < len(registers):
        number, length = registers[at], registers[at + 1]
        if number == models.END:
            return found
        if length == 0 or at + 2 + length > len(registers):
            raise NonsenseError(f"Model {number} says it is {length} registers long: that cannot be.")
        found.append((number, at + 2, length))
        at += 2 + length
    raise NonsenseError("The registers end in the middle of a model.")


def read(registers: Sequence[int], *, with_settings: bool = True) -> Live:
    """What all registers say.

    Raises: NonsenseError where they are no such device, or a model is cut.
    """
    blocks: dict[str, Block] = {"common": {}, "inverter": {}, "storage": {}}
    inputs: tuple[Block, ...] = ()
    ways: tuple[Reading, ...] = ()
    stand: tuple[str, ...] | None = None
    keys_sum: int | None = None
    unknown = []
    try:
        for number, at, length in walk(registers):
            body = registers[at : at + length]
            if number == 1:
                blocks["common"] = decode(models.COMMON, body)
            elif number in INVERTER_IDS.values():
                blocks["inverter"] = decode(models.INVERTER, body)
            elif number == 802:
                blocks["storage"] = decode(models.STORAGE, body)
            elif number == 160:
                inputs = tuple(_repeated(models.INPUTS, models.INPUT, body))
            elif number == models.OWN_WAYS:
                ways = tuple(_way(one) for one in _repeated(models.WAYS, models.WAY, body))
            elif number == models.OWN_SETTINGS:
                if with_settings:
                    stand, keys_sum = _stand(body)
            else:
                unknown.append(number)
    except (ValueError, OverflowError) as error:
        raise error if isinstance(error, NonsenseError) else NonsenseError(f"A model is cut: {error}.") from error
    return Live(blocks["common"], blocks["inverter"], blocks["storage"], inputs, ways, stand, keys_sum, tuple(unknown))


def _repeated(head: Sequence[Point], each: Sequence[Point], body: Sequence[int]) -> list[Block]:
    first = decode(head, body)
    powers = {
        point.name: (body[at] if body[at] < 0x8000 else body[at] - 0x10000)
        for at, point in enumerate(head)
        if point.type == "sf" and body[at] != models.NOT_INT16
    }
    size, start = size_of(each), size_of(head)
    many = int(first["N"] or 0)
    return [decode(each, body[start + at * size : start + (at + 1) * size], powers) for at in range(many)]


def _way(block: Block) -> Reading:
    def number(name: str) -> float | None:
        value = block[name]
        return value if isinstance(value, float) else None

    return Reading(str(block["Tag"]), number("A"), number("V1"), number("V2"))


def _stand(body: Sequence[int]) -> tuple[tuple[str, ...], int]:
    head = decode(models.SETTINGS, body)
    start, size = size_of(models.SETTINGS), models.SETTING_REGISTERS
    one = (Point("Said", "string", size),)
    many = int(head["N"] or 0)
    said = tuple(str(decode(one, body[start + at * size : start + (at + 1) * size])["Said"]) for at in range(many))
    return said, int(head["Sum"] or 0)
