"""Acceptance under load: step loads, drops, sharing of packs, run hot; each with a diagnosis from the same network
where a reading is out of its band.
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.proving.step_load import StepLoad, rest_v, step_load
from weighty_axle.answers.proving.trial import CLAMP_A, CLAMP_SHARE, Trials, predicted
from weighty_axle.design.figures import Given
from weighty_axle.design.table import Design

STEPS = (0.25, 0.5, 1.0)
"""Shares of the inverters' rating that are put on one after the other. Source: common practice, no source."""

DROP_TIMES, DROP_MV = 1.3, 5.0
"""A drop may be so many times what is predicted, and so many millivolts on top, before a joint is looked for: lugs and
contacts are predicted from usual values. Source: common practice, no source.
"""

WARM_K = 30.0
"""A joint so much warmer than the air after half an hour at full load is looked for. Source: common practice."""


def load_trials(own: Design) -> Iterator[Check]:
    """Tests of a system's inverters under load; none where it has none.

    Source: nodal analysis; bands common practice, no source.
    """
    yield from _LoadTrials(own).all()


class _LoadTrials(Trials):
    """The tests while they are made."""

    def all(self) -> Iterator[Check]:
        """All of them."""
        stack = self.design.job.inverters
        whole = stack.spec.continuous_va * len(stack.units)
        loads = (step_load(self.design, round(whole * share, -2)) for share in STEPS)
        steps = [one for one in loads if one is not None]
        for step in steps:
            yield from self._step(step)
        if not steps:
            return
        yield from self._drops(steps[-1])
        yield from self._sharing(steps[-1])
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

    def _step(self, step: StepLoad) -> Iterator[Check]:
        name = f"{step.ac_w:.0f} W"
        given = (Given("On the AC side", step.ac_w, "W"), Given("Bank at rest", rest_v(self.design), "V"))
        amps = predicted(f"Main run at {name}", step.main_a, "A", "network with the inverters' losses", given)
        slack = CLAMP_SHARE * step.main_a + CLAMP_A
        yield self.read(
            f"{name} amps",
            "Step loads",
            f"{name} on AC (heaters): current of the main run",
            (step.main_tag,),
            amps,
            step.main_a * 0.95 - slack,
            step.main_a * 1.05 + slack,
            "A",
            "another load is on, the load is not what its label says, or an inverter takes less than its share",
        )
        volts = predicted(f"Bank at {name}", step.bank_v, "V", "at rest − current × the bank's resistance", given)
        low, high = step.bank_v - 0.015 * rest_v(self.design), step.bank_v + 0.01 * rest_v(self.design)
        yield self.read(
            f"{name} bank",
            "Step loads",
            f"{name} on AC: voltage at the bank's terminals",
            (step.main_tag,),
            volts,
            low,
            high,
            "V",
            "packs sag: cold, tired, or one has switched off",
        )

    def _drops(self, step: StepLoad) -> Iterator[Check]:
        """Both poles of the main run and of each inverter's lead, terminal to terminal, at the largest step."""
        main = () if self.design.system.shares_bank else (step.main_tag,)
        for tag in (*main, *(f"W-{unit.tag}" for unit in self.design.job.inverters.units)):
            at = step.ways.get(tag)
            if at is None:
                continue
            millivolts = (at.start_v - at.end_v) * 1000
            figure = predicted(
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
            value = found.reading.value if found.reading is not None else None
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
        for one in strings if len(strings) > 1 and not self.design.system.shares_bank else ():
            amps = one.share * step.main_a
            name = "–".join(one.tags)
            figure = predicted(
                f"{name}: share at {step.ac_w:.0f} W",
                amps,
                "A",
                "share by Kirchhoff's laws × current",
                (Given("Share", one.share, "1"), Given("Current", step.main_a, "A")),
            )
            slack = 0.10 * abs(amps) + CLAMP_A
            found = self.read(
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
            value = found.reading.value if found.reading is not None else None
            if found.verdict == "bad" and value is not None and abs(value) <= CLAMP_A + 0.02 * abs(amps):
                others = ", ".join("–".join(each.tags) for each in strings if each is not one)
                says = (
                    f"{value:g} A: {name} carries nothing, {others} carry its {amps:.0f} A: it is switched off by hand "
                    "or by its own electronics, its fuse is open, or a lead of it"
                )
                found = replace(found, says=says)
            yield found
