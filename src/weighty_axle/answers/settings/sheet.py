"""Settings sheets of every unit of a job, and what was changed in them since."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise

from msgspec.structs import replace

from weighty_axle.answers.settings.around import bay_sheets, box_sheets, disconnect_sheets, generator_sheets
from weighty_axle.answers.settings.chargers import charger_sheets, controller_sheets, limit_sheet, monitor_sheet
from weighty_axle.answers.settings.inverters import inverter_sheets
from weighty_axle.answers.settings.profiles import lead_acid_words
from weighty_axle.answers.settings.setting import Change, Setting, UnitSheet, by_setting, compared, number_of
from weighty_axle.design.table import Design
from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.proving import Entry


def sheets(design: Design) -> tuple[UnitSheet, ...]:
    """The sheet of every unit of the whole job, with what stands in each; the house first.

    Source: set points of the design; common practice, no source.
    """
    entries = by_setting(design.whole.proving.entries)

    def now(own: Design, sheet: UnitSheet, one: Setting) -> Setting:
        since = entries.get(one.key, ())
        made = compared(one, since, _hint(one, own.job.bank, since))
        return made if sheet.stated else replace(made, tags=())

    return tuple(
        sheet._replace(settings=tuple(now(own, sheet, one) for one in sheet.settings)) for own, sheet in _bare(design)
    )


def all_settings(design: Design) -> tuple[Setting, ...]:
    """Settings of all units in the order of the sheets.

    Source: the sheets.
    """
    return tuple(one for sheet in sheets(design) for one in sheet.settings)


def alike(found: tuple[UnitSheet, ...]) -> tuple[tuple[UnitSheet, ...], ...]:
    """Sheets of units that are set nearly alike, together: the same settings, name by name.

    Source: the sheets.
    """
    groups: dict[tuple[str, ...], list[UnitSheet]] = {}
    for sheet in found:
        kind = sheet.words.partition(",")[0].partition(" from ")[0]
        groups.setdefault((kind, *(one.key.partition(" ")[2] for one in sheet.settings)), []).append(sheet)
    return tuple(tuple(some) for some in groups.values())


def changes(design: Design) -> tuple[Change, ...]:
    """Every value changed after it was first entered, in the order it happened.

    Source: the job.
    """
    found = []
    order = {id(one): at for at, one in enumerate(design.whole.proving.entries)}
    for setting, several in by_setting(design.whole.proving.entries).items():
        found += [Change(setting, old.said, new) for old, new in pairwise(several)]
    return tuple(sorted(found, key=lambda one: order[id(one.entry)]))


def _bare(design: Design) -> Iterator[tuple[Design, UnitSheet]]:
    """Every sheet with the design of the system it charges or discharges, nothing compared yet."""
    for own in (design, *design.others):
        for sheet in inverter_sheets(own):
            yield own, sheet
    banks = [one for one in (design, *design.others) if not one.system.shares_bank]
    for own in banks:
        for sheet in (*controller_sheets(own), *charger_sheets(own), *limit_sheet(own), *monitor_sheet(own)):
            yield own, sheet
    for own in banks:
        for sheet in (*disconnect_sheets(own), *box_sheets(own)):
            yield own, sheet
    for sheet in (*generator_sheets(design), *bay_sheets(design)):
        yield design, sheet


def _hint(one: Setting, bank: Bank, entries: Sequence[Entry]) -> str:
    """What a set point says that belongs to lead-acid cells in a bank of others; empty where it does not."""
    if not entries or one.unit != "V" or one.value is None:
        return ""
    volts = number_of(entries[-1].said)
    return lead_acid_words(volts, bank) if volts is not None and abs(volts - one.value) > 0.05 else ""
