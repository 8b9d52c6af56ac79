"""What is said at the bench: "move 8 to 21", "swap 3 and 7", "pin 12", "put the charger next to the main", "arrange"."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import lru_cache
from typing import Any

from robust_ledger.branch.model import Branch
from robust_ledger.callout.engine import Item, ways_through
from robust_ledger.callout.fields import READERS, STRUCK, choice_readers
from robust_ledger.callout.phrases import Found, Places, Reader, found_at, read_count, vocabulary
from robust_ledger.callout.spoken import Fault, Order, Spoken
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.job.edits import change_branch, move_to_panel, pin, place
from robust_ledger.job.fields import field_at
from robust_ledger.job.job import Job
from robust_ledger.job.spaces import kept, row_of
from robust_ledger.job.tree import panel_name
from robust_ledger.panel.moves import Move, move
from robust_ledger.plan import Plan

STAGE = "bench"
_SKIPPED = frozenset(("the", "a", "tag", "circuit", "ckt", "number"))


class _FaultError(Exception):
    pass


def read_bench(line: str, plan: Plan) -> Spoken:
    """Read a line as a change of the layout of the panel in view."""
    tokens = tokens_of(line)
    if not tokens:
        return Spoken(STAGE)
    cost, way = ways_through(_items(tokens, plan), lambda item, way: (0.0, 0), lambda way: 0.0)[0]
    found = next((item.value for item in way.items if item.sort == "said"), None)
    struck = tuple((tokens[i.first].start, tokens[i.first].end) for i in way.items if i.sort == "struck")
    if found is None:
        text = "Nothing of this is understood here; say it like move 8 to 21, swap 3 and 7, pin 12, or arrange."
        return Spoken(STAGE, fault=Fault(text, 0, len(line)), struck=struck, cost=cost)
    try:
        words, edit, order, at = _told(found, plan)
    except _FaultError as problem:
        about = (found.phrase.fact.replace("_", " "),)  # it is of the bench, though it cannot be
        return Spoken(STAGE, about, fault=Fault(str(problem), 0, len(line)), cost=cost)
    return Spoken(
        STAGE, (words,), edit, words, None, (), struck, order=order, place=at, cost=cost, facts={"said": words}
    )


def _items(tokens: tuple[Token, ...], plan: Plan) -> list[list[Item]]:
    known = vocabulary(STAGE)
    places = Places(tokens, bench_readers(plan))
    between = frozenset(known.head["between"])
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [Item(at, at + 1, "struck", None, STRUCK)]
        if token.lower in between:
            here.append(Item(at, at + 1, "between", None, 0.05))
        here += [
            Item(at, found.after, "said", found, 0.1 + found.phrase.cost, 1)
            for found in found_at(known, places, at, True)
        ]
        made.append(here)
    return made


def bench_readers(plan: Plan) -> dict[str, Reader]:
    """Readers of what the bench and the changeover talk about: circuits by tag or words, spaces, panels."""
    circuit = _circuit_reader(plan.circuits.branches)
    return {
        **choice_readers(STAGE),
        "number": READERS["number"],
        "count": READERS["count"],
        "feet": READERS["feet"],
        "circuit": circuit,
        "other": circuit,
        "space": _read_space,
        "panel": _panel_reader(plan),
    }


def _circuit_reader(branches: Sequence[Branch]) -> Reader:
    of_words = words_index(tuple(f"{one.feeds} {one.room}" for one in branches))

    def circuit(tokens: Sequence[Token], at: int) -> Iterator[tuple[Branch | str, int]]:
        """A circuit by its tag, by its key in quotes, or by words of what it feeds that no other has."""
        if at < len(tokens) and tokens[at].quoted:
            named = next((one for one in branches if str(one.key) == tokens[at].text), None)
            if named is not None:
                yield named, at + 1
                return
        start = at
        while start < len(tokens) and tokens[start].lower in _SKIPPED:
            start += 1
        for tag, after in read_count(tokens, start):
            branch = next((one for one in branches if tag in one.sources), None)
            yield branch if branch is not None else f"There is no tag {tag} in the new panel.", after
        for end in range(min(len(tokens), start + 6), start, -1):
            words = [token.lower for token in tokens[start:end]]
            if len(words) == 1 and words[0].isdecimal():
                continue
            fits = [one for number in having(of_words, words) if not (one := branches[number]).off]
            if len(fits) == 1:
                yield fits[0], end
            elif len(fits) > 1:
                names = " and ".join(f"tag {one.tag}" if one.tag != "new" else one.feeds for one in fits[:3])
                yield f'"{" ".join(words)}" may be {names}; say its tag.', end

    return circuit


def _read_space(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
    """A space as the panel is marked, "21", "19a"."""
    if at < len(tokens) and tokens[at].lower[:-1].isdecimal() and tokens[at].lower[-1:] in ("a", "b"):
        yield tokens[at].lower, at + 1
    for number, after in read_count(tokens, at):
        yield str(number), after


def _panel_reader(plan: Plan) -> Reader:
    def panel(tokens: Sequence[Token], at: int) -> Iterator[tuple[str, int]]:
        """Another panel by its name."""
        for length in range(min(4, len(tokens) - at), 0, -1):
            words = [token.lower for token in tokens[at : at + length]]
            named = [panel_id for panel_id in plan.benches if set(words) <= _words_of(plan, panel_id)]
            if len(named) == 1:
                yield named[0], at + length
                return

    return panel


def _words_of(plan: Plan, panel_id: str) -> set[str]:
    """The words of a panel's name."""
    return {token.lower for token in tokens_of(panel_name(plan.job, panel_id))}


@lru_cache(maxsize=32)
def words_index(texts: tuple[str, ...]) -> dict[str, frozenset[int]]:
    """In which of some texts each word stands: lines are read against the same circuits and tasks over and over."""
    made: dict[str, set[int]] = {}
    for number, text in enumerate(texts):
        for token in tokens_of(text):
            made.setdefault(token.lower, set()).add(number)
    return {word: frozenset(numbers) for word, numbers in made.items()}


def having(index: dict[str, frozenset[int]], words: Sequence[str]) -> list[int]:
    """The texts that have every word."""
    return sorted(frozenset.intersection(*(index.get(word, frozenset()) for word in words)))


def _told(found: Found, plan: Plan) -> tuple[str, Callable[[Job], Job] | None, Order | None, str]:
    """What a phrase does: in words, as an edit or an order, and where it is seen. Raises _FaultError with the reason against it."""
    fact = found.phrase.fact
    if fact in ("arrange", "arrange_all"):
        every = fact == "arrange_all"
        return (
            "arrange all panels" if every else "arrange the panel",
            None,
            Order("arrange", "all" if every else ""),
            "",
        )
    branch = found.values["circuit"]
    if isinstance(branch, str):
        raise _FaultError(branch)
    name = _name(branch)
    at = f"branch:{branch.key}"
    if fact == "panel":
        panel_id = found.values["panel"]
        return (
            f"move {name} to the {panel_name(plan.job, panel_id)}",
            lambda job: move_to_panel(job, (branch.key,), panel_id),
            None,
            at,
        )
    if fact == "decide":
        return (*_decided(branch, name, found), None, at)
    if branch.key not in plan.bench.placement.positions:
        raise _FaultError(f"{name[:1].upper()}{name[1:]} has no space in this panel.")
    if fact in ("pin", "unpin"):
        return (*_pinned(branch, name, fact == "pin", plan), None, at)
    if fact == "swap":
        other = found.values["other"]
        if isinstance(other, str):
            raise _FaultError(other)
        target = plan.bench.placement.positions.get(other.key)
        if target is None:
            raise _FaultError(f"{_name(other)} has no space in this panel.")
        words = f"swap {name} and {_name(other)}"
    elif fact == "near_main":
        target = _near_main(branch, plan)
        words = f"put {name} next to the main"
    else:
        panel = plan.job.panel
        target = kept(found.values["space"], panel.numbering, panel.spaces)
        words = f"move {name} to {found.values['space']}"
    result = _outcome(branch, target, plan)
    placements = result.placements
    if placements is None:
        raise _FaultError(result.reason)
    return words, lambda job: place(job, placements, plan.panel_id), None, at


def _decided(branch: Branch, name: str, found: Found) -> tuple[str, Callable[[Job], Job]]:
    """What becomes of a circuit: the fields of its change."""
    changes = {
        field: found.values[value[1:-1]] if isinstance(value, str) and value[:1] == "{" else value
        for field, value in found.phrase.value.items()
    }
    told = ", ".join(_said(field, value) for field, value in changes.items())
    return f"{name}: {told}", lambda job: change_branch(job, branch.key, **changes)


def _said(field: str, value: Any) -> str:
    """A field of a change as a form calls it: "new cable", "breaker 20 A"."""
    known = field_at(f"decisions.circuits.{field}")
    if value in known.choices:
        return str(known.choices[value])
    return known.words if value is True else f"{known.words} {value:g} {known.unit}".strip()


def _pinned(branch: Branch, name: str, wanted: bool, plan: Plan) -> tuple[str, Callable[[Job], Job]]:
    if (branch.key in plan.job.decisions.pins) is wanted:
        raise _FaultError(f"{name[:1].upper()}{name[1:]} is {'pinned already' if wanted else 'not pinned'}.")
    positions = dict(plan.bench.placement.positions)
    return f"{'pin' if wanted else 'unpin'} {name}", lambda job: pin(job, branch.key, positions)


def _outcome(branch: Branch, target: str, plan: Plan) -> Move:
    branches = {one.key: one for one in plan.circuits.branches if not one.off}
    positions, decided = plan.bench.placement.positions, plan.job.decisions
    return move(branches, dict(positions), plan.job.panel, branch.key, target, decided.pins)


def _near_main(branch: Branch, plan: Plan) -> str:
    """The space nearest to the main's end that it may go to, best one where nothing else has to move."""
    panel = plan.job.panel
    bottom = panel.interior.main_at == "bottom"
    spaces = sorted(
        range(1, panel.spaces + 1), key=lambda space: (-row_of(space) if bottom else row_of(space), space % 2 == 0)
    )
    here = plan.bench.placement.positions[branch.key]
    for space in spaces:
        if str(space) == here:
            raise _FaultError("It is as near to the main as it can be.")
        if _outcome(branch, str(space), plan).placements is not None:
            return str(space)
    raise _FaultError("Nothing can change places with it there.")


def _name(branch: Branch) -> str:
    return f"tag {branch.tag}" if branch.tag != "new" else branch.feeds
