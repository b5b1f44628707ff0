"""Information models on 16-bit registers, in the manner of the published ones: which points a model has, in which
order, how large, and by which power of ten they are scaled.

Source: SunSpec information models 1, 101 to 103, 160 and 802 (recalled; held to an open package of them in the tests).
"""

from __future__ import annotations

import math
import struct
from collections.abc import Mapping, Sequence
from typing import NamedTuple

MARK = (0x5375, 0x6E53)
"""'SunS': what the registers begin with."""
END = 0xFFFF
BASE = 40000
NOT_INT16, NOT_UINT16, NOT_UINT32 = 0x8000, 0xFFFF, 0xFFFFFFFF
"""Not implemented, by type."""

OWN_WAYS, OWN_SETTINGS = 64990, 64991
"""Models of our own: ways of the DC side, and settings of units. Documented in docs/plant-registers.md."""


class Point(NamedTuple):
    """A point of a model: its name, type, registers, and the name of its scale factor (empty: none)."""

    name: str
    type: str
    size: int = 1
    scale: str = ""


def _points(text: str) -> tuple[Point, ...]:
    found = []
    for word in text.split():
        name, _, rest = word.partition(":")
        type_, _, scale = rest.partition("*")
        sizes = {"u32": 2, "b32": 2, "a32": 2}
        if type_.startswith("s") and type_[1:].isdigit():
            found.append(Point(name, "string", int(type_[1:])))
        else:
            found.append(Point(name, type_, sizes.get(type_, 1), scale))
    return tuple(found)


COMMON = _points("Mn:s16 Md:s16 Opt:s8 Vr:s8 SN:s16 DA:u16 Pad:u16")
INVERTER = _points(
    "A:u16*A_SF AphA:u16*A_SF AphB:u16*A_SF AphC:u16*A_SF A_SF:sf PPVphAB:u16*V_SF PPVphBC:u16*V_SF PPVphCA:u16*V_SF "
    "PhVphA:u16*V_SF PhVphB:u16*V_SF PhVphC:u16*V_SF V_SF:sf W:i16*W_SF W_SF:sf Hz:u16*Hz_SF Hz_SF:sf VA:i16*VA_SF "
    "VA_SF:sf VAr:i16*VAr_SF VAr_SF:sf PF:i16*PF_SF PF_SF:sf WH:a32*WH_SF WH_SF:sf DCA:u16*DCA_SF DCA_SF:sf "
    "DCV:u16*DCV_SF DCV_SF:sf DCW:i16*DCW_SF DCW_SF:sf TmpCab:i16*Tmp_SF TmpSnk:i16*Tmp_SF TmpTrns:i16*Tmp_SF "
    "TmpOt:i16*Tmp_SF Tmp_SF:sf St:u16 StVnd:u16 Evt1:b32 Evt2:b32 EvtVnd1:b32 EvtVnd2:b32 EvtVnd3:b32 EvtVnd4:b32"
)
INPUTS = _points("DCA_SF:sf DCV_SF:sf DCW_SF:sf DCWH_SF:sf Evt:b32 N:u16 TmsPer:u16")
INPUT = _points(
    "ID:u16 IDStr:s8 DCA:u16*DCA_SF DCV:u16*DCV_SF DCW:u16*DCW_SF DCWH:a32*DCWH_SF Tms:u32 Tmp:i16 DCSt:u16 DCEvt:b32"
)
STORAGE = _points(
    "AHRtg:u16*AHRtg_SF WHRtg:u16*WHRtg_SF WChaRteMax:u16*WChaDisChaMax_SF WDisChaRteMax:u16*WChaDisChaMax_SF "
    "DisChaRte:u16*DisChaRte_SF SoCMax:u16*SoC_SF SoCMin:u16*SoC_SF SocRsvMax:u16*SoC_SF SoCRsvMin:u16*SoC_SF "
    "SoC:u16*SoC_SF DoD:u16*DoD_SF SoH:u16*SoH_SF NCyc:u32 ChaSt:u16 LocRemCtl:u16 Hb:u16 CtrlHb:u16 AlmRst:u16 "
    "Typ:u16 State:u16 StateVnd:u16 WarrDt:u32 Evt1:b32 Evt2:b32 EvtVnd1:b32 EvtVnd2:b32 V:u16*V_SF VMax:u16*V_SF "
    "VMin:u16*V_SF CellVMax:u16*CellV_SF CellVMaxStr:u16 CellVMaxMod:u16 CellVMin:u16*CellV_SF CellVMinStr:u16 "
    "CellVMinMod:u16 CellVAvg:u16*CellV_SF A:i16*A_SF AChaMax:u16*AMax_SF ADisChaMax:u16*AMax_SF W:i16*W_SF "
    "ReqInvState:u16 ReqW:i16*W_SF SetOp:u16 SetInvState:u16 AHRtg_SF:sf WHRtg_SF:sf WChaDisChaMax_SF:sf "
    "DisChaRte_SF:sf SoC_SF:sf DoD_SF:sf SoH_SF:sf V_SF:sf CellV_SF:sf A_SF:sf AMax_SF:sf W_SF:sf"
)
WAY = _points("Tag:s6 A:i16*A_SF V1:u16*V_SF V2:u16*V_SF")
WAYS = _points("A_SF:sf V_SF:sf N:u16")
SETTINGS = _points("Sum:u32 N:u16")
SETTING_REGISTERS = 16

Value = float | str | None
Block = dict[str, Value]


def encode(points: Sequence[Point], values: Mapping[str, Value], scales: Mapping[str, int]) -> list[int]:
    """Registers of some points: numbers by their scale factor, what is not given as 'not implemented'."""
    found: list[int] = []
    for point in points:
        value = scales.get(point.name) if point.type == "sf" else values.get(point.name)
        if point.type == "string":
            raw = str(value or "").encode("utf-8")[: 2 * point.size].ljust(2 * point.size, b"\0")
            found += struct.unpack(f">{point.size}H", raw)
        elif value is None or (isinstance(value, float) and not math.isfinite(value)):
            found += {"u32": [0xFFFF, 0xFFFF], "b32": [0xFFFF, 0xFFFF], "a32": [0, 0], "u16": [NOT_UINT16]}.get(
                point.type, [NOT_INT16]
            )
        else:
            whole = round(float(value) / 10 ** scales.get(point.scale, 0))
            found += _registers(point.type, whole)
    return found


def _registers(type_: str, whole: int) -> list[int]:
    if type_ in ("u32", "b32", "a32"):
        held = min(max(whole, 0), NOT_UINT32 - 1)
        return [held >> 16, held & 0xFFFF]
    if type_ == "u16":
        return [min(max(whole, 0), NOT_UINT16 - 1)]
    return [min(max(whole, -32767), 32767) & 0xFFFF]


def decode(points: Sequence[Point], registers: Sequence[int], scales: Mapping[str, int] | None = None) -> Block:
    """What registers say: numbers in their unit, text, None for what is not implemented.

    Raises: ValueError where there are fewer registers than points.
    """
    if len(registers) < sum(point.size for point in points):
        raise ValueError(f"{len(registers)} registers are too few")
    raw: dict[str, int | str | None] = {}
    at = 0
    for point in points:
        part = list(registers[at : at + point.size])
        at += point.size
        raw[point.name] = _raw(point.type, part)
    powers = dict(scales or {})
    powers |= {point.name: int(raw[point.name] or 0) for point in points if point.type == "sf"}
    found: Block = {}
    for point in points:
        value = raw[point.name]
        if point.type == "sf":
            continue
        found[point.name] = (
            value if isinstance(value, str) or value is None else value * 10.0 ** powers.get(point.scale, 0)
        )
    return found


def _raw(type_: str, part: list[int]) -> int | str | None:
    if type_ == "string":
        return struct.pack(f">{len(part)}H", *part).split(b"\0")[0].decode("utf-8", "replace")
    if type_ in ("u32", "b32", "a32"):
        whole = part[0] << 16 | part[1]
        return None if whole == NOT_UINT32 else whole
    if type_ == "u16":
        return None if part[0] == NOT_UINT16 else part[0]
    return None if part[0] == NOT_INT16 else struct.unpack(">h", struct.pack(">H", part[0]))[0]


def size_of(points: Sequence[Point]) -> int:
    """Registers some points take."""
    return sum(point.size for point in points)
