"""The shop's stock and the photos of the build: bounded, upright, carried in the job file, never half written."""

from __future__ import annotations

import io
import zipfile

import pytest
from msgspec.structs import replace
from PIL import Image

from weighty_axle.job import limits
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.build import noted, set_part
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.files.photos import LONG_PX, PhotoError, photo, photo_folder, take_in
from weighty_axle.job.files.stock import Stock, StockError, StockPiece, read_stock, stock_file, write_stock
from weighty_axle.job.files.store import load, save
from weighty_axle.job.models.build import Noted, PartState, Torque


def test_the_stock_comes_back_and_a_damaged_one_is_left_as_it_is(tmp_path):
    path = stock_file()
    assert str(path).startswith(str(tmp_path)) and read_stock(path) == Stock()
    stock = Stock(pieces=(StockPiece(name="rest", conductor="10 AWG conductor", colour="red", length_m=3.2),))
    write_stock(path, stock)
    assert read_stock(path) == stock
    for raw in (b"{", b"\xff\xfe", b'{"pieces": [{"name": "a", "conductor": "b", "length_m": -1}]}', b"[" * 100_000):
        path.write_bytes(raw)
        with pytest.raises(StockError, match="left as it is"):
            read_stock(path)
        assert path.read_bytes() == raw
    write_stock(path, Stock(pieces=stock.pieces * 2))
    with pytest.raises(StockError, match="two pieces called rest"):
        read_stock(path)


def picture(path, wide, high, **more):
    Image.new("RGB", (wide, high), "white").save(path, **more)
    return path


def test_a_photo_is_turned_upright_made_smaller_and_kept_without_what_the_camera_noted(tmp_path):
    exif = Image.Exif()
    exif[0x0112] = 6  # turned a quarter: EXIF 2.3, tag Orientation
    exif[0x8825] = {1: "N"}  # where it was taken
    name = take_in(picture(tmp_path / "a.jpg", 4000, 3000, exif=exif))
    kept = Image.open(io.BytesIO(photo(name, None)))
    assert kept.size == (LONG_PX * 3 // 4, LONG_PX) and not kept.getexif()
    assert take_in(tmp_path / "a.jpg") == name and len(list(photo_folder().iterdir())) == 1


@pytest.mark.parametrize("kind", ["text", "cut", "empty", "huge", "missing"])
def test_what_is_no_photo_is_refused_in_a_sentence(tmp_path, monkeypatch, kind):
    path = tmp_path / "x.jpg"
    if kind == "text":
        path.write_bytes(b"not a picture at all")
    elif kind == "cut":
        picture(path, 900, 900)
        path.write_bytes(path.read_bytes()[:700])
    elif kind == "empty":
        path.write_bytes(b"")
    elif kind == "huge":
        monkeypatch.setattr(limits, "PHOTO_PIXELS", 10_000)
        picture(path, 200, 100)
    with pytest.raises(PhotoError) as caught:
        take_in(path)
    assert str(caught.value).startswith("x.jpg") or kind == "missing"
    assert not photo_folder().exists()


def test_photos_travel_in_the_job_file(tmp_path, puppet, monkeypatch):
    name = take_in(picture(tmp_path / "a.png", 300, 200))
    job = noted(Noted(about="W-MAIN end +", words="tight", photo=name)).apply(puppet)
    path = tmp_path / "job.axle"
    save(job, path)
    with zipfile.ZipFile(path) as container:
        assert set(container.namelist()) == {"job.json", f"photos/{name}"}
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "another machine"))
    assert load(path) == job and photo(name, path) is not None and photo(name, None) is None
    save(replace(job, notes="more"), path, carry_from=path)
    assert photo(name, path) is not None
    path.write_bytes(path.read_bytes()[:60])
    assert photo(name, path) is None


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (set_part("a", due="2027-02-30"), "no day"),
        (set_part("a", due="1027-02-03"), "between 2000"),
        (set_value("build.parts", (PartState(part="a"), PartState(part="a")), ""), "said twice"),
        (set_value("build.torques", (Torque(end="a", torque_nm=-1.0),), ""), "at least 0.1"),
        (set_value("build.log", (Noted(about="x", photo="../../etc/passwd"),), ""), "named by"),
        (set_value("build.starts_on", "tomorrow", ""), "written as 2027-03-01"),
    ],
)
def test_what_the_build_cannot_be_is_said_at_its_place(puppet, edit, words):
    found = problems(edit.apply(puppet))
    assert found and found[0].place.startswith("build") and words in found[0].message
