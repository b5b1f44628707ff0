"""Memory of this process as the kernel counts it."""

from __future__ import annotations

from pathlib import Path


def reset_peak() -> None:
    """Begin to measure the most memory anew."""
    Path("/proc/self/clear_refs").write_text("5")


def memory_mb(name: str) -> float:
    """A figure of this process's memory as the kernel has it."""
    line = next(one for one in Path("/proc/self/status").read_text().splitlines() if one.startswith(name))
    return int(line.split()[1]) / 1024
