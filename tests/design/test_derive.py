from __future__ import annotations

from inspect import signature
from typing import get_args, get_type_hints

import pytest
from msgspec.json import encode
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.design.beside import Beside
from weighty_axle.design.derive import Deriver, derive
from weighty_axle.design.table import TABLE, Answer, Design, Each
from weighty_axle.exports.data.figures import design_data
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import move
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import System
from weighty_axle.reference import tables


def test_either_practice_can_be_computed(puppet, clinic):
    """The same job by the other practice's table: conductors of like area, never thinner than a tenth less."""
    metric = derive(changed(clinic, practice="international", wiring__ampacity_table="small_craft_mm2")).wiring.runs[0]
    gauge = derive(clinic).wiring.runs[0]
    assert metric.chosen.size.endswith("mm2") and gauge.chosen.size.endswith("AWG")
    assert metric.chosen.copper_kg == pytest.approx(gauge.chosen.copper_kg, rel=0.35)
    assert (
        derive(replace(puppet, practice="north_american")).wiring.runs[0].fuse_a.value
        in tables.fuse_ratings("north_american").amps
    )


def test_findings_and_figures_do_not_depend_on_the_order_of_loads(clinic):
    turned = replace(clinic, loads=tuple(reversed(clinic.loads)))
    one, other = derive(clinic), derive(turned)
    assert other.brief.energy_per_day_wh.value == pytest.approx(one.brief.energy_per_day_wh.value)
    assert [leg.worst_va.value for leg in other.inverters.legs] == pytest.approx(
        [leg.worst_va.value for leg in one.inverters.legs]
    )


def test_only_what_an_edit_touches_is_derived_again(clinic):
    deriver = Deriver()
    one = deriver.derive(clinic)
    two = deriver.derive(move(("TK1",), dx_m=0.1).apply(clinic))
    assert two.place is not one.place
    assert all(
        getattr(two, step) is getattr(one, step)
        for step in ("brief", "bank", "inverters", "roof", "charging", "wiring", "settings")
    )
    three = deriver.derive(set_pack_count(8).apply(clinic))
    assert three.brief is one.brief and three.bank is not one.bank


@pytest.mark.parametrize(
    "change",
    [
        lambda job: replace(job, day_kinds=job.day_kinds[::-1]),
        lambda job: replace(job, loads=job.loads[::-1]),
        lambda job: replace(job, inverters=replace(job.inverters, sources=job.inverters.sources[::-1])),
        lambda job: replace(job, stays=job.stays[1:]),
        lambda job: set_pack_count(len(job.bank.packs) + job.bank.series).apply(job),
    ],
    ids=["kinds of day turned round", "loads turned round", "sources turned round", "a stay gone", "a pack more"],
)
def test_what_is_kept_is_what_would_be_derived_afresh(library_bus, change):
    deriver = Deriver()
    deriver.derive(library_bus)
    changed = change(library_bus)
    kept, fresh = deriver.derive(changed), derive(changed)
    assert encode(design_data(kept)) == encode(design_data(fresh))
    assert encode(design_data(deriver.derive(library_bus))) == encode(design_data(derive(library_bus)))


# ---- the table ----


GIVEN = {"job": Job, "whole": Job, "plant": Job, "system": System, "beside": tuple[Beside, ...]}
"""What rows may read besides answers above them."""


def _type_at(kind, path):
    """Type of what a path leads to, by the annotations of what it goes through."""
    for name in path:
        kind = get_type_hints(kind)[name]
    return kind


def _table_types():
    """Every row, the types of what it reads, and the types its function takes."""
    known = dict(GIVEN)
    for row in TABLE:
        hints = get_type_hints(row.function)
        made = hints.pop("return")
        if isinstance(row, Each):
            key, pieces = get_args(known[row.pieces])
            yield row, get_args(pieces), tuple(hints.values())
            known[row.name] = dict[key, made]
        else:
            reads = [path.split(".") for path in row.reads]
            yield row, tuple(_type_at(known[head], rest) for head, *rest in reads), tuple(hints.values())
            known[row.name] = made
        assert row.name not in ("job", "whole", "plant", "system", "beside", ""), row


def _fits(read, taken):
    """Whether a value of one type may be given where another is taken."""
    if read == taken or (isinstance(read, type) and isinstance(taken, type) and issubclass(read, taken)):
        return True
    return taken == read | None if isinstance(read, type) else False


@pytest.mark.parametrize(("row", "reads", "takes"), [pytest.param(*one, id=one[0].name) for one in _table_types()])
def test_every_row_reads_what_its_function_takes(row, reads, takes):
    assert len(reads) == len(takes) == len(signature(row.function).parameters)
    assert all(_fits(read, taken) for read, taken in zip(reads, takes, strict=True)), (reads, takes)


def test_rows_have_names_of_their_own_and_make_all_of_a_design():
    names = [row.name for row in TABLE]
    assert len(set(names)) == len(names)
    kinds = {"job": Job, "whole": Job, "system": System, "beside": tuple[Beside, ...]} | {
        row.name: get_type_hints(row.function)["return"] for row in TABLE
    }
    shown = {name: kind for name, kind in get_type_hints(Design).items() if name != "others"}
    assert {name: kinds[name] for name in shown} == shown
    read = {
        path.partition(".")[0] for row in TABLE for path in (row.reads if isinstance(row, Answer) else (row.pieces,))
    }
    assert set(names) <= read | set(Design.__struct_fields__), "an answer nobody reads"
