"""Reading rooms as they are typed into a field, and writing them so that they read back."""

from __future__ import annotations

from robust_ledger.branch.serves import PLACE_WORDS

_BY_WORD = {words: place for place, words in PLACE_WORDS.items()}


def read_places(text: str) -> tuple[str, ...]:
    """A reader for rooms, parted by commas: "kitchen, bath"; each by the start of its name."""
    made = []
    for part in text.split(","):
        word = " ".join(part.lower().split())
        if not word:
            continue
        found = [
            place
            for words, place in _BY_WORD.items()
            if words.startswith(word) or place.replace("_", " ").startswith(word)
        ]
        if not found:
            raise ValueError(f'"{word}" is none of: {", ".join(place.replace("_", " ") for place in PLACE_WORDS)}.')
        made.append(found[0])
    return tuple(dict.fromkeys(made))


def places_text(places: tuple[str, ...]) -> str:
    """Places as they are typed: "kitchen, crawl space"."""
    return ", ".join(place.replace("_", " ") for place in places)
