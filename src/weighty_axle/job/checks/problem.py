"""A problem of a document, with its place, and the error that lists them all."""

from __future__ import annotations

from msgspec import Struct


class Problem(Struct, frozen=True):
    """One thing wrong, with its place in the document ('' for the whole)."""

    place: str
    message: str

    def __str__(self) -> str:
        return f"{self.place}: {self.message}" if self.place else self.message


class JobError(Exception):
    """A job that cannot be accepted; lists every problem with its place."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        super().__init__("\n".join(map(str, problems)))
