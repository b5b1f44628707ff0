"""Damaged and hostile files at every door: each is refused in a sentence, or taken and then sound.

Nothing takes over 5 s or 500 MB.
"""

from __future__ import annotations

import copy
import io
import json
import random
import time
import zipfile
import zlib
from collections.abc import Callable
from pathlib import Path

import msgspec
import openpyxl

from tests.attacks.memory import memory_mb, reset_peak
from tests.attacks.whole import where
from weighty_axle import demos
from weighty_axle.design.derive import derive
from weighty_axle.desk.work import preferences
from weighty_axle.exports.tables.loads import write_loads
from weighty_axle.exports.tables.loads_read import TableError, read_loads
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.files import journal, store
from weighty_axle.reference.appliances import read_own
from weighty_axle.reference.importers.module_table import ModuleTableError, read_modules
from weighty_axle.reference.importers.weather_file import WeatherFileError, read_weather
from weighty_axle.reference.own_types import read_own as read_own_types
from weighty_axle.rules.judge import judge

LONGEST_S, MOST_MB = 5.0, 500
ODD = (
    None,
    True,
    -1,
    0,
    1e-9,
    1e300,
    10**400,
    4.9e-322,
    "",
    "x" * 3000,
    "LD1",
    [],
    {},
    [[]],
    [0, 2000, 1],
    {"a": 1},
    "\u0000",
    "A.B",
    "A\n",
    "=1+1",
    [[0] * 30] * 30,
)
SNIPPETS = (
    b"\x00",
    b"\xff\xfe",
    b'"',
    b"\n" * 50,
    b",,,,,,",
    b";",
    b"9" * 400,
    b"-1",
    b"nan",
    b"inf",
    b"1e999",
    b"[[[[",
    b"{" * 50,
    b"\r",
    b"=1+1",
    b"\xe2\x80\xae",
    b"9999/99/99",
    b"'",
)


class Door:
    """One way into the program: a sound file, and what reads it. `read` raises only what is said in a sentence."""

    def __init__(self, name: str, raw: bytes, read: Callable[[Path], object]) -> None:
        self.name, self.raw, self.read = name, raw, read


def doors(folder: Path) -> list[Door]:
    """Every door with a sound file for it."""
    clinic, puppet = demos.demo("eye-clinic"), demos.demo("puppet-theatre")
    for name, job in (("a.axle", clinic), ("a.json", puppet)):
        store.save(job, folder / name)
    for ending in ("csv", "xlsx"):
        write_loads(puppet, folder / f"loads.{ending}")
    kept = journal.Journal(folder / "journals")
    for n in range(3):
        kept.record(puppet, journal.Header("", n + 1, f"edit {n}", 1e9))
    kept._let_go()
    log = (kept.folder / "edits.log").read_bytes()
    journal.discard(kept.folder)
    spec = clinic.roof.module
    modules = "name,length_m,width_m,pmp_w,voc_v,isc_a,vmp_v,imp_a,voc_per_c,pmp_per_c\n" + ",".join(
        map(
            str,
            (
                "Type one",
                spec.length_m,
                spec.width_m,
                spec.pmp_w,
                spec.voc_v,
                spec.isc_a,
                spec.vmp_v,
                spec.imp_a,
                spec.voc_per_c,
                spec.pmp_per_c,
            ),
        )
    )

    def job(path: Path) -> object:
        try:
            found = store.load(path)
        except JobError as error:
            return error.problems
        assert problems(found) == []
        judge(derive(found))
        store.save(found, path.with_name("again.axle"), carry_from=path)
        assert store.load(path.with_name("again.axle")) == found
        return found

    def save_over(path: Path) -> object:
        """Saving over a bad file never fails."""
        store.save(puppet, path, carry_from=path)
        assert store.load(path) == puppet
        return path

    def log_left(path: Path) -> object:
        root = path.parent / "journals"
        folder_ = root / "1-1-1"
        folder_.mkdir(parents=True)
        (folder_ / "lock").touch()
        (folder_ / "edits.log").write_bytes(path.read_bytes())
        found = journal.left_behind(root)
        journal.discard(folder_)
        return [(judge(derive(one.job)), one.header) for one in found]

    def kept_preferences(path: Path) -> object:
        target = preferences._file()
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(path.read_bytes())
        return preferences.load()

    return [
        Door("a.axle", (folder / "a.axle").read_bytes(), job),
        Door("a.json", (folder / "a.json").read_bytes(), job),
        Door("old.json", json.dumps(_old(json.loads(store.encode(puppet)))).encode(), job),
        Door("over.axle", (folder / "a.axle").read_bytes(), save_over),
        Door("loads.csv", (folder / "loads.csv").read_bytes(), said(lambda path: read_loads(path, puppet), TableError)),
        Door(
            "loads.xlsx", (folder / "loads.xlsx").read_bytes(), said(lambda path: read_loads(path, puppet), TableError)
        ),
        Door("modules.csv", modules.encode(), said(read_modules, ModuleTableError)),
        Door("year.epw", epw(), said(read_weather, WeatherFileError)),
        Door("year.csv", tmy3(), said(read_weather, WeatherFileError)),
        Door(
            "appliances.json",
            b'[{"name": "Kettle", "group": "Kitchen", "supply": "AC", "running_w": 1200.0}]',
            said(read_own, ValueError),
        ),
        Door("types.json", msgspec.json.encode({"modules": [spec]}), said(read_own_types, ValueError)),
        Door("preferences.json", msgspec.json.encode(preferences.Preferences()), kept_preferences),
        Door("edits.log", log, log_left),
    ]


def said(read: Callable[[Path], object], kind: type[Exception]) -> Callable[[Path], object]:
    """A reader whose refusals are sentences."""

    def reads(path: Path) -> object:
        try:
            return read(path)
        except kind as error:
            assert len(str(error)) > 8 and "Traceback" not in str(error)
            return str(error)

    return reads


def _old(document: dict) -> dict:
    """A document as version 1 had it, near enough to come through all migrations."""
    for load in document["loads"]:
        load["hours"] = {kind: [0.0] * 8 + [1.0] * 4 + [0.0] * 12 for kind in load.pop("patterns")}
        load["supply"] = "DC" if load["supply"].startswith("DC") else load["supply"]
    return {**document, "format_version": 1}


def epw() -> bytes:
    """A year of invented hours in the form of EPW."""
    rows = ["LOCATION,Ullerby,-,-,-,-,55,12,1,40", *["-"] * 7]
    for month, days in enumerate((31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31), 1):
        for day in range(1, days + 1):
            for hour in range(1, 25):
                light = 400 if 8 <= hour <= 16 else 0
                rows.append(f"2001,{month},{day},{hour},0,?,12.0,5,60,100000,{light * 2},1367,300,{light},0,0,0,0,0,0")
    return "\n".join(rows).encode()


def tmy3() -> bytes:
    """A year of invented hours in the form of TMY3."""
    rows = ["1,Ullerby,XX,1,55,12,40", "Date (MM/DD/YYYY),Time (HH:MM),ETR (W/m^2),GHI (W/m^2),Dry-bulb (C)"]
    for month, days in enumerate((31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31), 1):
        rows += [
            f"{month:02d}/{day:02d}/2001,{hour:02d}:00,{800 * light},{400 * light},12.0"
            for day in range(1, days + 1)
            for hour in range(1, 25)
            for light in (int(8 <= hour <= 16),)
        ]
    return "\n".join(rows).encode()


def damaged(door: Door, dice: random.Random) -> bytes:
    """The door's sound file with something done to it."""
    if door.name.endswith(".json") and dice.random() < 0.6:
        return _odd_document(door.raw, dice)
    if door.name == "a.axle" and dice.random() < 0.4:
        text = _odd_document(zipfile.ZipFile(io.BytesIO(door.raw)).read("job.json"), dice)
        packed = io.BytesIO()
        with zipfile.ZipFile(
            packed, "w", dice.choice((zipfile.ZIP_DEFLATED, zipfile.ZIP_STORED, zipfile.ZIP_BZIP2))
        ) as container:
            container.writestr("job.json", text)
            container.writestr("photos/1.jpg", b"\xff\xd8" + dice.randbytes(300))
        return packed.getvalue()
    if door.name == "edits.log" and dice.random() < 0.5:
        return _odd_journal(door.raw, dice)
    if door.name == "loads.xlsx" and dice.random() < 0.5:
        return _odd_workbook(dice)
    raw = bytearray(door.raw)
    for _ in range(dice.choice((1, 2, 5, 20))):
        at = dice.randrange(len(raw)) if raw else 0
        what = dice.choice(("flip", "cut", "out", "in", "twice", "lines"))
        if what == "flip" and raw:
            raw[at] ^= 1 << dice.randrange(8)
        elif what == "cut" and dice.random() < 0.3:
            del raw[at:]
        elif what == "out":
            del raw[at : at + dice.choice((1, 3, 50))]
        elif what == "in":
            raw[at:at] = dice.choice(SNIPPETS)
        elif what == "twice":
            raw[at:at] = raw[at : at + dice.choice((10, 1000))]
        elif what == "lines":
            rows = bytes(raw).split(b"\n")
            cells = rows[dice.randrange(len(rows))].split(b",")
            cells[dice.randrange(len(cells))] = dice.choice(SNIPPETS)
            rows[dice.randrange(len(rows))] = b",".join(cells)
            raw = bytearray(b"\n".join(rows))
    return bytes(raw)


def _odd_document(raw: bytes, dice: random.Random) -> bytes:
    document = json.loads(raw)
    for _ in range(dice.choice((1, 1, 2, 4))):
        owner, key = _somewhere(document, dice)
        what = dice.random()
        if what < 0.2 and isinstance(owner, dict):
            owner.pop(key, None)
        elif what < 0.3:
            owner[key] = [owner[key]] * dice.choice((3, 300, 3000))
        else:
            owner[key] = copy.deepcopy(dice.choice(ODD))
    return json.dumps(document).encode()


def _somewhere(document: object, dice: random.Random) -> tuple:
    places = (
        [(document, key) for key in document]
        if isinstance(document, dict)
        else [(document, at) for at in range(len(document))]
    )
    owner, key = dice.choice(places)
    while dice.random() < 0.8 and isinstance(owner[key], dict | list) and owner[key]:
        inner = owner[key]
        owner, key = inner, dice.choice(list(inner) if isinstance(inner, dict) else range(len(inner)))
    return owner, key


def _odd_journal(raw: bytes, dice: random.Random) -> bytes:
    """Records that are whole and say odd things."""
    header = {
        "path": dice.choice(
            ("", "/nowhere/a.axle", "x" * 5000, "a\x00b", "/dev/zero", "/proc/self/mem", "\ud83d\ude8c")
        ),
        "unsaved_edits": dice.choice((1, 0, -5, 10**30, "x")),
        "last_edit": dice.choice(("Move", "x" * 10**5, "<b>")),
        "when": dice.choice((0.0, -1e30, 1e300, 1e18, "then")),
        "order": dice.choice((1, -1, 10**18)),
    }
    job = dice.choice(
        (
            zlib.decompress(raw.split(b"\t", 1)[1].split(b"\n", 1)[0]) if False else b"{}",
            store.encode(demos.demo("puppet-theatre")),
            b"[" * 10**5,
            b" " * 10**7,
        )
    )
    body = json.dumps(header).encode() + b"\t" + zlib.compress(job)
    return (
        b"%08x %08x " % (zlib.crc32(body), len(body))
        + body
        + b"\n"
        + dice.choice((b"", raw[:100], b"%08x %08x " % (0, 2**31)))
    )


def _odd_workbook(dice: random.Random) -> bytes:
    book = openpyxl.Workbook()
    head = ["name", "running_w", "count", "supply", "duty", "day Show day"]
    dice.shuffle(head)
    book.active.append(head)
    for _ in range(dice.choice((1, 5, 50))):
        book.active.append(
            [
                dice.choice(
                    (
                        "Lamp",
                        5,
                        -1,
                        1e300,
                        True,
                        None,
                        "=1+1",
                        "50%",
                        "08:00-09:00",
                        "x" * 3000,
                        "AC",
                        0.5,
                        "1e5",
                        "#N/A",
                    )
                )
                for _ in head
            ]
        )
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _packed(name: str, raw: bytes, kind: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", kind) as container:
        container.writestr(name, raw)
    return out.getvalue()


def _sheet(rows: bytes, before: bytes = b"") -> bytes:
    """A workbook whose sheet is made of these rows."""
    head = b'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>'
    whole, made = io.BytesIO(), io.BytesIO()
    openpyxl.Workbook().save(whole)
    with zipfile.ZipFile(whole) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        for member in old.namelist():
            sheet = member == "xl/worksheets/sheet1.xml"
            new.writestr(
                member,
                b'<?xml version="1.0"?>' + before + head + rows + b"</sheetData></worksheet>"
                if sheet
                else old.read(member),
            )
    return made.getvalue()


_HEAD = '{"format": "weighty-axle job", "format_version": 1, "name": "x", '
_ENTITIES = (
    b'<!DOCTYPE a [<!ENTITY a "aaaaaaaaaa">'
    + b"".join(b'<!ENTITY %c "%s">' % (98 + n, b"&%c;" % (97 + n) * 10) for n in range(8))
    + b"]>"
)
BOMBS: dict[str, tuple[str, Callable[[], bytes]]] = {
    "a member of 64 MB": ("a.axle", lambda: _packed("job.json", b" " * (64 * 2**20))),
    "a member packed with bzip2": ("a.axle", lambda: _packed("job.json", b" " * (40 * 2**20), zipfile.ZIP_BZIP2)),
    "a photo of 600 MB": ("a.axle", lambda: _with_photo()),
    "a row of 2,000,000 cells": ("loads.xlsx", lambda: _sheet(b"<row>" + b"<c><v>1</v></c>" * 2_000_000 + b"</row>")),
    "rows without end": ("loads.xlsx", lambda: _sheet(b"<row/>" * 4_000_000)),
    "a workbook of entities": ("loads.xlsx", lambda: _sheet(b"<row><c><v>&i;</v></c></row>", _ENTITIES)),
    "4,000,000 empty rows": ("loads.csv", lambda: b"name,running_w\n" + b"\n" * 4_000_000),
    "a field of 4 MB": ("loads.csv", lambda: b'name,running_w\n"' + b"x" * 2**22 + b'",1\n'),
    "4,000,000 columns": ("loads.csv", lambda: b"name,running_w" + b"," * 4_000_000),
    "brackets in a heading": ("modules.csv", lambda: b"name," + b"(" * 120_000 + b"\n1,2\n"),
    "fields of weather": ("year.epw", lambda: b"LOCATION" + b"," * 8_000_000),
    "lines of weather": ("year.epw", lambda: b"LOCATION,x\n" + b"1\n" * 4_000_000),
    "old lists": ("old.json", lambda: (_HEAD + '"loads": [{"hours": {"a": [' + "1,0," * 1_000_000 + "0]}}]}").encode()),
    "old loads": ("old.json", lambda: (_HEAD + '"loads": [' + "{}," * 2_000_000 + "{}]}").encode()),
    "long lists of now": (
        "a.json",
        lambda: (_HEAD.replace(": 1,", ": 4,") + '"loads": [' + "{}," * 2_000_000 + "{}]}").encode(),
    ),
    "deep": ("a.json", lambda: b"[" * 5_000_000),
    "deep within": ("a.json", lambda: (_HEAD + '"customer": ' + "[" * 900 + "]" * 900 + "}").encode()),
    "own types, deep": ("types.json", lambda: b"[" * 5_000_000),
    "preferences of 5 MB": ("preferences.json", lambda: b'{"recent": [' + b'"",' * 1_700_000 + b'""]}'),
    "a journal that unpacks": ("edits.log", lambda: _unpacking_record()),
}
"""Files that are small and become large: door, and what makes the content."""


def _with_photo() -> bytes:
    out = io.BytesIO(_packed("job.json", store.encode(demos.demo("puppet-theatre"))))
    with (
        zipfile.ZipFile(out, "a", zipfile.ZIP_DEFLATED) as container,
        container.open("photos/1.jpg", "w", force_zip64=False) as member,
    ):
        for _ in range(600):
            member.write(b"\x00" * 2**20)
    return out.getvalue()


def _unpacking_record() -> bytes:
    body = b'{"path": "", "unsaved_edits": 1, "last_edit": "", "when": 0}\t' + zlib.compress(b" " * (300 * 2**20), 9)
    return b"%08x %08x " % (zlib.crc32(body), len(body)) + body + b"\n"


def tried(door: Door, raw: bytes, folder: Path) -> list[str]:
    """What goes wrong when a file comes to a door; empty when all is well."""
    path = folder / door.name
    path.write_bytes(raw)
    reset_peak()
    before_mb = memory_mb("VmRSS")
    began, found = time.monotonic(), []
    try:
        door.read(path)
    except Exception as error:
        found.append(f"{door.name}: {type(error).__name__} {where(error)}: {str(error)[:90]}")
    if time.monotonic() - began > LONGEST_S:
        found.append(f"{door.name}: took {time.monotonic() - began:.1f} s")
    if memory_mb("VmHWM") - before_mb > MOST_MB:
        found.append(f"{door.name}: took {memory_mb('VmHWM') - before_mb:.0f} MB")
    return found
