"""What a cause of a fault is, and what customers say of faults."""

from __future__ import annotations

from typing import Literal, NamedTuple

SYMPTOMS: dict[str, str] = {
    "hot": "a cable, lug or fuse holder is hot, or has melted with its fuse whole",
    "stops": "inverters stop, or complain of low voltage, under load",
    "no dc": "everything is dead",
    "no ac": "there is no AC at all",
    "part dead": "part of the AC side is dead",
    "lights": "lights are bright on one line and dim on another",
    "half sun": "the array gives half, or less than its neighbours",
    "no sun": "the array gives nothing",
    "no shore charge": "plugged in, the bank charges slowly or not at all",
    "no engine charge": "driving, the bank charges slowly or not at all",
    "shore trips": "the breaker or device ashore trips",
    "board trips": "a residual-current device on board trips",
    "empty early": "the bank is empty earlier than planned",
    "empty after standing": "the bank is empty after standing",
    "packs apart": "packs do not share, or one of them is off",
    "too high": "the voltage goes too high, or packs switch off while they charge",
    "monitor": "the monitor shows what cannot be",
    "bang": "it bangs when the main switch is closed",
    "hot inverter": "an inverter runs hot, or gives less than it should",
}
"""What a customer says."""

Interim = Literal[
    "joint",
    "pack",
    "unit",
    "string",
    "source",
    "voltage",
    "engine",
    "off",
    "open",
    "standing",
    "closing",
    "unknown",
    "none",
]
"""What makes it safe until it is mended: worked out in `interim`."""


class Cause(NamedTuple):
    """A cause: its words with `{p}` for its place (`{c}`: the controller of a string, `{s}`: each string of a
    controller, `{k}`: each pack), how often it is behind each symptom (weights), what measurements show of it beside
    the usual, how it is mended, what is needed, which acceptance tests prove it, and the interim measure.
    """

    words: str
    behind: dict[str, float]
    shows: dict[str, str]
    mend: str
    parts: str
    proof: tuple[str, ...]
    interim: Interim
