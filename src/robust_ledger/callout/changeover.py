"""The changeover day's line: "done 14", "14 took 25", "leg to leg 243, left 121, right 122", "torque main left 250 inch pounds"."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import datetime
from typing import Any

from robust_ledger.callout.bench import bench_readers, having, words_index
from robust_ledger.callout.changeover_edits import EDITS, FaultError, Said
from robust_ledger.callout.engine import Item, ways_through
from robust_ledger.callout.fields import READERS, STRUCK, choice_readers
from robust_ledger.callout.frame_values import clock_reader, minutes_at
from robust_ledger.callout.numbers import numbers_at
from robust_ledger.callout.phrases import Found, Places, Reader, found_at, read_count, read_number, vocabulary
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.changeover.clock import read_clock, read_date
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.plan import Plan

STAGE = "changeover"
# Facts of one reading, that a line may say several of; every other fact stands by itself, but for the time it was at.
TOGETHER = frozenset(
    ("leg_to_leg", "a_to_neutral", "b_to_neutral", "neutral_to_ground", "point", "main_open", "low_z", "loaded")
)
PLANNED = frozenset(
    (
        "people",
        "day_start",
        "promise",
        "no_promise",
        "date",
        "window",
        "lunch",
        "no_lunch",
        "weather",
        "rain",
        "inspection",
    )
)
FIGURES = frozenset(("leg_to_leg", "a_to_neutral", "b_to_neutral", "neutral_to_ground"))


def read_day(line: str, plan: Plan) -> Spoken:
    """Read a line as something of the day: what happens, or how it is planned."""
    tokens = tokens_of(line)
    if not tokens:
        return Spoken(STAGE)
    cost, way = ways_through(_items(tokens, plan), lambda item, way: (0.0, 0), lambda way: 0.0)[0]
    found = [item.value for item in way.items if item.sort == "said"]
    struck = tuple((tokens[i.first].start, tokens[i.first].end) for i in way.items if i.sort == "struck")
    mains = [one for one in found if one.phrase.fact not in TOGETHER and one.phrase.fact != "at"]
    volts = [one for one in found if one.phrase.fact in TOGETHER]
    if mains and mains[0].phrase.fact in PLANNED:  # a time is none of what is planned: "rain at 3"
        timed = [one for one in found if one.phrase.fact == "at"]
        struck += tuple((tokens[one.first].start, tokens[one.after - 1].end) for one in timed)
    if not mains and not any(one.phrase.fact in FIGURES for one in volts):
        text = (
            "Nothing of this is understood here; say it like done 14, start 9, or leg to leg 243, left 121, right 122."
        )
        return Spoken(STAGE, fault=Fault(text, 0, len(line)), struck=struck, cost=cost + 1)
    try:
        words, edit, place = _told(mains, volts, found, plan)
        done = edit(plan.job).checked(plan.job)
    except (FaultError, ModelError, ValueError) as problem:
        text = f"{str(problem)[:1].upper()}{str(problem)[1:]}"
        about = (found[0].phrase.fact.replace("_", " "),)  # it is of the day, though it cannot be
        return Spoken(
            STAGE,
            about,
            fault=Fault(text if text.endswith(".") else f"{text}.", 0, len(line)),
            struck=struck,
            cost=cost,
        )
    return Spoken(
        STAGE,
        words,
        lambda job: done if job is plan.job else edit(job),
        ", ".join(words),
        None,
        (),
        struck,
        place=place,
        cost=cost,
        facts={"said": words},
    )


def _told(
    mains: Sequence[Found], volts: Sequence[Found], found: Sequence[Found], plan: Plan
) -> tuple[tuple[str, ...], Callable[[Job], Job], str]:
    """What a line does: in words, as an edit, and where it is seen. Raises FaultError."""
    said_at = next((one.values["clock"] for one in found if one.phrase.fact == "at"), None)
    at = Said(plan, said_at)
    if volts and not mains:
        values: dict[str, Any] = {}
        for one in volts:
            values[one.phrase.fact] = _value(one)
        return at.voltages(values)
    if len(mains) > 1:
        raise FaultError("say one thing at a time")
    fact = mains[0].phrase.fact
    values = dict(mains[0].values)
    if "span" in values:
        values["number"] = values.pop("span")
    return EDITS[fact](at, {**values, "value": mains[0].phrase.value})


def _value(found: Found) -> Any:
    if found.phrase.fact == "point":
        return found.values["point"]
    return found.values.get("number", found.phrase.value)


def _items(tokens: tuple[Token, ...], plan: Plan) -> list[list[Item]]:
    known = vocabulary(STAGE)
    places = Places(tokens, _readers(plan))
    between = frozenset(known.head["between"])
    bits: dict[str, int] = {}
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [Item(at, at + 1, "struck", None, STRUCK)]
        if token.lower in between:
            here.append(Item(at, at + 1, "between", None, 0.05))
        for found in found_at(known, places, at, True):
            fact = found.phrase.fact
            slot = fact if fact in TOGETHER or fact == "at" else "main"
            fills = bits.setdefault(slot, 1 << len(bits))
            here.append(Item(at, found.after, "said", found, 0.1 + found.phrase.cost, fills))
        made.append(here)
    return made


def _readers(plan: Plan) -> Mapping[str, Reader]:
    room = plan.changeover
    numbers = dict(enumerate(room.tasks, 1))
    of_words = words_index(tuple(one.words for one in room.tasks))

    def task(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        """A task by its number in the list, by its id in quotes, or by words of it that no other task has."""
        if at + 1 < len(tokens) and tokens[at].lower in ("task", "step", "number"):
            yield from ((number, after) for number, after in task(tokens, at + 1) if not number.startswith("?"))
            return
        if at < len(tokens) and tokens[at].quoted:
            if any(one.id == tokens[at].text for one in room.tasks):
                yield tokens[at].text, at + 1
            return
        if at < len(tokens) and tokens[at].lower in ("lunch", "break"):
            yield "lunch", at + 1
        for number, after in read_count(tokens, at):
            yield (
                (
                    numbers[number].id
                    if number in numbers
                    else f"?There is no task {number}; the day has {len(numbers)}."
                ),
                after,
            )
        for end in range(min(len(tokens), at + 5), at, -1):
            words = [token.lower for token in tokens[at:end]]
            if words[0] in ("done", "start", "the", "of") or not any(len(word) > 2 for word in words):
                continue
            fits = [room.tasks[number] for number in having(of_words, words)]
            named = [one for one in fits if one.id == "_".join(words)]
            if len(named) == 1 or len(fits) == 1:
                yield (named or fits)[0].id, end
            elif fits:
                names = " and ".join(f"{n} {one.words[:30]}" for n, one in numbers.items() if one in fits)
                yield f'?"{" ".join(words)}" may be {names}; say its number.', end

    def termination(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        yield from _termination(tokens, at, plan)

    bench = bench_readers(plan)
    return {
        **READERS,
        **choice_readers(STAGE),
        "task": task,
        "other": task,
        "circuit": bench["circuit"],
        "termination": termination,
        "clock": _said_clock,
        "span": _span,
        "number": _figure,
        "early": clock_reader("early"),
        "late": clock_reader("late"),
        "from": clock_reader("working"),
        "until": clock_reader("working"),
        "date": _read_date,
    }


def _read_clock(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    """A time of day: "5 pm", "8:30", "17:30", "noon"."""
    if at < len(tokens) and tokens[at].lower == "noon":
        yield 12 * 60, at + 1
    for end in (at + 2, at + 1):
        if end <= len(tokens):
            text = " ".join(token.lower for token in tokens[at:end])
            try:
                yield read_clock(text.replace("a.m", "am").replace("p.m", "pm")), end
                return
            except ValueError:
                continue


_WORKING = clock_reader("working")


def _said_clock(tokens: Sequence[Token], at: int) -> Iterator[tuple[int, int]]:
    """The same, and in words: "eight thirty", "quarter past eight", by the hours of a working day."""
    ends = set()
    for minutes, end in _read_clock(tokens, at):
        ends.add(end)
        yield minutes, end
    yield from ((minutes, end) for minutes, end in _WORKING(tokens, at) if end not in ends)


def _figure(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A reading: "121.5", "one twenty one", "half a"."""
    if [token.lower for token in tokens[at : at + 2]] == ["half", "a"]:
        yield 0.5, at + 2
    yield from read_number(tokens, at)


def _span(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """How long, in minutes: "forty minutes", "half an hour", "25"."""
    yield from minutes_at(tokens, at)
    for one in numbers_at(tokens, at):
        if one.whole and 0 < one.value <= 600:
            yield one.value, one.after


def _read_date(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """A date: "12/1/2026", "2026-12-01", "December 1 2026"."""
    for end in (at + 3, at + 1):
        if end > len(tokens):
            continue
        text = " ".join(token.text for token in tokens[at:end])
        for form in ("%B %d %Y", "%b %d %Y"):
            try:
                yield datetime.strptime(text, form).date().isoformat(), end
                return
            except ValueError:
                continue
        try:
            yield read_date(text), end
            return
        except ValueError:
            continue


_SIDES = {"left": "A", "a": "A", "right": "B", "b": "B", "neutral": "N", "n": "N"}


def _termination(tokens: Sequence[Token], at: int, plan: Plan) -> Iterator[tuple[str, int]]:
    """A termination: "main left", "meter line right", "neutral lug", "GEC", "rod 2", "tag 7 hot", "7 neutral", or its key in quotes."""
    words = [token.lower for token in tokens[at : at + 4]]
    there = {termination.key for termination in plan.changeover.terminations}
    if at < len(tokens) and tokens[at].quoted:
        if tokens[at].text in there:
            yield tokens[at].text, at + 1
        return

    def of(key: str, after: int) -> Iterator[tuple[str, int]]:
        yield (
            (key if key in there else f"?There is no such termination on this day: {' '.join(words[:after])}."),
            at + after,
        )

    main = plan.panel_id
    if words[:1] in (["main"], ["lug"]) and words[1:2] and words[1] in _SIDES:
        yield from of(f"{main}.main.{_SIDES[words[1]]}", 2)
    if words[:2] == ["neutral", "lug"]:
        yield from of(f"{main}.main.N", 2)
    if words[:1] == ["gec"]:
        yield from of(f"{main}.gec", 1)
    if words[:1] == ["meter"] and words[1:2] and words[1] in ("line", "load") and words[2:3] and words[2] in _SIDES:
        yield from of(f"meter.{words[1]}.{_SIDES[words[2]]}", 3)
    if words[:1] == ["rod"] and words[1:2] and words[1].isdecimal():
        yield from of(f"rod.{words[1]}", 2)
    if words[:1] == ["factory"] and words[1:2] and words[1] in ("main", "neutral", "ground", "bond"):
        yield from of(f"{main}.factory.{words[1]}", 2)
    start = at + 1 if words[:1] in (["tag"], ["circuit"]) else at
    if start + 1 < len(tokens) and tokens[start].lower.isdecimal():
        branch = next((one for one in plan.circuits.branches if int(tokens[start].lower[:9]) in one.sources), None)
        names = {"hot": "hot1", "left": "hot1", "right": "hot2", "neutral": "neutral", "ground": "ground"}
        if branch is not None and (name := names.get(tokens[start + 1].lower)):
            yield from of(f"{branch.key}.{name}", start + 2 - at)
