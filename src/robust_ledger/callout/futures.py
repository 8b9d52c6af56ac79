"""What may come later, as it is said: "later a hot tub and a sauna" is loads; "the addition adds 300 square feet and two kitchen circuits", "future
shop: welder 50 amp 2-pole" is a future by its name, which comes into the job when it is first said."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache
from typing import Any

from robust_ledger.callout.engine import Item, ways_through
from robust_ledger.callout.fields import READERS, STRUCK
from robust_ledger.callout.frame_lexicon import lexicon
from robust_ledger.callout.phrases import Places, Reader, found_at, vocabulary
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.job.edits import add_future, change_future, new_future_id, remove_future
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.futures import Future, FutureCircuit

STAGE = "load"
_GRAMMAR = "future"
_WHEN = ("future", "later", "someday", "planned", "plan", "planning")


def read_future(line: str, job: Job) -> Spoken:
    """Read a line as being about a future of the house."""
    tokens = tokens_of(line)
    spoken_of = any(token.lower in _WHEN for token in tokens)
    ways = ways_through(_items(tokens, _readers(job)), lambda item, way: (0.0, 0), lambda way: 0.0) if spoken_of else []
    found = [item.value for item in ways[0][1].items if item.sort == "said"] if ways else []
    named = next((one.values["future"] for one in found if one.phrase.fact == "named"), "")
    if not named:
        return Spoken(STAGE, fault=Fault("No future is named here.", 0, len(line)), cost=9.0)
    cost, way = ways[0]
    struck = tuple((tokens[i.first].start, tokens[i.first].end) for i in way.items if i.sort == "struck")
    if any(one.phrase.fact == "gone" for one in found):
        return _gone(line, job, named, struck, cost)
    changes, circuits = _changes([one for one in found if one.phrase.fact != "named"])
    if not changes and not circuits and _of(job, named) is not None:
        return Spoken(STAGE, (f"the future {named}",), wanted=("what it adds",), struck=struck, cost=cost)

    def edit(job: Job) -> Job:
        """The job with the future as said."""
        there = _of(job, named)
        if there is None:
            there = Future(id=new_future_id(job, named), name=named)
            job = add_future(job, there)
        more = {"circuits": (*there.circuits, *circuits)} if circuits else {}
        return change_future(job, there.id, **changes, **more) if changes or more else job

    try:
        edit(job).checked(job)
    except ModelError as fault:
        return Spoken(STAGE, fault=Fault(f"The job cannot hold this: {fault.sentence}.", 0, len(line)), cost=cost)
    chips = (f"the future {named}", *(_chip(name, value) for name, value in changes.items()))
    chips = (*chips, *(f"{one.name} {one.breaker_a:g} A {one.poles}-pole" for one in circuits))
    facts = {f"futures.{named}.{name}": value for name, value in changes.items()}
    return Spoken(
        STAGE, chips, edit, f"call out the future {named}", struck=struck, place="future:", cost=cost, facts={"future": named, **facts}
    )  # fmt: skip


def _gone(line: str, job: Job, named: str, struck: tuple[tuple[int, int], ...], cost: float) -> Spoken:
    there = _of(job, named)
    if there is None:
        return Spoken(STAGE, fault=Fault(f"There is no future {named}.", 0, len(line)), cost=cost)
    words = (f"no future {named}",)
    return Spoken(
        STAGE,
        words,
        lambda job: remove_future(job, there.id),
        words[0],
        struck=struck,
        cost=cost,
        facts={"future": named},
    )


def _changes(found: Sequence[Any]) -> tuple[dict[str, Any], list[FutureCircuit]]:
    changes: dict[str, Any] = {}
    circuits: list[FutureCircuit] = []
    for one in found:
        if one.phrase.fact == "circuit":
            rating = float(one.values["number"])
            circuits.append(
                FutureCircuit(name=one.values["name"], poles=2 if one.phrase.value == 2 else 1, breaker_a=rating)
            )
        else:
            changes[one.phrase.fact] = one.values.get("area", one.values.get("count", one.phrase.value))
    return changes, circuits


def _of(job: Job, named: str) -> Future | None:
    return next((one for one in job.futures if one.name.lower() == named), None)


def _chip(name: str, value: Any) -> str:
    words = {
        "area": "adds {:g} of floor area",
        "small_appliance_circuits": "{:g} kitchen circuits",
        "units": "adds {:g} units",
    }
    if name == "reserve":
        return "spaces kept for it" if value else "no spaces kept for it"
    return words[name].format(value)


def _items(tokens: Sequence[Token], readers: dict[str, Reader]) -> list[list[Item]]:
    known, nothing = vocabulary(_GRAMMAR), lexicon().nothing
    places = Places(tuple(tokens), readers)
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [Item(at, at + 1, "struck", None, STRUCK)]
        if token.lower in nothing:
            here.append(Item(at, at + 1, "between", None, 0.05))
        here += [
            Item(at, found.after, "said", found, 0.1 + found.phrase.cost, 1 if found.phrase.fact == "named" else 0)
            for found in found_at(known, places, at, True)
        ]
        made.append(here)
    return made


@cache
def _names() -> frozenset[str]:
    return frozenset(vocabulary(_GRAMMAR).head["names"])


def _readers(job: Job) -> dict[str, Reader]:
    known = _names() | {one.name.lower() for one in job.futures}

    def future(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        """A future by its name: one of the job's, or what people usually plan; in quotes any other."""
        if at < len(tokens) and tokens[at].quoted:
            yield tokens[at].lower, at + 1
        for end in range(min(len(tokens), at + 5), at, -1):
            name = " ".join(token.lower for token in tokens[at:end])
            if name in known:
                yield name, end

    def name(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        """What a circuit is for: one to three words."""
        for end in range(at + 1, min(len(tokens), at + 3) + 1):
            words = tokens[at:end]
            if any(token.parted for token in words[:-1]) or any(token.lower in _WHEN for token in words):
                return
            if all(token.lower.isalpha() for token in words):
                yield " ".join(token.lower for token in tokens[at:end]), end

    return {**READERS, "future": future, "name": name}
