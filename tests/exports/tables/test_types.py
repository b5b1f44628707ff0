"""Own types: kept in one file, out and in as a table, whole or not at all."""

from __future__ import annotations

import csv
import io

import pytest
from msgspec.structs import replace

from weighty_axle.exports.tables.reading import TableError
from weighty_axle.exports.tables.types import read_types, types_table, write_types
from weighty_axle.job.models.charging import LoadPoint
from weighty_axle.job.models.inverters import OverloadPoint
from weighty_axle.reference.own_types import LISTS, OwnTypes, keep, read_own, typical


def kept(tmp_path):
    """One of every kind, one of them with everything stated, in a file of own types."""
    path = tmp_path / "types.json"
    some = [typical(kind)[0] for kind in LISTS]
    inverter = next(one for one in some if hasattr(one, "overload"))
    full = replace(inverter, name="=Own, 1,5 kVA", overload=(OverloadPoint(1.2, 60.0), OverloadPoint(1.5, 9.5)))
    supply = next(one for one in some if hasattr(one, "output_v"))
    curved = replace(
        supply, name="Own supply", curve=(LoadPoint(0.2, 0.88), LoadPoint(1.0, 0.925)), peak_a=90.0, peak_s=3.0
    )
    keep(path, (*some, full, curved))
    return path


@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_a_table_of_own_types_comes_back_as_it_was(tmp_path, ending):
    own = read_own(kept(tmp_path))
    assert len(own.all()) == len(LISTS) + 2
    write_types(own, tmp_path / f"types.{ending}")
    assert set(read_types(tmp_path / f"types.{ending}")) == set(own.all())


def test_keeping_one_of_the_same_name_replaces_it_and_a_damaged_file_is_left(tmp_path):
    path = kept(tmp_path)
    first = read_own(path).packs[0]
    keep(path, (replace(first, capacity_ah=77.0),))
    assert [one.capacity_ah for one in read_own(path).packs] == [77.0]
    path.write_text('{"packs": [{"name": "half"}]}')
    with pytest.raises(ValueError, match="cannot be read"):
        keep(path, (first,))
    assert path.read_text().startswith('{"packs"')


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"kind": "bicycle"}, r"row 3: the kind must be one of pack, inverter"),
        ({"capacity_ah": "lots"}, r"row 3, capacity_ah: “lots” is not a number"),
        ({"capacity_ah": "-3"}, r"row 3: .*capacity_ah"),
        ({"heated": "maybe"}, r"row 3, heated: write yes or no"),
        ({"cells_in_series": "4.5"}, r"row 3, cells_in_series: “4.5” is not a whole number"),
        ({"size.length_m": ""}, r"row 3: .*length_m"),
        ({"kind": "converter", "curve": "half"}, r"row 3, curve: write points as 0.5 x 0.93"),
    ],
    ids=lambda one: next(iter(one.items())) if isinstance(one, dict) else "",
)
def test_a_bad_row_is_told_and_nothing_is_taken_in(tmp_path, change, sentence):
    packs = tuple(typical(next(kind for kind, name in LISTS.items() if name == "packs"))[:2])
    header, rows = types_table(OwnTypes(packs=packs))
    bad = [dict(zip(header, row, strict=True)) for row in rows]
    bad[1].update(change)
    out = io.StringIO()
    writer = csv.DictWriter(out, header)
    writer.writeheader()
    writer.writerows(bad)
    (tmp_path / "types.csv").write_text(out.getvalue())
    with pytest.raises(TableError, match=sentence):
        read_types(tmp_path / "types.csv")
