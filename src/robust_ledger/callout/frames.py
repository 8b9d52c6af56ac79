"""Facts in any order of words: a field is bound to a value by the things and properties that are said with it, not by a phrase.

The lexicon is data, `words/frames.toml`. A line is covered word by word: by frames, each with its value and its words, by words that carry
nothing, and by what is not understood, which costs much. The cheapest cover wins; one that is nearly as cheap and says something else is
its rival.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from msgspec import UNSET
from msgspec.structs import replace

from robust_ledger.callout.fields import NOTHING, spoken_facts
from robust_ledger.callout.frame_lexicon import for_node, heard, lexicon, with_frames, with_nodes
from robust_ledger.callout.frame_nodes import PREFIX
from robust_ledger.callout.frame_search import Cover, clauses_of, covers_of, says_number
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.tokens import Token
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job

MOST_PASSED = 3  # words nobody knows, that what was understood does not hang on
AFTER_PHRASES = 2.0  # a phrase that is said as it is written down is the surer reading
CLOSE = 0.45  # by which a rival may cost more
MOST_WORDS = 40
DOUBTED = (
    ("not", "sure"),
    ("can't", "tell"),
    ("don't", "know"),
    ("no", "idea"),
    ("couldn't", "tell"),
    ("hard", "to", "tell"),
    ("didn't", "look"),
)
JOINING = frozenset(("and", "or", "nor", "&", "plus"))
GUESSED = (
    ("looks", "like"),
    ("look", "like"),
    ("i", "think"),
    ("maybe",),
    ("might",),
    ("perhaps",),
    ("could", "be"),
    ("may", "be"),
    ("appears",),
    ("appear",),
    ("seems",),
    ("seem",),
    ("supposed", "to", "be"),
    ("used", "to", "be"),
    ("i", "believe"),
    ("probably",),
    ("i", "guess"),
    ("should", "be"),
    ("i'd", "guess"),
    ("guess",),
    ("guessing",),
    ("i", "assume"),
    ("assume",),
    ("assuming",),
    ("i", "suppose"),
    ("most", "likely"),
    ("likely",),
    ("prob",),
    ("i'd", "bet"),
    ("i", "bet"),
    ("pretty", "sure"),
    ("fairly", "sure"),
    ("ought", "to", "be"),
    ("apparently",),
    ("i'm", "told"),
    ("they", "say"),
    ("he", "says"),
    ("she", "says"),
    ("ever",),
)


def read_frames(line: str, job: Job, codebook: Codebook, stage: str) -> Spoken:
    """Read a line as facts, whatever the order of its words."""
    tokens = heard(line, tuple((one.word, one.means) for one in job.conventions.line_words))
    if not 0 < len(tokens) <= MOST_WORDS:
        return Spoken(stage, fault=Fault(NOTHING, 0, len(line)))
    words = [token.lower for token in tokens]
    known = with_nodes(lexicon(), words, job)
    covers = covers_of(tokens, stage, known)
    best = covers[0]
    made = _told(best, line, tokens, job, codebook, stage)
    if any(_has(words, guess) for guess in GUESSED) and made.complete and _hangs_on_it(best):
        made = _asking(made, "said as a guess")
    if made.complete and _denied_twice(tokens):
        made = _asking(made, "denied twice")
    if made.complete and (any(one.torn for one in best.bound) or _shares_a_denial(best, tokens)):
        made = _asking(made, "denied for one thing and not for another")
    for other in covers[1:]:
        if other.cost - best.cost <= CLOSE and not other.struck and not other.facts.items() <= best.facts.items():
            rival = _told(other, line, tokens, job, codebook, stage)
            if rival.complete and made.complete:
                return _asking(made, f"or {', '.join(rival.understood)}", rival)
    return made


def read_values(line: str, job: Job, codebook: Codebook, stage: str, paths: Sequence[str]) -> Spoken:
    """Read a line as saying anew some facts that were just said, by their places: what they are about goes without saying."""
    tokens = heard(line)
    known = lexicon()
    nodes = {path.removeprefix(PREFIX).partition(".")[0] for path in paths if path.startswith(PREFIX)}
    every = (*known.frames, *(for_node(row, node, "") for row in known.node_rows for node in nodes))
    frames = []
    for frame in every:
        if not set(frame.fields) <= set(paths):
            continue
        needs = tuple(
            (concepts, leant) for concepts, leant in zip(frame.needs, frame.leant, strict=True) if concepts != ("",)
        )
        bare = bool(frame.kinds)
        frames.append(
            replace(
                frame,
                needs=() if bare else tuple(concepts for concepts, _leant in needs),
                carried=() if bare else (True,) * len(needs),
                leant=() if bare else tuple(leant for _concepts, leant in needs),
                may=frame.may.union(*frame.needs) - {""},
                stages=frozenset((stage,)),
                kinds=("count",) if frame.kinds == ("count_before",) else frame.kinds,
                also={},
            )
        )
    if not frames or not 0 < len(tokens) <= MOST_WORDS:
        return Spoken(stage, fault=Fault(NOTHING, 0, len(line)))
    known = with_frames(known, frames)
    return _told(covers_of(tokens, stage, known)[0], line, tokens, job, codebook, stage)


def is_doubted(line: str) -> bool:
    """Whether a line says that something is not known: "can't tell if the gas is bonded"."""
    words = [token.lower for token in heard(line)]
    denials = lexicon().denials
    return any(_has(words, doubt) for doubt in DOUBTED) or any(
        word in ("if", "whether") and denials & set(words[max(0, at - 4) : at]) for at, word in enumerate(words)
    )


def _has(words: Sequence[str], some: Sequence[str]) -> bool:
    return any(tuple(words[at : at + len(some)]) == tuple(some) for at in range(len(words)))


def _denied_twice(tokens: Sequence[Token]) -> bool:
    """Whether a clause denies twice, so that nobody can tell what it means."""
    clauses, known = clauses_of(tokens), lexicon()
    denials = [
        clauses[at] for at, token in enumerate(tokens) if token.lower in known.denials and not says_number(tokens, at)
    ]
    return len(denials) > len(set(denials))


def _shares_a_denial(cover: Cover, tokens: Sequence[Token]) -> bool:
    """Whether a clause says two things and denies, and they are not joined: "gas bonded water not". "No bond on gas and water" joins them."""
    clauses, known = clauses_of(tokens), lexicon()
    denied = {
        clauses[at] for at, token in enumerate(tokens) if token.lower in known.denials and not says_number(tokens, at)
    }
    places = sorted(
        ((one.mask & -one.mask).bit_length() - 1, one.mask.bit_length())
        for one in cover.bound
        if one.mask and not one.frame.kinds and one.frame.denied is not UNSET
    )
    for (first, after), (then, _end) in pairwise(places):
        if clauses[first] == clauses[then] and clauses[first] in denied:
            between = {token.lower for token in tokens[after:then]}
            if not between & JOINING or between - JOINING - known.nothing:
                return True
    return False


def _hangs_on_it(cover: Cover) -> bool:
    """Whether a safety figure hangs on what was said: what was found of wires, mains, bonds and electrodes."""
    return any(path.startswith(("grounding.", "existing.", "old_panel.", "panels:")) for path in cover.facts)


def _asking(made: Spoken, why: str, rival: Spoken | None = None) -> Spoken:
    return replace(made, asks=(*made.asks, why), rival=rival or made.rival)


def _told(cover: Cover, line: str, tokens: Sequence[Token], job: Job, codebook: Codebook, stage: str) -> Spoken:
    struck = tuple((token.start, token.end) for at, token in enumerate(tokens) if cover.struck >> at & 1)
    if not cover.facts:
        fault = Fault(NOTHING, 0, len(line))
        return Spoken(stage, fault=fault, struck=struck, cost=cover.cost)
    made = spoken_facts(dict(cover.facts), struck, cover.cost + AFTER_PHRASES, line, job, codebook, "frames", stage)
    passing = struck and len(struck) <= MOST_PASSED and not any(map(is_safety, cover.facts)) and not cover.weighty
    return replace(made, struck=(), passed=struck) if passing and made.complete else made


def is_safety(path: str) -> bool:
    """Whether a field is one that nothing unsure is written into: metal and gauge, electrodes and bonds, wires, the
    heights of a drop, what feeds back."""
    return path.startswith(("grounding.", "equipment.", "overhead.")) or path.rpartition(".")[2] in UNSURE_NEVER


UNSURE_NEVER = frozenset(
    ("metal", "riser_conductors", "load_conductors", "conductors", "neutral", "wires", "insulation", "supply", "kind", "separate_building", "there",
     "found", "gone", "marked", "first_disconnect", "fed_by", "fed_from", "main", "disconnect_a")
)  # fmt: skip
