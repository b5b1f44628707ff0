"""A setting of one unit: what is entered, why, what a wrong one does; what stands in the unit beside it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal, NamedTuple

from msgspec.structs import replace

from weighty_axle.answers.first_power.check import Check, Verdict, judged
from weighty_axle.design.figures import Figure
from weighty_axle.job.models.bank import PackSpec
from weighty_axle.job.models.proving import Entry, Reading

Worse = Literal["", "above", "below", "other"]
"""Which way a difference hurts: above, below, any other; empty: it does no harm."""

STEP = {"V": 0.1, "A": 1.0, "mV/K": 1.0}
"""What units accept. Source: common practice, no source."""


def drained(spec: PackSpec) -> str:
    """What becomes of a bank that is drained past its cut-out.

    Source: common practice, no source.
    """
    if spec.managed:
        return "the packs' electronics open, and all goes dark"
    return "the cells are drained too deep, and lose capacity for good"


class Setting(Check, frozen=True, kw_only=True):
    """A setting of a unit, as a check whose group is the unit and whose words are the setting's name.

    `value` is a number in `unit`, or None where `word` is chosen. `hurts` says what a wrong one does, `worse` which
    way. `entries` are what stood in the unit, the latest last.
    """

    value: float | None = None
    word: str = ""
    why: str
    source: str
    hurts: str = ""
    worse: Worse = ""
    entries: tuple[Entry, ...] = ()

    @property
    def thing(self) -> str:
        """The unit and the setting."""
        return f"{self.group}, {self.words}"

    @property
    def said(self) -> str:
        """The value as it is entered, without its unit."""
        if self.value is None:
            return self.word
        return f"{self.value:.1f}" if self.unit == "V" else f"{self.value:g}"

    @property
    def shown(self) -> str:
        """The value with its unit."""
        return f"{self.said} {self.unit}".strip()

    @property
    def dangerous(self) -> bool:
        """Whether what stands in the unit differs the way that hurts."""
        if self.verdict != "bad" or not self.worse:
            return False
        number = number_of(self.entries[-1].said)
        if self.worse == "other" or self.value is None or number is None:
            return True
        return number > self.value if self.worse == "above" else number < self.value


class UnitSheet(NamedTuple):
    """All settings of one unit; `words` says what it is, `stated` whether the job has a thing of this tag."""

    tag: str
    words: str
    settings: tuple[Setting, ...]
    stated: bool = True


class Change(NamedTuple):
    """A value changed after commissioning: what stood in the unit, and the entry that stands since."""

    setting: str
    old: str
    entry: Entry


def number_of(said: str) -> float | None:
    """The number somebody typed, with or without a unit; None for a word."""
    text = said.strip().replace("−", "-").replace(",", ".").split()
    try:
        return float(text[0]) if text else None
    except ValueError:
        return None


MEANT: tuple[frozenset[str], ...] = (
    frozenset({"on", "yes", "enabled", "enable", "active", "1", "true"}),
    frozenset({"off", "no", "disabled", "disable", "none", "never", "inactive", "0", "false"}),
    frozenset({"lithium", "lifepo4", "lfp", "li", "li-ion", "liion"}),
    frozenset({"flooded", "wet", "agm", "gel", "sealed", "lead", "lead-acid", "pb"}),
    frozenset({"leads", "lead unit", "leader", "first"}),
    frozenset({"follows", "follower"}),
    frozenset({"charger", "charging"}),
    frozenset({"supply", "power supply"}),
)
"""Words that mean the same in menus; words of two rows never do."""


def same_word(wanted: str, said: str) -> Verdict:
    """Whether a unit's own word is what the sheet wants: good, bad where it means something else, asked where nobody
    can tell. Numbers may stand without their unit.

    Source: common practice, no source.
    """
    want, told = wanted.strip().casefold(), said.strip().casefold()
    if told == want:
        return "good"
    numbers = number_of(wanted), number_of(said)
    if numbers[0] is not None:
        # A number with its unit; more words than that are compared as they are.
        alike = numbers[0] == numbers[1] and len(want.split()) <= 2 and len(told.split()) <= 2
        return "asked" if numbers[1] is None else "good" if alike else "bad"
    rows = [next((at for at, row in enumerate(MEANT) if _first(text, row)), None) for text in (want, told)]
    if rows[0] is None or rows[1] is None:
        return "asked"
    if rows[0] != rows[1]:
        return "bad"
    # The same kind of word; where the sheet says more than it, the rest must not be said otherwise.
    return "bad" if "," in told and told != want else "good"


def _first(text: str, row: frozenset[str]) -> bool:
    return text in row or text.replace(",", " ").split(" ")[0] in row


def setting(
    key: str,
    unit_tag: str,
    name: str,
    value: float | str,
    unit: str,
    why: str,
    source: str,
    *,
    hurts: str = "",
    worse: Worse = "",
    figure: Figure | None = None,
) -> Setting:
    """A setting nothing is known of in the unit yet."""
    number = None if isinstance(value, str) else value
    return Setting(
        key=f"{unit_tag} {key}",
        group=unit_tag,
        words=name,
        tags=(unit_tag,),
        wanted=figure,
        unit=unit,
        value=number,
        word=value if isinstance(value, str) else "",
        why=why,
        source=source,
        hurts=hurts,
        worse=worse,
    )


def compared(one: Setting, entries: Sequence[Entry], hint: str) -> Setting:
    """A setting with what stands in its unit: good, bad with what it means, or asked about where a slip is likelier.

    `hint` is added to what a wrong number means. Source: common practice, no source.
    """
    if not entries:
        return one
    last = entries[-1]
    number = number_of(last.said)
    verdict: Verdict = "good"
    says = ""
    if one.value is None:
        verdict = same_word(one.word, last.said)
        if verdict == "bad":
            says = f"{last.said} stands in it, {one.word} is to be entered: {one.hurts or one.why}"
        elif verdict == "asked":
            says = f"{last.said} stands in it; is that {one.word}?"
    elif number is None:
        verdict, says = "asked", f"{last.said} is no number; {one.shown} is to be entered"
    else:
        slack = STEP.get(one.unit, 0.01 * abs(one.value)) / 2 + 1e-9
        means = hint or one.hurts or "enter what the sheet says, or make it an own value of the design"
        verdict, says = judged(number, one.value - slack, one.value + slack, one.unit, means)
        if verdict == "bad":
            says = f"{number:g} {one.unit} stands in it, {one.shown} is to be entered: {means}"
    reading = Reading(check=one.key, value=number, on=last.on, by=last.by, note=last.why)
    return replace(one, verdict=verdict, says=says, reading=reading, entries=tuple(entries))


def by_setting(entries: Iterable[Entry]) -> dict[str, list[Entry]]:
    """Entries of each setting in the order they were made."""
    found: dict[str, list[Entry]] = {}
    for one in entries:
        found.setdefault(one.setting, []).append(one)
    return found
