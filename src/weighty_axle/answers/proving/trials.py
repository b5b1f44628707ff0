"""Acceptance tests of this system: each reading with the band the network and the meters predict, the verdict, and a
diagnosis from the same network where a reading is out of it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.first_power.check import Check, Checks
from weighty_axle.answers.proving.step_load import StepLoad, rest_v, step_load
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.inverters import line_v
from weighty_axle.job.models.proving import Reading
from weighty_axle.job.models.roof import spec_of

GROUPS = ("Step loads", "Drops", "Sharing", "AC side", "Arrays", "Chargers and converters", "Run hot", "Sources")
"""Groups of tests, in the order they are made."""

STEPS = (0.25, 0.5, 1.0)
"""Shares of the inverters' rating that are put on one after the other. Source: common practice, no source."""

CLAMP_SHARE, CLAMP_A = 0.02, 1.0
"""What a usual clamp meter may be off on direct current. Source: common practice, no source."""

DROP_TIMES, DROP_MV = 1.3, 5.0
"""A drop may be so many times what is predicted, and so many millivolts on top, before a joint is looked for: lugs and
contacts are predicted from usual values. Source: common practice, no source.
"""

RCD_MS = 300.0
"""Longest time of a 30 mA device at its rated residual current. Source: IEC 61008-1 table 1 (recalled)."""

PERSONAL_MA = 6.0
"""Up to here a device is of the personal kind: (20 ÷ I)^1.43 s at its current. Source: UL 943 (recalled)."""

WARM_K = 30.0
"""A joint so much warmer than the air after half an hour at full load is looked for. Source: common practice."""

LEAST_SUN = 200.0
"""Sun below which an array's current says little [W/m2]. Source: common practice, no source."""


def trials(design: Design) -> tuple[Check, ...]:
    """Every test of the house's system, in the order they are made.

    Source: predictions from the design; bands from usual meters, common practice, no source.
    """
    found = tuple(_Trials(design).all())
    return tuple(one for group in GROUPS for one in found if one.group == group)


def repeats(design: Design, key: str) -> tuple[Reading, ...]:
    """All readings of a test, the latest last.

    Source: the job.
    """
    return tuple(one for one in design.whole.proving.trials if one.check == key)


class _Trials(Checks):
    """The tests while they are made."""

    def __init__(self, design: Design) -> None:
        super().__init__(design, design.whole.proving.trials)
        stack = design.job.inverters
        whole = stack.spec.continuous_va * len(stack.units)
        loads = (step_load(design, round(whole * share, -2)) for share in STEPS)
        self.steps = [one for one in loads if one is not None]

    def all(self) -> Iterator[Check]:
        """All of them."""
        for step in self.steps:
            yield from self._step(step)
        if self.steps:
            yield from self._drops(self.steps[-1])
            yield from self._sharing(self.steps[-1])
            yield self.read(
                "hot",
                "Run hot",
                "Half an hour at full load: warmest joint over the air beside it, K",
                (),
                None,
                0.0,
                WARM_K,
                "K",
                "a loose lug, a washer between the faces, or a conductor that is too thin",
            )
        yield from self._alternating()
        yield from self._arrays()
        yield from self._converters()
        yield from self._sources()

    def _step(self, step: StepLoad) -> Iterator[Check]:
        name = f"{step.ac_w:.0f} W"
        given = (Given("On the AC side", step.ac_w, "W"), Given("Bank at rest", rest_v(self.design), "V"))
        amps = self._figure(f"Main run at {name}", step.main_a, "A", "network with the inverters' losses", given)
        slack = CLAMP_SHARE * step.main_a + CLAMP_A
        yield self.read(
            f"{name} amps",
            "Step loads",
            f"{name} on AC (heaters): current of the main run",
            (MAIN_RUN,),
            amps,
            step.main_a * 0.95 - slack,
            step.main_a * 1.05 + slack,
            "A",
            "another load is on, the load is not what its label says, or an inverter takes less than its share",
        )
        volts = self._figure(f"Bank at {name}", step.bank_v, "V", "at rest − current × the bank's resistance", given)
        low, high = step.bank_v - 0.015 * rest_v(self.design), step.bank_v + 0.01 * rest_v(self.design)
        yield self.read(
            f"{name} bank",
            "Step loads",
            f"{name} on AC: voltage at the bank's terminals",
            (MAIN_RUN,),
            volts,
            low,
            high,
            "V",
            "packs sag: cold, tired, or one has switched off",
        )

    def _drops(self, step: StepLoad) -> Iterator[Check]:
        """Both poles of the main run and of each inverter's lead, terminal to terminal, at the largest step."""
        for tag in (MAIN_RUN, *(f"W-{unit.tag}" for unit in self.design.job.inverters.units)):
            at = step.ways.get(tag)
            if at is None:
                continue
            millivolts = (at.start_v - at.end_v) * 1000
            figure = self._figure(
                f"{tag}: drop at {step.ac_w:.0f} W",
                millivolts,
                "mV",
                "current × fuse, switch, copper and lugs, hot",
                (Given("Current", at.amps, "A"),),
            )
            found = self.read(
                f"{tag} drop",
                "Drops",
                f"{tag} at {step.ac_w:.0f} W: volts lost from end to end, both poles added, in mV",
                (tag,),
                figure,
                0.0,
                millivolts * DROP_TIMES + DROP_MV,
                "mV",
                "a joint takes more than its share",
            )
            value = self.value(found.key)
            if found.high is not None and value is not None and value > found.high and at.amps > 1:
                extra = (value - millivolts) / at.amps
                says = (
                    f"{value:g} mV at {at.amps:.0f} A: {extra:.2g} mΩ more than its parts have, "
                    f"{at.amps**2 * extra / 1000:.0f} W of heat in a joint. Measure across fuse, switch and each lug"
                )
                found = replace(found, verdict="bad", says=says)
            yield found

    def _sharing(self, step: StepLoad) -> Iterator[Check]:
        strings = self.design.bank.sharing.strings
        for one in strings if len(strings) > 1 else ():
            amps = one.share * step.main_a
            name = "–".join(one.tags)
            figure = self._figure(
                f"{name}: share at {step.ac_w:.0f} W",
                amps,
                "A",
                "share by Kirchhoff's laws × current",
                (Given("Share", one.share, "1"), Given("Current", step.main_a, "A")),
            )
            slack = 0.10 * abs(amps) + CLAMP_A
            yield self.read(
                f"{name} share",
                "Sharing",
                f"{name} at {step.ac_w:.0f} W: current of its lead",
                one.tags,
                figure,
                amps - slack,
                amps + slack,
                "A",
                "less: a bad joint in its leads, or a tired pack; more: its neighbours have one",
            )

    def _alternating(self) -> Iterator[Check]:
        stack = self.design.job.inverters
        if not stack.units:
            return
        volts = line_v(stack)
        yield self.read(
            "AC volts",
            "AC side",
            "AC voltage at full load, line to neutral, at the panel",
            (),
            None,
            volts * 0.94,
            volts * 1.06,
            "V",
            "an inverter limits, a neutral is loose, or it is set for another country",
        )
        for panel in self.design.ac.panels:
            if panel.rcd_ma:
                yield self._residual(panel.tag, panel.name, panel.rcd_ma)
        for one in self.design.circuits:
            if one.circuit.rcd_ma:
                yield self._residual(one.tag, one.name, one.circuit.rcd_ma)
            if one.circuit.outlets:
                yield self.tick(
                    f"{one.tag} sockets",
                    "AC side",
                    f"{one.tag} {one.name}: every socket by the tester: line, neutral and earth right",
                    (one.tag,),
                )

    def _residual(self, tag: str, name: str, rcd_ma: float) -> Check:
        most_ms = RCD_MS if rcd_ma > PERSONAL_MA else (20 / PERSONAL_MA) ** 1.43 * 1000
        return self.read(
            f"{tag} RCD",
            "AC side",
            f"{tag} {name}: time to trip at {rcd_ma:g} mA, ms",
            (tag,),
            None,
            0.0,
            most_ms,
            "ms",
            "replace the device; it must not stay in use",
        )

    def _arrays(self) -> Iterator[Check]:
        proving, roof = self.design.whole.proving, self.design.job.roof
        for string in self.design.roof.strings:
            if not string.modules:
                continue
            imp = min(spec_of(roof, one).imp_a for one in roof.modules if one.tag in string.modules)
            amps = imp * proving.sun_w_per_m2 / 1000
            enough = proving.sun_w_per_m2 >= LEAST_SUN
            figure = self._figure(
                f"{string.tag}: current now",
                amps,
                "A",
                "least Imp of its modules × sun ÷ 1000 W/m²",
                (Given("Imp", imp, "A"), Given("Sun", proving.sun_w_per_m2, "any")),
            )
            words, key = f"{string.tag}: current while the bank takes all it gives", f"{string.tag} amps"
            if not enough:
                yield Check(
                    key=key,
                    group="Arrays",
                    words=words,
                    tags=(string.tag,),
                    low=0.0,
                    high=math.inf,
                    unit="A",
                    reading=self.latest.get(key),
                    says=f"cannot be judged: state a sun of {LEAST_SUN:.0f} W/m² or more first",
                )
                continue
            yield self.read(
                key,
                "Arrays",
                words,
                (string.tag,),
                figure,
                amps * 0.85 - 0.3,
                amps * 1.1 + 0.3,
                "A",
                "shade, a dead section, a plug with resistance, or the bank is full and the controller holds back",
            )

    def _converters(self) -> Iterator[Check]:
        for end in self.design.ends:
            one = end.converter
            volts = one.spec.output_v
            if volts is not None and end.starts_here:
                yield self.read(
                    f"{one.tag} volts",
                    "Chargers and converters",
                    f"{one.tag}: output voltage under load",
                    (one.tag,),
                    None,
                    volts * 0.96,
                    volts * 1.04,
                    "V",
                    "its setting, its input, or it limits",
                )
            elif not end.starts_here:
                amps = end.gives_a.value
                slack = 0.10 * amps + CLAMP_A
                yield self.read(
                    f"{one.tag} amps",
                    "Chargers and converters",
                    f"{one.tag}: current into the bank, bank not full, engine running where it takes one",
                    (one.tag,),
                    end.gives_a,
                    amps - slack,
                    amps + slack,
                    "A",
                    "hot and derated, thin input cable, engine not seen, or the wrong profile",
                )

    def _sources(self) -> Iterator[Check]:
        for source in self.design.job.inverters.sources:
            yield self.tick(
                f"{source.tag} source",
                "Sources",
                f"{source.name}: plugged in, its limit kept under a large load, unplugged at half load without a blink",
                (source.tag,),
            )

    def _figure(self, name: str, value: float, unit: str, formula: str, given: tuple[Given, ...]) -> Figure:
        return Figure(name=name, value=value, unit=unit, formula=formula, inputs=given, source=TEXTBOOK, limit=PRACTICE)
