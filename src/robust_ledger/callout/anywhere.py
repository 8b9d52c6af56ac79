"""What can be said on every stage: "find neutral", "why 150", "undo", "go to load"."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache

from robust_ledger.callout.fields import READERS, choice_readers
from robust_ledger.callout.phrases import Places, Reader, found_at, vocabulary
from robust_ledger.callout.spoken import Order, Spoken
from robust_ledger.callout.tokens import Token, tokens_of

STAGE = "anywhere"


def _rest(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """All the words up to the end of the line."""
    if at < len(tokens):
        yield " ".join(token.text for token in tokens[at:]), len(tokens)


@cache
def _readers() -> dict[str, Reader]:
    return {**READERS, **choice_readers(STAGE), "rest": _rest}


def read_anywhere(line: str) -> Spoken | None:
    """Read a whole line as an order; None where it is none."""
    tokens = tokens_of(line)
    if not tokens:
        return None
    for found in found_at(vocabulary(STAGE), Places(tokens, _readers()), 0):
        if found.after == len(tokens):
            about = str(next(iter(found.values.values()), ""))
            fact = found.phrase.fact
            words = f"{fact} {about}".strip() if fact != "go" else f"go to {about}"
            return Spoken(STAGE, (words,), order=Order(fact, about), facts={"order": words})
    return None
