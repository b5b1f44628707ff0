"""Acceptance of what charges: strings in the sun of that hour, controllers, converters, engine speed by speed, and the
voltage each holds at the end.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.sun import cells_now, sun_now
from weighty_axle.answers.proving.step_load import rest_v
from weighty_axle.answers.proving.trial import CLAMP_A, Trials, predicted
from weighty_axle.answers.settings.profiles import lead_acid_words
from weighty_axle.design.figures import Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.roof import spec_of

LEAST_SUN = 200.0
"""Sun below which an array's current says little [W/m2]. Source: common practice, no source."""


PATH_SHARE = 0.95
"""What is left of an array's power behind cables and controller. Source: common practice, no source."""

HELD_SHARE = 0.006
"""A charger may hold its voltage so far off at the bank's terminals: its own error and the cable at the tail current.
Source: common practice, no source.
"""


def charge_trials(own: Design) -> Iterator[Check]:
    """Tests of what charges a bank.

    Source: textbook relations, mixes of the design; bands common practice, no source.
    """
    made = _ChargeTrials(own)
    yield from made.arrays()
    yield from made.controllers()
    yield from made.converters()
    yield from made.held()
    yield from made.engine()


class _ChargeTrials(Trials):
    """The tests while they are made."""

    def _too_dark(self, key: str, words: str, tag: str) -> Check:
        key = f"{self.before}{key}"
        return Check(
            key=key,
            group="Arrays",
            words=f"{self.where}{words}",
            tags=(tag,),
            low=0.0,
            high=math.inf,
            unit="A",
            reading=self.latest.get(key),
            says=f"cannot be judged: state a sun of {LEAST_SUN:.0f} W/m² or more, or a clear sky's day and hour",
        )

    def arrays(self) -> Iterator[Check]:
        """The current of every string."""
        roof, sun = self.design.job.roof, sun_now(self.design)
        for string in self.design.roof.strings:
            if not string.modules:
                continue
            imp = min(spec_of(roof, one).imp_a for one in roof.modules if one.tag in string.modules)
            amps = imp * sun.value / 1000
            words, key = f"{string.tag}: current while the bank takes all it gives", f"{string.tag} amps"
            if sun.value < LEAST_SUN:
                yield self._too_dark(key, words, string.tag)
                continue
            given = (Given("Imp", imp, "A"), Given("Sun", sun.value, "any"))
            found = self.read(
                key,
                "Arrays",
                words,
                (string.tag,),
                predicted(f"{string.tag}: current now", amps, "A", "least Imp of its modules × sun ÷ 1000 W/m²", given),
                amps * 0.85 - 0.3,
                amps * 1.1 + 0.3,
                "A",
                "shade, a dead section, a plug with resistance, or the bank is full and the controller holds back",
            )
            value = found.reading.value if found.reading is not None else None
            if found.verdict == "bad" and value is not None and abs(value) < 0.05 * amps:
                says = (
                    f"{value:g} A: {string.tag} gives nothing of {amps:.1f} A: its isolator or fuse is open, a plug is "
                    "not in, or a module in it is broken. Measure its open voltage at the isolator"
                )
                found = replace(found, says=says)
            yield found

    def controllers(self) -> Iterator[Check]:
        """The current of every controller into the bank: it tells which of its strings is missing."""
        roof, sun, bank_v = self.design.job.roof, sun_now(self.design), rest_v(self.design)
        cells = cells_now(self.design)
        for one in roof.controllers:
            strings = [each for each in self.design.roof.strings if each.controller == one.tag and each.modules]
            if not strings:
                continue
            key, words = f"{one.tag} amps", f"{one.tag}: current into the bank, bank not full"
            if sun.value < LEAST_SUN:
                yield self._too_dark(key, words, one.tag)
                continue
            watts = {each.tag: self._string_w(each.modules, sun.value, cells.value) for each in strings}
            amps = self._into_bank(sum(watts.values()), one.spec.output_a)
            given = (
                Given("Modules in this sun", sum(watts.values()), "W"),
                Given("Left behind cables and controller", PATH_SHARE, "1"),
                Given("Bank", bank_v, "V"),
                Given("Controller's limit", one.spec.output_a, "A"),
            )
            found = self.read(
                key,
                "Arrays",
                words,
                (one.tag, *(each.tag for each in strings)),
                predicted(f"{one.tag}: into the bank now", amps, "A", "power ÷ bank, at most its limit", given),
                amps * 0.85 - CLAMP_A,
                amps * 1.1 + CLAMP_A,
                "A",
                "shade, dirt, a string that is missing, or the bank is full and it holds back",
            )
            value = found.reading.value if found.reading is not None else None
            if found.verdict == "bad" and value is not None:
                found = self._missing(found, value, watts, one.spec.output_a)
            yield found

    def _string_w(self, modules: tuple[str, ...], light: float, cells_c: float) -> float:
        roof = self.design.job.roof
        specs = [spec_of(roof, one) for one in roof.modules if one.tag in modules]
        return sum(one.vmp_v * one.imp_a * light / 1000 * (1 + one.pmp_per_c * (cells_c - 25)) for one in specs)

    def _into_bank(self, watts: float, most_a: float) -> float:
        return min(most_a, watts * PATH_SHARE / rest_v(self.design))

    def _missing(self, found: Check, value: float, watts: dict[str, float], most_a: float) -> Check:
        """Which string's part is missing, where the rest explains what was read."""
        if len(watts) < 2 or value > (found.low or 0.0):
            return found
        left = {
            tag: self._into_bank(sum(each for other, each in watts.items() if other != tag), most_a) for tag in watts
        }
        likely = [tag for tag, amps in left.items() if abs(value - amps) <= 0.08 * amps + CLAMP_A]
        if not likely:
            return found
        names = " or ".join(likely)
        says = f"{value:g} A is what is left without {names}: look at its isolator, fuse and plugs"
        return replace(found, says=f"{says}, and measure each string")

    def converters(self) -> Iterator[Check]:
        """Voltage of every supply, current of every charger."""
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

    def held(self) -> Iterator[Check]:
        """The voltage every charger holds at the end: a default left in it shows here."""
        points = {one.key: one for one in self.design.settings.points}
        full, bank = points["absorption_v"], self.design.job.bank
        stack = self.design.job.inverters
        tags = [unit.tag for unit in stack.units if stack.spec.charge_a > 0]
        tags += [one.tag for one in self.design.job.roof.controllers]
        tags += [
            end.converter.tag for end in self.design.ends if not end.starts_here and end.converter.spec.output_v is None
        ]
        slack = HELD_SHARE * full.value
        for tag in tags:
            found = self.read(
                f"{tag} holds",
                "Chargers and converters",
                f"{tag}: voltage at the bank's terminals when its current falls off, the others off",
                (tag,),
                full.computed,
                full.value - slack,
                full.value + slack / 2,
                "V",
                "another profile, or a set point that was not entered",
            )
            value = found.reading.value if found.reading is not None else None
            default = lead_acid_words(value, bank) if found.verdict != "good" and value is not None else ""
            yield replace(found, verdict="bad", says=f"{value:g} V: {default}") if default else found

    def engine(self) -> Iterator[Check]:
        """What comes in by the engine at every speed, nothing else charging; and what each charger sees of it."""
        charging = self.design.job.charging
        speeds = {"idle": charging.idle_rpm, "slow": charging.slow_rpm, "cruise": charging.cruise_rpm}
        told = {one.tag: one.told_a.value for one in self.design.source_states.told}
        for state in self.design.source_states.states:
            if state.sun or state.plug or state.engine == "off":
                continue
            units = [unit for part in state.parts for unit in part.units]
            amps = sum(min(unit.amps, told.get(unit.tag, unit.amps)) for unit in units)
            if not units:
                continue
            most = sum(min(unit.most_a, told.get(unit.tag, unit.most_a)) for unit in units)
            rpm = speeds[state.engine]
            given = (Given("Engine", rpm, "any"), *(Given(unit.tag, unit.amps, "A") for unit in units))
            yield self.read(
                f"engine {state.engine}",
                "Engine",
                f"Engine at {rpm:.0f} turns a minute, warm, nothing plugged in, arrays off: current into the bank",
                tuple(unit.tag for unit in units),
                predicted(f"Into the bank, engine {state.engine}", amps, "A", "Σ of what each gives, hot", given),
                max(0.0, amps * 0.9 - CLAMP_A),
                most * 1.1 + CLAMP_A,
                "A",
                "an alternator gives less, a belt slips, a charger does not see the engine, or a cable loses too much",
            )
        for seen in self.design.detections:
            yield self.read(
                f"{seen.tag} sees",
                "Engine",
                f"{seen.tag}: voltage at its input, engine running, at full current",
                (seen.tag,),
                seen.loaded_low_v,
                seen.loaded_low_v.value,
                seen.running_high_v.value,
                "V",
                "its cable or a joint of it loses too much, or the alternator does not hold its voltage",
                slack=0.02 * seen.running_high_v.value,
            )
