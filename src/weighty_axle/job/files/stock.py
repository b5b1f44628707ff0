"""The shop's stock of conductors: reels begun and off-cuts, in one file of the user's for all jobs."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from typing import Annotated

import msgspec
from msgspec import Meta

from weighty_axle.job import limits
from weighty_axle.job.files.disk import read_whole, replacing
from weighty_axle.job.models.build import Colour
from weighty_axle.job.stated import Name, Stated, Text


class StockError(Exception):
    """A stock file that cannot be used; the message is a sentence."""


class StockPiece(Stated, frozen=True, kw_only=True):
    """A reel that is begun, or an off-cut: its name in the shop, what it is of, what is left on it."""

    name: Annotated[Name, Meta(title="Name")]
    conductor: Annotated[Name, Meta(title="Conductor", description="as parts lists name it")]
    colour: Annotated[Colour, Meta(title="Colour")] = "cable"
    length_m: Annotated[float, Meta(ge=0.01, le=2000, title="Left on it")]
    origin: Annotated[Text, Meta(title="From", description="job and reel it came off")] = ""


class Stock(Stated, frozen=True, kw_only=True):
    """All pieces of a shop."""

    format: Annotated[str, Meta(pattern="^weighty-axle stock$(?!\n)")] = "weighty-axle stock"
    format_version: Annotated[int, Meta(ge=1, le=1)] = 1
    pieces: Annotated[tuple[StockPiece, ...], Meta(max_length=2000)] = ()


def stock_file() -> Path:
    """The stock of the user's shop (XDG data directory)."""
    base = os.environ.get("XDG_DATA_HOME", "")
    try:
        folder = Path(base) if base.startswith("/") else Path.home() / ".local" / "share"
    except (RuntimeError, KeyError):
        folder = Path(tempfile.gettempdir())
    return folder / "weighty-axle" / "stock.json"


def read_stock(path: Path) -> Stock:
    """The stock in a file; an empty one where there is no file yet.

    Raises: StockError; UnreadableError of job.files.disk.
    """
    if not path.exists():
        return Stock()
    try:
        stock = msgspec.json.decode(read_whole(path, limits.OWN_FILE_BYTES, "the stock"), type=Stock)
    except (msgspec.MsgspecError, UnicodeDecodeError, RecursionError) as error:
        raise StockError(f"The stock in {path.name} cannot be read: {error}. It was left as it is.") from None
    names = [one.name for one in stock.pieces]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise StockError(f"The stock in {path.name} has two pieces called {twice}; each needs its own name.")
    return stock


def write_stock(path: Path, stock: Stock) -> None:
    """Write the stock, whole or not at all. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with replacing(path) as file:
        file.write(msgspec.json.format(msgspec.json.encode(stock), indent=2))
