"""The lexicon of facts: frames, the things and properties that bind them, words that carry nothing and words that deny. Data of
`words/frames.toml`, read when it is first wanted; each line adds the nodes of its job."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from functools import cache, lru_cache
from typing import Any

from msgspec import UNSET, Struct, UnsetType, field
from msgspec.structs import replace

from robust_ledger.callout.fields import choices_of
from robust_ledger.callout.frame_fields import plain_choices, plain_concepts, plain_node_rows, plain_rows
from robust_ledger.callout.frame_nodes import names_of, nodes_said, of_node
from robust_ledger.callout.frame_values import VALUES
from robust_ledger.callout.phrases import Reader, words_of
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.job.fields import field_at
from robust_ledger.job.job import Job

NAMED = 0.8  # what a node that is named takes off a frame's cost, against the main panel, which goes without a name
THERE, NEW = "node_there", "node_new"


class Frame(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A field and what binds a value to it; see the head of the lexicon. `nearer`: what it takes off the cost;
    `without`: things that it is not said beside."""

    fields: tuple[str, ...]
    needs: tuple[tuple[str, ...], ...]
    carried: tuple[bool, ...]
    leant: tuple[bool, ...]
    before: bool
    may: frozenset[str]
    kinds: tuple[str, ...]
    sets: Any | UnsetType
    denied: Any | UnsetType
    also: Mapping[str, Any]
    least: float
    most: float
    stages: frozenset[str]
    nearer: float = 0.0
    without: frozenset[str] = frozenset()


class Lexicon(Struct, frozen=True):
    """Everything that can be said: concepts by the words that name them, frames, words that carry nothing, words that deny."""

    names: Mapping[str, tuple[tuple[tuple[str, ...], str], ...]]
    frames: tuple[Frame, ...]
    nothing: frozenset[str]
    denials: frozenset[str]
    readers: Mapping[str, Reader]
    node_rows: tuple[Frame, ...] = ()
    nodes: Mapping[str, Any] = field(default_factory=dict)
    places: frozenset[str] = frozenset()
    where: frozenset[str] = frozenset()
    weighty: frozenset[str] = frozenset()
    short: Mapping[str, str] = field(default_factory=dict)
    known_on: Mapping[str, frozenset[str]] = field(default_factory=dict)  # the concepts that the frames of a stage know
    index: Mapping[str, Sequence[int]] = field(
        default_factory=dict
    )  # the frames that need a concept, "" those that need none


def _known_on(frames: Sequence[Frame]) -> dict[str, frozenset[str]]:
    made: dict[str, frozenset[str]] = {}
    for frame in frames:
        concepts = frame.may.union(frame.without, *frame.needs)
        for stage in frame.stages:
            made[stage] = made.get(stage, frozenset()) | concepts
    return made


@cache
def lexicon() -> Lexicon:
    """The lexicon, read once. Raises NoFieldError where it names what is no field."""
    data = words_of("frames")
    names: dict[str, list[tuple[tuple[str, ...], str]]] = {}
    nodes = data["nodes"]
    added = {THERE: nodes["there"], NEW: nodes["new"]}
    for concept, said in {**data["concepts"], **data["node_concepts"], **added, **plain_concepts()}.items():
        for words in said:
            key = tuple(token.lower for token in tokens_of(words)) or (words,)
            names.setdefault(key[0], []).append((key, concept))
    readers = {**VALUES, **choices_of({**data["choices"], **plain_choices()})}
    frames = tuple(_frame(row, about=data["about"]) for row in (*data["frame"], *plain_rows()))
    return Lexicon(
        {word: tuple(sorted(some, key=lambda one: -len(one[0]))) for word, some in names.items()},
        frames,
        frozenset(data["nothing"].split()),
        frozenset(data["denied"]),
        readers,
        tuple(_frame(row, "panels.", nodes["on"]) for row in (*data["node"], *plain_node_rows())),
        nodes,
        frozenset(data["places"].split()),
        frozenset(data["where"].split()),
        frozenset(data["weighty"].split()),
        data["short"],
        _known_on(frames),
        _index(frames),
    )


def _index(frames: Sequence[Frame]) -> dict[str, list[int]]:
    made: dict[str, list[int]] = {}
    for number, frame in enumerate(frames):
        for concept in {concept for concepts in frame.needs for concept in concepts} or {""}:
            made.setdefault(concept, []).append(number)
    return made


def with_frames(known: Lexicon, frames: Sequence[Frame]) -> Lexicon:
    """A lexicon with other frames."""
    return replace(known, frames=tuple(frames), known_on=_known_on(frames), index=_index(frames))


_JOINED = re.compile(r"(\d[\d.,]*)(kva|kaic|kic|sf|sqft|sp|x)(?:(\d[\d.]*)(in|\")?)?|(pvc)(40|80)|(t)([12])", re.I)


@lru_cache(maxsize=1024)
def heard(line: str, own: tuple[tuple[str, str], ...] = ()) -> tuple[Token, ...]:
    """The words of a line as facts are read from them: short ones written out, figures parted from their units, and for each of one's `own` words
    what it stands for."""
    short, mine = lexicon().short, dict(own)
    made: list[Token] = []
    for token in tokens_of(line):
        if token.parted and line[token.end : token.end + 1] == ":":
            token = replace(token, parted=False)  # "Water meter jumper: none" is said in one
        if token.lower in mine and not token.quoted:
            means = tokens_of(mine[token.lower])
            made += (replace(token, lower=one.lower, parted=token.parted and one is means[-1]) for one in means)
            continue
        match = None if token.quoted else _JOINED.fullmatch(token.lower)
        if match is None:
            lower = short.get(token.lower, token.lower)
            made.append(replace(token, lower=lower) if lower != token.lower and not token.quoted else token)
            continue
        spans = [number for number in range(1, 9) if match[number]]
        for number in spans:
            start, end = match.span(number)
            lower = {"t": "type", "sp": "spaces", "sf": "sqft"}.get(match[number].lower(), match[number].lower())
            parted = token.parted and number == spans[-1]
            made.append(Token(token.text[start:end], token.start + start, token.start + end, False, parted, lower))
    return tuple(made)


def with_nodes(known: Lexicon, words: Sequence[str], job: Job) -> Lexicon:
    """The lexicon with the nodes of the job, and those that a line may add, as things of their own; the lexicon itself where it names none."""
    names, frames = dict(known.names), []
    for node, name, said, there in nodes_said(job, words, known.nodes["places"]):
        concept = f"node.{node}"
        mine = names_of(said, concept)
        if not any(word in words for word in mine):
            continue
        for word, some in mine.items():
            names[word] = (*some, *names.get(word, ()))
        rows = known.node_rows if there else (*known.node_rows, *_added(name, known.nodes["on"]))
        frames += [for_node(row, node, concept) for row in rows]
    if not frames:
        return known
    return replace(with_frames(known, (*known.frames, *frames)), names=names)


def for_node(row: Frame, node: str, concept: str) -> Frame:
    """A row of the lexicon about one node."""
    return replace(
        row,
        fields=tuple(of_node(path, node) for path in row.fields),
        needs=((concept,), *row.needs),
        carried=(False, *row.carried),
        leant=(True, *row.leant),
        also={of_node(path, node): value for path, value in row.also.items()},
        nearer=NAMED,
    )


def _added(name: str, stages: Sequence[str]) -> tuple[Frame, Frame]:
    """A node that a line adds: one that was found and stays, or a new one."""
    found = {"field": "name", "needs": f"+{THERE}", "is": name, "also": {"there": True, "found": True}}
    return _frame(found, "panels.", stages), _frame(
        {"field": "name", "needs": f"+{NEW}", "is": name}, "panels.", stages
    )


@cache
def called() -> Mapping[str, str]:
    """What each concept is called first: the shortest of its names."""
    made: dict[str, str] = {}
    every = [one for some in lexicon().names.values() for one in some]
    for key, concept in sorted(every, key=lambda one: len(one[0])):
        made.setdefault(concept, " ".join(key))
    return made


def _frame(
    row: Mapping[str, Any], within: str = "", stages: Sequence[str] = (), about: Mapping[str, str] | None = None
) -> Frame:
    fields = tuple(row.get("fields", [row["field"]] if "field" in row else []))
    for path in (*fields, *row.get("also", ())):
        field_at(f"{within}{path}")
    needs = row["needs"].split()
    return Frame(
        fields=fields,
        needs=tuple(tuple(one.lstrip("~+").split("|")) for one in needs),
        carried=tuple(one.startswith("~") for one in needs),
        leant=tuple(one[:1] in "~+" for one in needs),
        before=row.get("before", False),
        may=frozenset(
            f"{row.get('may', '')} {(about or {}).get(fields[0].partition('.')[0], '') if fields else ''}".split()
        ),
        kinds=tuple(row.get("value", "").split()),
        sets=row.get("is", UNSET),
        denied=row["no"] if "no" in row else (not row["is"]) if isinstance(row.get("is"), bool) else UNSET,
        also=row.get("also", {}),
        least=row.get("least", float("-inf")),
        most=row.get("most", float("inf")),
        stages=frozenset(row.get("on", stages)),
        nearer=row.get("nearer", 0.0),
        without=frozenset(row.get("without", "").split()),
    )


@cache
def _plausible() -> dict[str, tuple[float, float]]:
    """What each figure usually is, from the least to the most that any of its frames takes."""
    made: dict[str, tuple[float, float]] = {}
    for frame in lexicon().frames:
        for path in frame.fields if frame.kinds and frame.least > float("-inf") else ():
            least, most = made.get(path, (frame.least, frame.most))
            made[path] = (min(least, frame.least), max(most, frame.most))
    return made


def odd_figures(facts: Mapping[str, Any]) -> tuple[str, ...]:
    """The figures among some facts that are hardly ever so, as questions: "ceiling 12 in?"."""
    odd = []
    for path, value in facts.items():
        least, most = _plausible().get(path, (float("-inf"), float("inf")))
        if isinstance(value, int | float) and not isinstance(value, bool) and value and not least <= value <= most:
            known = field_at(path)
            odd.append(f"{known.words} {value:g} {known.unit}".strip() + "?")
    return tuple(odd)
