"""The Qt program. Only here is PySide6 imported."""
