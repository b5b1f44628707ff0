"""A recording read: pieces of the file one after the other, at most so many rows kept, in UTC, in order, tidied."""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from weighty_axle.answers.log.layout import Layout, RecordingError, clock_seconds, day_number
from weighty_axle.job.models.log import ColumnMap

Floats = NDArray[np.float64]
Times = NDArray[np.int64]
Progress = Callable[[float, str], None]

PIECE_BYTES = 4 * 1024 * 1024
LONGEST_LINE = 1024 * 1024
MOST_ROWS = 1_100_000
"""Rows that are kept: two years of minutes. Of a longer recording several rows are kept as their mean."""
BINS_S = (1, 60, 300, 900, 3600)
_EMPTY = re.compile(rb"(?<=[;,\t|])(?=[;,\t|\n])|(?<=[;,\t|])$")


@dataclass(slots=True)
class Recording:
    """A recording: seconds since 1970 in UTC (in order, each once), its columns by heading (NaN: not there), what was
    told, and how many seconds usually lie between rows.
    """

    t_s: Times
    columns: dict[str, NDArray[np.float32]]
    told: list[str] = field(default_factory=list)
    step_s: float = 60.0
    rows_read: int = 0

    @property
    def days(self) -> float:
        """How many days it goes over."""
        return float(self.t_s[-1] - self.t_s[0]) / 86400 if len(self.t_s) else 0.0


def read_recording(
    path: Path, layout: Layout, columns: ColumnMap, progress: Progress = lambda _share, _words: None
) -> Recording:
    """Read every mapped column. Raises RecordingError with a sentence, OSError.

    Memory is bounded: a piece of the file and MOST_ROWS rows.
    """
    from weighty_axle.answers.log.tidy import in_order, in_utc

    wanted = [at for at, one in enumerate(columns.columns) if one.quantity and at < len(layout.headings)]
    if not wanted:
        raise RecordingError("No column is said to be anything: say what each is first.")
    reader = _Reader(layout, columns.day_first if layout.unsure_day else layout.day_first, wanted)
    size = max(1, path.stat().st_size)
    kept: list[tuple[Times, NDArray[np.float32]]] = []
    bin_s = 0
    for piece, share in _pieces(path, layout, size):
        progress(0.85 * share, "Reading")
        stamps, values = reader.read(piece)
        if not len(stamps):
            continue
        bin_s = bin_s or _bin_s(stamps, share)
        kept.append(_binned(stamps, values, bin_s) if bin_s > 1 else (stamps, values))
    if not kept:
        raise RecordingError(f"{path.name} has no row whose time could be read.")
    progress(0.9, "Putting in order")
    local = np.concatenate([one for one, _ in kept])
    values = np.concatenate([one for _, one in kept])
    kept.clear()
    told = reader.told()
    if bin_s > 1:
        told.append(f"Rows closer than {bin_s} s are kept as their mean.")
    utc = local if layout.ticks else in_utc(local, reader.ahead, columns.zone, told)
    utc, values, step_s = in_order(utc, values, told)
    names = [layout.headings[at] for at in wanted]
    table = {name: np.ascontiguousarray(values[:, at]) for at, name in enumerate(names)}
    return Recording(utc, table, told, step_s, reader.rows)


def _pieces(path: Path, layout: Layout, size: int) -> Iterator[tuple[bytes, float]]:
    """The file in pieces of whole lines as plain bytes, without the lines before its rows, and the share that is
    read.
    """
    skip, rest = layout.skipped, b""
    done = 0
    with path.open("rb") as file:
        plain = _decoded(file, layout.encoding)
        for block in plain:
            done += len(block)
            block = rest + block.replace(b"\r\n", b"\n").replace(b"\r", b"\n")
            cut = block.rfind(b"\n") + 1
            if not cut and len(block) > LONGEST_LINE:
                raise RecordingError(f"{path.name} has a line of more than {LONGEST_LINE // 1024} kB: it is no table.")
            block, rest = block[:cut], block[cut:]
            while skip and block:
                block = block.partition(b"\n")[2]
                skip -= 1
            if block:
                yield block, min(1.0, done / size)
    if rest.strip() and not skip:
        yield rest + b"\n", 1.0


def _decoded(file: io.BufferedReader, encoding: str) -> Iterator[bytes]:
    """Blocks of a file; of two-byte letters as the bytes of plain ones."""
    if encoding != "utf-16":
        first = True
        while block := file.read(PIECE_BYTES):
            yield block.removeprefix(b"\xef\xbb\xbf") if first else block
            first = False
        return
    decoder = codecs.getincrementaldecoder("utf-16")(errors="replace")
    while block := file.read(PIECE_BYTES):
        yield decoder.decode(block).encode()


def _bin_s(stamps: Times, share: float) -> int:
    """How many seconds become one row: the least that keeps the whole within MOST_ROWS."""
    span = (int(stamps.max()) - int(stamps.min())) / max(share, 1e-9)
    rows = len(stamps) / max(share, 1e-9)
    if rows <= MOST_ROWS:
        return 1
    return next((one for one in BINS_S[1:] if span / one <= MOST_ROWS), BINS_S[-1])


def _binned(stamps: Times, values: NDArray[np.float32], bin_s: int) -> tuple[Times, NDArray[np.float32]]:
    """Rows of the same stretch as their mean; what is not there does not count."""
    at = stamps // bin_s
    starts = np.flatnonzero(np.concatenate([[True], at[1:] != at[:-1]]))
    there = np.isfinite(values)
    total = np.add.reduceat(np.where(there, values, 0.0), starts, axis=0)
    count = np.add.reduceat(there, starts, axis=0)
    with np.errstate(all="ignore"):
        mean = np.where(count > 0, total / count, np.nan).astype(np.float32)
    return at[starts] * bin_s, mean


class _Reader:
    """Turns pieces of text into times and numbers: at once where it is written plainly, else line by line."""

    def __init__(self, layout: Layout, day_first: bool, wanted: list[int]) -> None:
        self.layout, self.day_first, self.wanted = layout, day_first, wanted
        self.rows = 0
        self.bad_rows = self.bad_cells = 0
        self.bad_first = ""
        self.ahead: list[NDArray[np.float64]] = []
        self._days: dict[str, int | None] = {}
        self._clocks: dict[str, tuple[int, int | None] | None] = {}

    def told(self) -> list[str]:
        """What could not be read."""
        found = []
        if self.bad_rows:
            found.append(f"{self.bad_rows} rows were left out: {self.bad_first}.")
        if self.bad_cells:
            found.append(f"{self.bad_cells} values were no numbers and count as missing.")
        if self.layout.unsure_day:
            found.append(
                f"Days can be read both ways: the {'day' if self.day_first else 'month'} was taken to come first."
            )
        return found

    def read(self, piece: bytes) -> tuple[Times, NDArray[np.float32]]:
        """Local seconds and numbers of the rows of a piece."""
        texts, values = self._at_once(piece) or self._by_line(piece)
        self.rows += len(texts)
        stamps, ahead = self._stamps(texts)
        good = stamps >= 0
        if not good.all():
            self.bad_rows += int((~good).sum())
            self.bad_first = self.bad_first or f"their time could not be read ({texts[int((~good).argmax())][:40]!r})"
        self.ahead.append(ahead[good])
        return stamps[good], values[good]

    def _at_once(self, piece: bytes) -> tuple[list[str], NDArray[np.float32]] | None:
        """The whole piece by numpy's own reader; None where it is not written plainly enough for it."""
        layout = self.layout
        sign = layout.separator.encode()
        if layout.comma:
            piece = piece.replace(b",", b".")
        if sign * 2 in piece or sign + b"\n" in piece:
            piece = _EMPTY.sub(b"nan", piece)
        stamps = [at for at in (layout.time_at, layout.clock_at) if at is not None]
        names = [f"t{at}" for at in range(len(stamps))]
        used = sorted({*stamps, *self.wanted})
        kinds = [(f"t{stamps.index(at)}", "S32") if at in stamps else (f"v{at}", "f4") for at in used]
        try:
            table = np.loadtxt(
                io.BytesIO(piece),
                dtype=kinds,
                delimiter=layout.separator,
                usecols=used,
                quotechar='"' if b'"' in piece else None,
                comments=None,
                ndmin=1,
                encoding="latin-1",
            )
        except (ValueError, IndexError):
            return None
        joined = [one.decode("latin-1") for one in table[names[0]].tolist()]
        if len(names) == 2:
            joined = [
                f"{day} {clock.decode('latin-1')}" for day, clock in zip(joined, table[names[1]].tolist(), strict=True)
            ]
        missing = np.full(len(table), np.nan, dtype=np.float32)
        columns = [table[f"v{at}"] if at not in stamps else missing for at in self.wanted]
        return joined, np.stack(columns, axis=1)

    def _by_line(self, piece: bytes) -> tuple[list[str], NDArray[np.float32]]:
        """Line by line: what is no number counts as missing, rows of another width are left out."""
        layout = self.layout
        encoding = "utf-8" if layout.encoding.startswith("utf") else layout.encoding
        text = piece.decode(encoding, errors="replace").replace("\x00", "")
        texts: list[str] = []
        rows: list[list[float]] = []
        width = len(layout.headings)
        for row in csv.reader(text.splitlines(), delimiter=layout.separator):
            if not any(cell.strip() for cell in row):
                continue
            if len(row) != width:
                self.bad_rows += 1
                self.bad_first = self.bad_first or f"they have {len(row)} columns, not {width}"
                continue
            stamp = row[layout.time_at].strip()
            texts.append(stamp if layout.clock_at is None else f"{stamp} {row[layout.clock_at].strip()}")
            rows.append([self._number(row[at]) for at in self.wanted])
        return texts, np.array(rows, dtype=np.float32).reshape(len(rows), len(self.wanted))

    def _number(self, cell: str) -> float:
        cell = cell.strip()
        if self.layout.comma:
            cell = cell.replace(".", "").replace(",", ".") if "," in cell else cell
        try:
            value = float(re.sub(r"(?<=\d)[ '’](?=\d{3})", "", cell))
        except ValueError:
            if cell and cell.casefold() not in ("-", "--", "---", "nan", "na", "n/a", "null", "none", "#n/a", "?"):
                self.bad_cells += 1
            return float("nan")
        return value if abs(value) < 1e12 else float("nan")

    def _stamps(self, texts: list[str]) -> tuple[Times, NDArray[np.float64]]:
        """Seconds of written times as the clock says them (−1: no time), and what each says it is ahead of UTC [s]
        (NaN:
        it does not say). Days and clocks are looked up: a year has few of either.
        """
        layout = self.layout
        stamps = np.full(len(texts), -1, dtype=np.int64)
        ahead = np.full(len(texts), np.nan)
        if layout.ticks:
            for at, text in enumerate(texts):
                if text.isdigit():
                    stamps[at] = int(text) // layout.ticks
            return stamps, ahead
        days, clocks = self._days, self._clocks
        parting = "T" if texts and "T" in texts[0] else " "
        for at, text in enumerate(texts):
            day_text, _, clock_text = text.partition(parting)
            if day_text not in days:
                days[day_text] = day_number(day_text.strip(), day_first=self.day_first)
            if clock_text not in clocks:
                clocks[clock_text] = clock_seconds(clock_text) if clock_text.strip() else (0, None)
            day, clock = days[day_text], clocks[clock_text]
            if day is not None and clock is not None:
                stamps[at] = day * 86400 + clock[0]
                if clock[1] is not None:
                    ahead[at] = clock[1]
        return stamps, ahead
