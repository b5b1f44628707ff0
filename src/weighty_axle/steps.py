"""The one table of steps, in the order of the work: rail, shortcuts, rules, print and pictures follow it.

A step is added in one place, here; its parts stand under its key in `design/`, `rules/`, `desk/steps/` and
`exports/pages/`.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

Group = Literal["Survey", "Design", "Prove", "Build", "Hand over"]


class Step(NamedTuple):
    """A step: its name in code, its title, its group on the rail, and what it is for."""

    key: str
    title: str
    group: Group
    purpose: str

    @property
    def view_class(self) -> str:
        """Name of the class that shows it: FirstPowerView for first_power."""
        return f"{self.key.title().replace('_', '')}View"


STEPS: tuple[Step, ...] = (
    Step("brief", "Brief", "Survey", "what must run, when, and together"),
    Step("vehicle", "Vehicle", "Survey", "what was measured and weighed"),
    Step("bank", "Bank", "Design", "packs, links and limits"),
    Step("inverters", "Inverters", "Design", "legs, sources, panels and their states"),
    Step("roof", "Roof", "Design", "modules, strings and controller windows"),
    Step("charging", "Charging", "Design", "what fills the bank, and who gives way"),
    Step("place", "Place", "Design", "drag or nudge; the axles answer"),
    Step("wiring", "Wiring", "Design", "every conductor from the packs to the last light"),
    Step("year", "Year", "Prove", "every hour of a year on the road"),
    Step("parts", "Parts", "Build", "what to order, and what is late"),
    Step("cuts", "Cuts", "Build", "what comes off which reel"),
    Step("plan", "Plan", "Build", "who does what, and when"),
    Step("settings", "Settings", "Hand over", "what is entered in every unit"),
    Step("first_power", "First power", "Hand over", "in what order it comes alive"),
    Step("proving", "Tests", "Hand over", "what was predicted against what was measured"),
    Step("log", "Log", "Hand over", "what happened since"),
)
_AT = {one.key: at for at, one in enumerate(STEPS)}


def step_of(key: str) -> Step:
    """The step of a key."""
    return STEPS[_AT[key]]


def order_of(key: str) -> int:
    """Where a step stands in the order of the work."""
    return _AT[key]


def shortcut(at: int) -> str:
    """Key of the step at a place, counted from 0: the digits, then the digits with Alt."""
    if at < 10:
        return str((at + 1) % 10)
    return f"Alt+{(at - 9) % 10}"
