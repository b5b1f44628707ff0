"""Photos of the build: taken in upright and of a sensible size, kept at once in a folder of the user's, and carried in
the job file once that is saved.
"""

from __future__ import annotations

import hashlib
import io
import os
import tempfile
import zipfile
from pathlib import Path

from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing
from weighty_axle.job.models.document import Job

FOLDER = "photos"
"""Folder of photos in a job file."""

LONG_PX = 1600
"""Longer side of a photo that is kept: a torque mark can be read on it, and a hundred of them are some 30 MB."""

_QUALITY = 82


class PhotoError(Exception):
    """A photo that cannot be taken in; the message is a sentence."""


def photo_folder() -> Path:
    """Where photos wait until their job is saved, and stay (XDG data directory)."""
    base = os.environ.get("XDG_DATA_HOME", "")
    try:
        folder = Path(base) if base.startswith("/") else Path.home() / ".local" / "share"
    except (RuntimeError, KeyError):
        folder = Path(tempfile.gettempdir())
    return folder / "weighty-axle" / FOLDER


def take_in(path: Path) -> str:
    """Keep a photo: upright as its camera noted it, at most LONG_PX long, without what else the camera noted.

    Returns the name it is known by. Raises PhotoError, OSError.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        raw = read_whole(path, limits.PHOTO_BYTES, "a photo")
    except UnreadableError as error:
        raise PhotoError(str(error)) from None
    try:
        with Image.open(io.BytesIO(raw)) as opened:
            wide, high = opened.size
            if wide * high > limits.PHOTO_PIXELS:
                raise PhotoError(
                    f"{path.name} has {wide * high / 1e6:.0f} million pixels; at most "
                    f"{limits.PHOTO_PIXELS / 1e6:.0f} million are taken in. Make it smaller first."
                )
            opened.draft("RGB", (LONG_PX, LONG_PX))
            upright = ImageOps.exif_transpose(opened).convert("RGB")
        upright.thumbnail((LONG_PX, LONG_PX))
        made = io.BytesIO()
        upright.save(made, "JPEG", quality=_QUALITY)
    except PhotoError:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError):
        raise PhotoError(f"{path.name} is no picture this program can read (JPEG, PNG, TIFF, WebP).") from None
    except (OSError, ValueError, SyntaxError, MemoryError, EOFError) as error:
        raise PhotoError(f"{path.name} is a damaged picture ({error}).") from None
    name = f"{hashlib.sha256(made.getvalue()).hexdigest()[:16]}.jpg"
    folder = photo_folder()
    folder.mkdir(parents=True, exist_ok=True)
    if not (folder / name).exists():
        with replacing(folder / name) as file:
            file.write(made.getbuffer())
    return name


def photo(name: str, container: Path | None) -> bytes | None:
    """A photo by its name, from the folder or else from a job file; None where neither has it."""
    kept = photo_folder() / name
    try:
        return read_whole(kept, limits.PHOTO_BYTES, "a photo")
    except (UnreadableError, OSError):
        pass
    if container is None or not container.is_file():
        return None
    try:
        with zipfile.ZipFile(container) as opened:
            member = opened.getinfo(f"{FOLDER}/{name}")
            return opened.read(member) if member.file_size <= limits.PHOTO_BYTES else None
    except (zipfile.BadZipFile, KeyError, OSError, NotImplementedError, RuntimeError, EOFError, ValueError):
        return None


def waiting(job: Job) -> dict[str, Path]:
    """Photos a job names that lie in the folder, by their name in a job file."""
    folder = photo_folder()
    names = {one.photo for one in job.build.log if one.photo} | {one.photo for one in job.log.entries if one.photo}
    return {f"{FOLDER}/{name}": folder / name for name in sorted(names) if (folder / name).is_file()}
