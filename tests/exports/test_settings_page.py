"""The printed sheets: as many units as a stack has, a few side by side, each with room to sign."""

from __future__ import annotations

import re
from datetime import date

import pypdf
import pytest
from msgspec.structs import replace

from weighty_axle.answers.settings.sheet import sheets
from weighty_axle.design.derive import derive
from weighty_axle.exports.pages.settings import MOST_ABREAST, write_settings


@pytest.mark.parametrize("count", [1, MOST_ABREAST, MOST_ABREAST + 1, 25])
def test_a_stack_of_any_size_is_printed_with_every_setting_of_every_unit(puppet, tmp_path, count):
    first = puppet.inverters.units[0]
    units = tuple(replace(first, tag=f"INV{at + 1}", bonds=at == 0) for at in range(count))
    stacking = "parallel" if count > 1 else "single"
    design = derive(replace(puppet, inverters=replace(puppet.inverters, stacking=stacking, units=units)))
    path = write_settings(design, tmp_path / "settings.pdf", today=date(2027, 3, 1))
    text = re.sub(r"\s+", " ", " ".join(page.extract_text() for page in pypdf.PdfReader(path).pages))
    # A line to sign for each unit above each of its settings.
    columns = re.findall(r"(INV\d+): entered, day, initials", text)
    assert set(columns) == {one.tag for one in units}
    # A box for every setting of every unit, and none more.
    boxes = sum(len(one.settings) for one in sheets(design))
    assert text.count("☐") == boxes
