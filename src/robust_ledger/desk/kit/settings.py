"""What the desk remembers between runs: theme, text size, window, recent jobs."""

from __future__ import annotations

import os
from contextlib import suppress
from pathlib import Path

from PyQt6.QtCore import QSettings

from robust_ledger.job.whole import private_folder
from robust_ledger.jobbook.home import home

RECENT = 8


class Settings:
    """Typed access to the settings file."""

    def __init__(self) -> None:
        file = home() / "desk.ini"
        with suppress(OSError):  # the names of jobs are in it
            private_folder(file.parent)
            os.close(os.open(file, os.O_WRONLY | os.O_CREAT, 0o600))
        self.store = QSettings(str(file), QSettings.Format.IniFormat)

    def text(self, key: str, default: str) -> str:
        return str(self.store.value(key, default))

    def number(self, key: str, default: float) -> float:
        try:
            return float(self.store.value(key, default))
        except (TypeError, ValueError):
            return default

    def flag(self, key: str) -> bool:
        return str(self.store.value(key, "")).lower() == "true"

    def put(self, key: str, value: object) -> None:
        self.store.setValue(key, value)

    def recent_names(self) -> list[str]:
        """Jobs opened or saved before, newest first; nobody has looked whether they are still there."""
        value = self.store.value("recent", [])
        names = [value] if isinstance(value, str) else list(value or [])
        return [name for name in names if isinstance(name, str)]

    def recent(self) -> list[Path]:
        """Jobs opened or saved before, newest first, that still exist and may be looked at."""
        return [Path(name) for name in self.recent_names() if os.path.exists(name)]

    def add_recent(self, path: Path) -> None:
        names = [str(path.absolute()), *(str(p) for p in self.recent() if p != path.absolute())]
        self.store.setValue("recent", names[:RECENT])
