"""Letters in print: B612 where it has them, the second shipped font for the rest (Polish, Czech, Romanian, Turkish,
Greek, Cyrillic), a mark for none.
"""

from __future__ import annotations

import functools
import itertools
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any, Literal
from xml.sax.saxutils import escape

import msgspec

from weighty_axle.job.models.document import Job

_FILES = {
    "B612": "B612-Regular.ttf",
    "B612-Bold": "B612-Bold.ttf",
    "Second": "NotoSans-Regular.ttf",
    "Second-Bold": "NotoSans-Bold.ttf",
}
_SECOND = {"B612": "Second", "B612-Bold": "Second-Bold"}
MISSING = "¤"
"""Stands for a letter that neither font has; both have this one."""
_UNSEEN = re.compile(
    r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff\ufffe\uffff\ud800-\udfff]"
)
"""Control signs, and signs that turn the order of letters: nothing of them belongs on paper."""


def register_fonts() -> None:
    """Make the shipped fonts known to the writer of PDF."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in _FILES.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(Path(__file__).parent.parent / "assets" / "fonts" / file)))


@functools.cache
def _letters_of(font: str) -> frozenset[int]:
    from reportlab.pdfbase import pdfmetrics

    register_fonts()
    known: Any = pdfmetrics.getFont(font)
    return frozenset(known.face.charToGlyph)


def runs(text: str, font: str) -> Iterator[tuple[str, str]]:
    """Stretches of a text, each with the font that has its letters; a word that needs the second font is in it as a
    whole.
    """
    first, second = _letters_of(font), _letters_of(_SECOND[font])
    shown = "".join(
        letter if ord(letter) in first or ord(letter) in second or letter.isspace() else MISSING
        for letter in _UNSEEN.sub("", text)
    )

    def of(word: str) -> str:
        return font if word.isspace() or all(ord(letter) in first for letter in word) else _SECOND[font]

    for name, words in itertools.groupby(re.findall(r"\s+|\S+", shown), of):
        yield name, "".join(words)


def marked(text: str, font: str) -> str:
    """A text as a paragraph takes it: nothing in it is read as markup, letters the font lacks are in the second one."""
    return "".join(
        escape(part) if name == font else f'<font name="{name}">{escape(part)}</font>'
        for name, part in runs(text, font)
    )


def draw_words(
    canvas: Any, x: float, y: float, text: str, font: str, size: float, at: Literal["left", "middle", "right"] = "left"
) -> None:
    """Write a line on a canvas."""
    parts = list(runs(text, font))
    wide = sum(width_of(part, name, size) for name, part in parts)
    x -= {"left": 0.0, "middle": wide / 2, "right": wide}[at]
    for name, part in parts:
        canvas.setFont(name, size)
        canvas.drawString(x, y, part)
        x += width_of(part, name, size)


def width_of(text: str, font: str, size: float) -> float:
    """Width of a text in one font [pt]."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    return float(stringWidth(text, font, size))


def unprintable(job: Job) -> str:
    """Letters of the job's names and notes that no shipped font has, each once, in order."""
    known = _letters_of("B612") | _letters_of("Second")
    missing = {
        letter
        for text in _texts(msgspec.to_builtins(job))
        for letter in text
        if ord(letter) not in known and not letter.isspace()
    }
    return "".join(sorted(letter for letter in missing if not _UNSEEN.match(letter)))


def unprintable_words(job: Job) -> str:
    """The sentence of what cannot be printed, its letters by their numbers too; empty when everything can."""
    missing = unprintable(job)
    if not missing:
        return ""
    numbers = " ".join(f"U+{ord(letter):04X}" for letter in missing[:12]) + (
        f" and {len(missing) - 12} more" if len(missing) > 12 else ""
    )
    return (
        f"No shipped font has these letters of the job; they stand as {MISSING} in print: {missing[:12]} ({numbers})."
    )


def _texts(plain: object) -> Iterator[str]:
    if isinstance(plain, str):
        yield plain
    elif isinstance(plain, dict):
        for key, value in plain.items():
            yield from _texts(key)
            yield from _texts(value)
    elif isinstance(plain, list | tuple):
        for value in plain:
            yield from _texts(value)
