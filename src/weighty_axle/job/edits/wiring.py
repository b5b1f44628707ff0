"""Changes to the DC wiring that are more than one value: lighting groups in one go."""

from __future__ import annotations

import re
from typing import NamedTuple

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.brief import Load, Span, Supply
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.wiring import DcCircuit
from weighty_axle.job.systems import bar_of, bar_tag
from weighty_axle.job.tags import next_tag

MOST_LIGHTS, MOST_SWITCHES = 200, 20
_EVENING = (Span(18 * 60, 22 * 60, 1.0),)
_ASKED = re.compile(
    r"\s*(?P<lights>\d+)\s*lights?(?:\s*of\s*(?P<watts>\d+(?:[.,]\d+)?)\s*W)?"
    r"\s*on\s*(?P<switches>\d+)\s*switch(?:es)?\s*",
    re.IGNORECASE,
)


class Lights(NamedTuple):
    """So many lights of so many watts each on so many switches."""

    lights: int
    watts: float
    switches: int


def read_lights(text: str) -> Lights:
    """What `12 lights of 4 W on 3 switches` says; 5 W each where it does not.

    Raises: ValueError with a sentence.
    """
    asked = _ASKED.fullmatch(text)
    if asked is None:
        raise ValueError("Say it like: 12 lights of 4 W on 3 switches.")
    found = Lights(int(asked["lights"]), float((asked["watts"] or "5").replace(",", ".")), int(asked["switches"]))
    if not 1 <= found.switches <= found.lights:
        raise ValueError("Every switch needs a light at least.")
    if found.lights > MOST_LIGHTS or found.switches > MOST_SWITCHES:
        raise ValueError(f"At most {MOST_LIGHTS} lights on {MOST_SWITCHES} switches at once.")
    if not 0 < found.watts <= 200:
        raise ValueError("A light takes between 0 and 200 W.")
    return found


def lighting(asked: Lights, panel: str, bank_class: int) -> Edit:
    """A circuit with its switch and its lights for every switch, as even as can be; lit in the evening of every kind of
    day until somebody paints otherwise. In a panel, or straight on the house bar where `panel` is empty.
    """

    def apply(job: Job) -> Job:
        stated = next((one for one in job.dc.panels if one.tag == panel), None)
        bar = bar_of(job, bar_tag(job, stated.bar if stated is not None else ""))
        supply: dict[int, Supply] = {12: "DC_12", 24: "DC_24", 48: "DC_48"}
        volts = bar.volts if bar is not None else bank_class
        size = "14 AWG" if job.practice == "north_american" else "1.5 mm2"
        for number in range(asked.switches):
            share = asked.lights // asked.switches + (number < asked.lights % asked.switches)
            circuit = DcCircuit(
                tag=next_tag(job, "DC circuit"),
                name=f"Lights {number + 1}",
                panel=panel,
                fuse_a=_fuse(share * asked.watts / volts),
                size=size,
                switch=f"switch {number + 1}",
            )
            job = replace(job, dc=replace(job.dc, circuits=(*job.dc.circuits, circuit)))
            load = Load(
                tag=next_tag(job, "load"),
                name=f"Lights {number + 1}",
                group="Lights",
                supply=supply[volts],
                count=share,
                running_w=asked.watts,
                power_factor=1.0,
                circuit=circuit.tag,
                patterns={kind.tag: _EVENING for kind in job.day_kinds},
            )
            job = replace(job, loads=(*job.loads, load))
        return job

    words = f"{asked.lights} lights of {asked.watts:g} W on {asked.switches} switches"
    return Edit(f"{words} in {panel or 'the house bar'}", apply, path="dc.circuits", system=WHOLE)


def _fuse(amps: float) -> float:
    """The usual fuse of a lighting circuit [A]. Source: common practice, no source."""
    return next(rating for rating in (5.0, 7.5, 10.0, 15.0, 20.0, 30.0, 1000.0) if rating >= 1.5 * amps)
