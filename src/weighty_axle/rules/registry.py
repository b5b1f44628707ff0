"""Rules and findings. A rule yields hits; a hit becomes a finding whose sentence is made here and nowhere else."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from types import ModuleType
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.systems import System as PlantSystem
from weighty_axle.steps import step_of
from weighty_axle.units import System, show

Severity = Literal["stop", "check", "note"]
SEVERITIES: tuple[Severity, ...] = ("stop", "check", "note")

Value = Figure | Given | str


class Hit(Struct, frozen=True):
    """One place where a rule applies: tags concerned, values for its sentence, and a remedy where one is obvious."""

    tags: tuple[str, ...]
    values: dict[str, Value]
    remedy: Edit | None = None


class Rule(Struct, frozen=True):
    """A rule of the registry.

    `sentence` names its values in braces; `advice` says what to do, and with the loose end.
    """

    id: str
    step: str
    severity: Severity
    sentence: str
    source: str
    check: Callable[[Design], Iterator[Hit]]
    advice: str = ""


class Finding(Struct, frozen=True):
    """A rule's hit on one design.

    `also` are further things wrong with the same part whose remedies would undo each other; `choices` are the remedies
    then. `system` is the system it is of where the job has several.
    """

    rule: Rule
    tags: tuple[str, ...]
    values: dict[str, Value]
    remedy: Edit | None
    also: tuple[Finding, ...] = ()
    choices: tuple[Edit, ...] = ()
    system: PlantSystem | None = None

    @property
    def remedies(self) -> tuple[Edit, ...]:
        """Every remedy offered, the one to try first in front; each knows the system it is for."""
        found = self.choices or ((self.remedy,) if self.remedy is not None else ())
        if self.system is None:
            return found
        return tuple(replace(one, system=self.system.key) if one.system is None else one for one in found)

    @property
    def id(self) -> str:
        """Steady name of the finding: the rule and what it concerns."""
        where = f"@{self.system.key}" if self.system is not None and self.system.key else ""
        return f"{self.rule.id}:{','.join(self.tags)}{where}"

    @property
    def figures(self) -> tuple[Figure, ...]:
        """Figures in the sentence, whose workings can be opened."""
        own = tuple(value for value in self.values.values() if isinstance(value, Figure))
        return (*own, *(figure for one in self.also for figure in one.figures))

    def sentence(self, system: System = "metric") -> str:
        """The finding in one sentence with its numbers; what else is wrong with the same part follows, a sentence
        each.
        """
        said = " ".join((self._alone(system), *(one._alone(system, after=self) for one in self.also)))
        return f"{self.system.name}: {said}" if self.system is not None and self.system.key else said

    def _alone(self, system: System, after: Finding | None = None) -> str:
        """Its own sentence; after one about the same item it does not name that again."""
        words = {
            name: value if isinstance(value, str) else show(value.value, value.unit, system)
            for name, value in self.values.items()
        }
        if (
            after is not None
            and self.rule.sentence.startswith("{item} ")
            and self.values["item"] == after.values.get("item")
        ):
            words["item"] = "It"
        return self.rule.sentence.format(**words)


def rule(
    id: str, severity: Severity, sentence: str, source: str, advice: str = ""
) -> Callable[[Callable[[Design], Iterator[Hit]]], Rule]:
    """Make a rule of a function; its step is the part of `id` before the dot."""
    step = step_of(id.partition(".")[0])
    return lambda check: Rule(id, step.key, severity, sentence, source, check, advice)


def rules_of(*modules: ModuleType) -> tuple[Rule, ...]:
    """Rules of some modules, in the order they are written there."""
    return tuple(one for module in modules for one in vars(module).values() if isinstance(one, Rule))


def hit(*tags: str, remedy: Edit | None = None, **values: Value) -> Hit:
    """A hit on tags with the values its sentence names."""
    return Hit(tags, values, remedy)


def amps(value: float) -> Given:
    """A stated current for a sentence."""
    return Given("", value, "A")


def volts(value: float) -> Given:
    """A stated voltage for a sentence."""
    return Given("", value, "V")


def share(value: float) -> Given:
    """A stated share for a sentence."""
    return Given("", value, "1")
