"""The words of numbers: "three", "thirty", "third", "hundred", "half"."""

from __future__ import annotations

_ONES = "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen"
_TENS = "twenty thirty forty fifty sixty seventy eighty ninety"
ONES = {word: n for n, word in enumerate(_ONES.split())} | {"fourty": 40, "oh": 0}
TENS = {word: 10 * n for n, word in enumerate(_TENS.split(), 2)} | {"fourty": 40}
ORDINALS = {
    word: n
    for n, words in enumerate(
        (
            "top first 1st",
            "second 2nd",
            "third 3rd",
            "fourth 4th",
            "fifth 5th",
            "sixth 6th",
            "seventh 7th",
            "eighth 8th",
            "ninth 9th",
            "tenth 10th",
            "eleventh 11th",
            "twelfth 12th",
        ),
        1,
    )
    for word in words.split()
}
QUARTERS = {"half": 0.5, "quarter": 0.25, "quarters": 0.25, "third": 1 / 3, "eighth": 0.125, "eighths": 0.125}
SCALES = {"hundred": 100, "thousand": 1000}
FIGURES = frozenset((*ONES, *TENS, *QUARTERS, *SCALES, "aught", "aughts"))
