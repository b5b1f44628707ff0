"""What ships beside the code: documents, data, pictures and desktop files say what is true."""

from __future__ import annotations

import configparser
import json
import re
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import pypdf
import pytest

from weighty_axle import __version__, demos
from weighty_axle.cli import _COMMANDS
from weighty_axle.design.derive import derive
from weighty_axle.rules.judge import judge

ROOT = Path(__file__).parents[1]
PAGES = [
    "README.md",
    "CONTRIBUTING.md",
    "CHANGELOG.md",
    "docs/methods.md",
    "docs/file-format.md",
    "docs/architecture.md",
]


@pytest.mark.parametrize("page", PAGES)
def test_links_lead_somewhere(page):
    text = (ROOT / page).read_text()
    for target in re.findall(r"\]\(([^)#]+)\)", text):
        assert "://" not in target and (ROOT / page).parent.joinpath(target).exists(), target


def test_the_readme_shows_every_picture_and_names_every_command():
    text = (ROOT / "README.md").read_text()
    pictures = sorted(path.name for path in (ROOT / "docs/screenshots").glob("*.png"))
    assert 9 <= len(pictures) < 20
    assert all(name in text for name in pictures)
    assert all(f"weighty-axle {command}" in text or command == "demo" for command in _COMMANDS)
    assert "scripts/demo" in text and "scripts/test" in text
    assert all(f"demo:{name}" in text for name in demos.names())


def test_pictures_have_the_size_they_are_meant_for():
    for path in (ROOT / "docs/screenshots").glob("*.png"):
        header = path.read_bytes()[16:24]
        assert (int.from_bytes(header[:4]), int.from_bytes(header[4:])) == (1280, 800), path.name


def test_every_table_has_a_source_and_says_whether_it_was_recalled():
    tables = list((ROOT / "src/weighty_axle/reference").glob("*.json"))
    assert len(tables) >= 10
    for path in tables:
        table = json.loads(path.read_text())
        for holder in [table] if "source" in table else table["rows"]:
            assert holder["source"] and isinstance(holder["recalled"], bool), path.name


def test_methods_name_the_sources_that_workings_name(clinic, puppet):
    text = (ROOT / "docs/methods.md").read_text()
    for job in (clinic, puppet):
        for _, figure in derive(job).figures():
            for standard in re.findall(r"(?:NEC|IEC|ASTM|ISO)[^,;(]*?(\d{2,}[\d.]*)", figure.source):
                assert standard.rstrip(".") in text or standard.startswith(("13297", "10133", "20")), figure.source


def test_documented_paths_exist(clinic):
    paths = {path for path, _ in derive(clinic).figures()}
    for path in re.findall(
        r"`((?:brief|bank|inverters|roof|charging|place|wiring)\.[a-z_\[\]A-Z0-9.-]+)`",
        (ROOT / "docs/file-format.md").read_text(),
    ):
        assert path in paths, path


def test_desktop_files_are_well_formed():
    entry = configparser.ConfigParser(interpolation=None)
    entry.read(ROOT / "packaging/weighty-axle.desktop")
    assert entry["Desktop Entry"]["MimeType"] == "application/x-weighty-axle;"
    mime = ElementTree.parse(ROOT / "packaging/weighty-axle-mime.xml").getroot()
    assert mime[0].attrib["type"] == "application/x-weighty-axle"
    info = ElementTree.parse(ROOT / "packaging/io.weighty_axle.WeightyAxle.metainfo.xml").getroot()
    assert info.findtext("project_license") == "MIT"
    assert info.find("releases/release").attrib["version"] == __version__
    assert f"## {__version__}" in (ROOT / "CHANGELOG.md").read_text()
    assert ElementTree.parse(ROOT / "src/weighty_axle/assets/icons/weighty-axle.svg").getroot().tag.endswith("svg")


def test_fonts_ship_with_their_licence():
    folder = ROOT / "src/weighty_axle/assets/fonts"
    assert "OFL-1.1" in (folder / "LICENCE.txt").read_text()
    for path in folder.glob("*.ttf"):
        assert path.read_bytes()[:4] == b"\x00\x01\x00\x00"


def test_the_pack_survives_a_photocopier(tmp_path, puppet):
    """Every colour in the PDF is a grey, and the shipped fonts are embedded."""
    from datetime import date

    from weighty_axle.exports.pack import write_pack

    pdf, *_ = write_pack(derive(puppet), judge(derive(puppet)), tmp_path, today=date(2026, 5, 1), system="metric")
    reader = pypdf.PdfReader(pdf)
    fonts = set()
    for page in reader.pages:
        for operands, operator in pypdf.generic.ContentStream(page.get_contents(), reader).operations:
            if operator in (b"rg", b"RG"):
                assert len({round(float(one), 3) for one in operands}) == 1, operands
            assert operator not in (b"k", b"K", b"sc", b"scn")
        fonts |= {
            font["/BaseFont"].split("+")[-1]
            for font in (one.get_object() for one in page["/Resources"]["/Font"].values())
        }
    assert {"B612-Regular", "B612-Bold"} <= fonts or {"B612", "B612-Bold"} <= fonts, fonts
