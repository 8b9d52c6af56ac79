"""The words of a user: one that the line did not know, and that stands for one it knows, as what was then entered by hand shows."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from robust_ledger.callout.frame_lexicon import Frame, called, heard, lexicon
from robust_ledger.callout.frames import read_frames
from robust_ledger.callout.numbers import is_number_word
from robust_ledger.callout.tokens import tokens_of
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.conventions import OwnWord

MOST_WORDS = 3  # of a line that are tried
LONGEST = 30  # letters of a word that is learned


def offer(line: str, stage: str, before: Job, after: Job, codebook: Codebook) -> OwnWord | None:
    """A word of a line that was not understood, and what it stands for: with it the line says just what was then entered by hand. None where no
    word does."""
    entered = dict(_entered(before, after))
    frames = [frame for frame in lexicon().frames if stage in frame.stages and set(frame.fields) <= entered.keys()]
    for word in _unknown(line)[:MOST_WORDS] if frames else ():
        for means in dict.fromkeys(name for frame in frames for name in _names(frame)):
            one = OwnWord(word=word, means=means)
            made = read_frames(line, knowing(before, one), codebook, stage)
            if made.certainty == "sure" and made.facts and made.facts.items() <= entered.items():
                return one
    return None


def knowing(job: Job, word: OwnWord) -> Job:
    """The job with a word of the user's; what it stood for before is forgotten."""
    others = tuple(one for one in job.conventions.line_words if one.word != word.word)
    return with_part(job, "conventions", line_words=(*others, word))


def read_line_words(text: str) -> tuple[OwnWord, ...]:
    """A reader for words of one's own on the line: "lolly = panel; tails = riser". Raises ValueError with one sentence."""
    made = []
    for part in text.split(";"):
        if not part.strip():
            continue
        word, sign, means = (one.strip().lower() for one in part.partition("="))
        if not sign or len(word.split()) != 1 or len(word) > LONGEST:
            raise ValueError(f'"{part.strip()}" says no word and what it means; write it like lolly = panel.')
        known = tuple(token.lower for token in tokens_of(means))
        if not known or all(key != known for key, _concept in lexicon().names.get(known[0], ())):
            raise ValueError(f'"{means}" is not known on the line, so "{word}" cannot stand for it.')
        made.append(OwnWord(word=word, means=means))
    return tuple(made)


def line_words_text(words: Sequence[OwnWord]) -> str:
    """The same as it reads back."""
    return "; ".join(f"{one.word} = {one.means}" for one in words)


def _unknown(line: str) -> list[str]:
    """The words of a line that stand for nothing."""
    known = lexicon()
    parts = {word for some in known.names.values() for key, _concept in some for word in key}
    words = [token.lower for token in heard(line) if not token.quoted]
    plain = (word for word in words if word.isalpha() and 2 <= len(word) <= LONGEST and not is_number_word(word))
    return [word for word in plain if word not in known.nothing and word not in known.denials and word not in parts]


def _names(frame: Frame) -> Iterator[str]:
    """What the things of a frame are called first."""
    first = called()
    for concepts in frame.needs:
        for concept in concepts:
            if concept in first:
                yield first[concept]


def _entered(before: Job, after: Job) -> Iterator[tuple[str, Any]]:
    """The fields of the job's own parts that an edit has changed, with what they are now."""
    for frame in lexicon().frames:
        for path in frame.fields:
            was, now = _at(before, path), _at(after, path)
            if was != now:
                yield path, now


def _at(job: Any, path: str) -> Any:
    for name in path.split("."):
        job = getattr(job, name, None)
    return job
