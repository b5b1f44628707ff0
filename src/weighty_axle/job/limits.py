"""How much of anything that comes from outside is taken in.

What is larger is refused in a sentence, before it is read.
"""

from __future__ import annotations

MB = 1024 * 1024

FILE_BYTES = 512 * MB
"""A job file with its photos and logs."""
JOB_BYTES = 8 * MB
"""The job's own text: as much as is saved may be opened again."""
PHOTO_BYTES = 50 * MB
PHOTO_PIXELS = 120_000_000
"""A photo as a camera makes it."""
HASHED_BYTES = 16 * MB
"""A file that is hashed to tell whether it changed; of a larger one time and size must do."""
MEMBERS = 5000
"""Files in a container."""
DIRECTORY_BYTES = 4 * MB
"""A container's list of its files."""
SCHEMA_BYTES = 1 * MB
"""Job text in which every problem is listed; in a larger one only the first is."""
OLD_LIST = 2000
"""Entries of any list of a document of an older version."""
TABLE_BYTES = 8 * MB
"""A table of loads or of module types."""
TABLE_LINES = 100_000
"""Lines of a table, empty ones among them."""
WORKBOOK_UNPACKED_BYTES = 128 * MB
WORKBOOK_MARKS = 1_000_000
"""Marks in a workbook's text: a cell has two to six."""
WEATHER_BYTES = 16 * MB
"""An hourly weather file."""
OWN_FILE_BYTES = 8 * MB
"""Own appliances or module types kept for later jobs."""
JOURNAL_BYTES = 32 * MB
"""A journal of edits; this program's own are cut to a few MB."""
HEADING_LETTERS = 80
"""Letters of a table's heading that are looked at."""
HEADING_LINE_LETTERS = 100_000
"""Letters of a table's first line."""
RECORDED_BYTES = 2048 * MB
"""A recording, read piece by piece."""
