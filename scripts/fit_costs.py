"""Fit the costs by which facts are weighed to the part of the corpus that is made from, one after the other, and print what they do to the part
that judges. The figures of `callout/frame_search.py` and `frames.py` come from here; what it prints is to be written there by hand."""

from __future__ import annotations

import sys
from collections import Counter

from how_well_read import Line, outcome, parts

from robust_ledger.callout import frame_search, frames

MADE_FROM = ("fields_made_from", "fields_strangers", "fields_unheard", "sentences_made_from")
JUDGE = ("fields_kept_apart", "fields_read_once", "sentences_judging")
# What may be tried for each cost.
TRIED = {
    "MISSING": (0.6, 0.9, 1.2),
    "FAR": (0.06, 0.12, 0.2),
    "APART": (0.2, 0.4, 0.8),
    "MAY": (0.02, 0.05),
    "CLOSE": (0.3, 0.45, 0.7),
    "MOST_FAR": (0.2, 0.4),
    "PLACE": (0.1, 0.3, 0.6),
}
WRONG = 20.0  # what a line that is wrong in silence costs against one that asks


def loss(lines: list[Line]) -> tuple[float, Counter[str]]:
    """What a part of the corpus costs as the weights stand, and how its lines come out."""
    found = Counter(outcome(line)[0] for line in lines)
    return WRONG * found["wrong"] + found["asked"] + 1.5 * found["refused"], found


def main(step: int = 3) -> None:
    """Go through the costs once, keep what makes the made-from part cheaper; every `step`th line of it is read."""
    corpus = parts()
    made = [line for name in MADE_FROM for line in corpus[name]][::step]
    judge = [line for name in JUDGE for line in corpus[name]]
    best, found = loss(made)
    print(f"as it stands: {best:g}", dict(found))
    for name, values in TRIED.items():
        module = frames if hasattr(frames, name) else frame_search
        held = getattr(module, name)
        for value in values:
            if value == held:
                continue
            setattr(module, name, value)
            cost, found = loss(made)
            print(f"  {name} = {value}: {cost:g}", dict(found))
            if cost < best:
                best, held = cost, value
        setattr(module, name, held)
    fitted = {name: getattr(frames if hasattr(frames, name) else frame_search, name) for name in TRIED}
    cost, found = loss(judge)
    print("fitted", fitted)
    print(
        f"the part that judges, {len(judge)} lines: {cost:g}",
        {how: f"{n / len(judge):.1%}" for how, n in found.items()},
    )


if __name__ == "__main__":
    main(*(int(one) for one in sys.argv[1:2]))
