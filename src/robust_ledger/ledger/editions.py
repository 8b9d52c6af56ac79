"""Which editions of the code there are: one TOML file each among the codebook's data."""

from __future__ import annotations

from pathlib import Path

EDITION_DATA = Path(__file__).parents[1] / "codebook" / "data"
EDITIONS = tuple(sorted(path.stem for path in EDITION_DATA.glob("*.toml")))
DEFAULT_EDITION = "2023"


def no_edition(edition: str) -> str:
    """What is said of an edition that there is not, naming those there are."""
    return f"there is no code edition {edition[:20]}; there are {', '.join(EDITIONS)}"
