"""Something with a nameplate, as it is said: "range 11.2 kW kitchen", "heat pump MCA 30 MOCP 45 with 9.6 kW strips", "charger 48 amps later,
garage". One that is in the house already under this name takes what the line says; else it is a new one."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import cache
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.callout.circuit import room_in
from robust_ledger.callout.engine import Item, Way, slots, ways_through
from robust_ledger.callout.fields import READERS
from robust_ledger.callout.frame_lexicon import lexicon
from robust_ledger.callout.numbers import is_number_word, numbers_at, pairs_at
from robust_ledger.callout.phrases import Places, Reader, found_at, vocabulary
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.edits import add_load, change_load, new_load_id
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.house import Load, LoadKind, Nameplate, When
from robust_ledger.job.readers.quantity import QuantityError, nameplate_text, read_nameplate
from robust_ledger.ledger.text import is_whole

STAGE = "load"
SLOT = slots(
    (
        "kind", "rating", "volts", "motor_hp", "mca_a", "mocp_a", "strips", "when", "uses_neutral", "continuous", "managed", "interlocked",
        "is_motor", "controls", "duty_percent", "another",
    )
)  # fmt: skip
_JOINED = {"kw": "kW", "k": "kW", "kva": "kW", "w": "VA", "va": "VA", "a": "A", "hp": "hp", "amp": "A", "amps": "A"}
_VOLTS = (115, 120, 208, 220, 230, 240)
_AS = re.compile(r"\s*as\s+([a-z0-9-]{1,60}):\s*(.*)", re.S)


class Kind(Struct, frozen=True):
    """What something is called, and what that is to the load calculation."""

    kind: LoadKind
    volts: float


@cache
def _kinds() -> dict[tuple[str, ...], Kind]:
    made: dict[tuple[str, ...], Kind] = {}
    for name, row in vocabulary(STAGE).head["kinds"].items():
        kind = Kind(LoadKind(row.get("kind", name)), float(row["volts"]))
        made |= {tuple(token.lower for token in tokens_of(said)): kind for said in row["say"]}
    return made


def kinds_said() -> dict[str, LoadKind]:
    """Every name of a kind of load, for the help and completions."""
    return {" ".join(key): kind.kind for key, kind in _kinds().items()}


def _volts(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    if at < len(tokens):
        bare = tokens[at].lower.removesuffix("v")
        if is_whole(bare) and float(bare) in _VOLTS:
            yield float(bare), at + 1
    for one in numbers_at(tokens, at):
        if one.words and one.value in _VOLTS:
            yield one.value, one.after


def _watts(tokens: Sequence[Token], at: int) -> Iterator[tuple[float, int]]:
    """A number of watts; with their unit behind it, "fourteen eighty" is one."""
    for one in (*pairs_at(tokens, at), *numbers_at(tokens, at)):
        if not one.loose:
            yield one.value, one.after


_READERS: dict[str, Reader] = {**READERS, "volts": _volts, "number_of_watts": _watts}


def _items(tokens: tuple[Token, ...]) -> list[list[Item]]:
    known, kinds = vocabulary(STAGE), _kinds()
    places = Places(tokens, _READERS)
    between = frozenset(known.head["between"])
    longest = max(len(key) for key in kinds)
    made: list[list[Item]] = []
    for at, token in enumerate(tokens):
        here = [Item(at, at + 1, "word", token.text, 0.3 if token.lower.isalpha() else 1.0)]
        if token.lower in between:
            here.append(Item(at, at + 1, "between", None, 0.05))
        for length in range(min(longest, len(tokens) - at), 0, -1):
            if (kind := kinds.get(tuple(one.lower for one in tokens[at : at + length]))) is not None:
                here.append(Item(at, at + length, "kind", kind, -0.1 * length, SLOT["kind"], at))
        if (value := _plate(token.lower)) is not None:
            here.append(Item(at, at + 1, "rating", value, 0.0, SLOT["rating"], at))
        for found in found_at(known, places, at):
            fact = found.phrase.fact
            value_: Any = found.phrase.value
            if fact == "rating":
                number = found.values.get("number", found.values.get("number_of_watts"))
                value_ = (number, found.phrase.value, found.values.get("volts"))
            elif value_ is None and found.values:
                value_ = next(iter(found.values.values()))
            here.append(Item(at, found.after, fact, value_, found.phrase.cost, SLOT[fact], at))
        made.append(here)
    return made


def _plate(word: str) -> tuple[float, str, float | None] | None:
    """A rating in one word: "11.2kw", "30a@240"."""
    try:
        plate = read_nameplate(word, 0) if "@" in word else read_nameplate(f"{word}@240", 240)
    except QuantityError:
        return None
    if plate.amount is None or is_whole(word.replace(".", "").replace(",", "")):
        return None
    return plate.amount, plate.unit, plate.volts if "@" in word else None


def _extra(item: Item, way: Way) -> tuple[float, int]:
    """A name or a room is in one piece."""
    if item.sort == "word":
        return (0.4 if way.state == 0 else 0.0 if way.state == 1 else 1.0), 1
    return 0.0, 2 if way.state else 0


def _missing(way: Way) -> float:
    return (0.0 if way.filled & SLOT["kind"] else 2.0) + (0.0 if way.filled & (SLOT["rating"] | SLOT["mca_a"]) else 0.6)


def read_load(line: str, job: Job, codebook: Codebook) -> Spoken:
    """Read a line as a load of the house; "as flat-range: range 8.2 kW" says its id too."""
    own = _AS.fullmatch(line)
    if own is not None:
        if job.load(own[1]) is not None:
            return Spoken(STAGE, fault=Fault(f'There is a load "{own[1]}" already.', 0, len(line)))
        return _read(own[2], job, codebook, own[1])
    return _read(line, job, codebook, "")


def _read(line: str, job: Job, codebook: Codebook, own_id: str) -> Spoken:
    tokens = tokens_of(line)
    if not tokens:
        return Spoken(STAGE)
    cost, way = ways_through(_items(tokens), _extra, _missing)[0]
    values: dict[str, Any] = {item.sort: item.value for item in way.items if item.sort in SLOT}
    kind: Kind | None = values.pop("kind", None)
    words = [item for item in way.items if item.sort == "word"]
    struck = tuple((tokens[i.first].start, tokens[i.first].end) for i in words if _is_figure(tokens[i.first].lower))
    said = next((item for item in way.items if item.sort == "kind"), None)
    if kind is None or said is None:
        either = vocabulary(STAGE).head["either"]
        asked = next((either[token.lower] for token in tokens if token.lower in either), "")
        fault = Fault(asked or "No appliance, motor or heater is named here.", 0, len(line))
        return Spoken(STAGE, fault=fault, cost=cost + 2)
    name = " ".join(token.text for token in tokens[said.first : said.after]).lower()
    name = vocabulary(STAGE).head["names"].get(name, name)
    room, unsure = _room(tokens, words, job)
    named = _named(job, name, room) if "another" not in values and not own_id else None
    try:
        fields = _fields(values, kind, named)
    except QuantityError as problem:
        return Spoken(STAGE, (name,), fault=Fault(str(problem), 0, len(line)), cost=cost)
    made = _spoken(line, job, codebook, name, room, named, fields, values.get("strips"), struck, cost, kind, own_id)
    asks = [f'"{room}" is its room?'] if unsure else []
    asks += _doubts(tokens, name, bool(values.keys() & {"rating", "mca_a", "motor_hp"}))
    return replace(made, asks=(*made.asks, *asks)) if asks and made.complete else made


def _doubts(tokens: Sequence[Token], name: str, rated: bool) -> Iterator[str]:
    """What makes a load doubtful: it burns something, or was said as a guess."""
    head = vocabulary(STAGE).head
    words = {token.lower for token in tokens if not token.quoted}
    burns = words & set(head["burns"])
    if burns and not rated and name not in head["burners"]:
        yield f"{burns.pop()}? Then it is no electric load, but for its controls"
    if words & _MAYBE:
        yield "said as a guess"


_MAYBE = frozenset(("might", "may", "maybe", "perhaps", "probably", "possibly", "could"))


def _room(tokens: Sequence[Token], words: Sequence[Item], job: Job) -> tuple[str, bool]:
    """What is left of a line as the room of a load, and whether that is a guess: words that carry nothing fall away before and after it, and what
    is no room that is known is one for sure only behind a comma."""
    runs: list[list[int]] = []
    for item in words:
        if _is_figure(tokens[item.first].lower):
            continue
        if runs and runs[-1][-1] == item.first - 1 and not tokens[item.first - 1].parted:
            runs[-1].append(item.first)
        else:
            runs.append([item.first])
    nothing = lexicon().nothing - _of_rooms()
    said, unsure = [], False
    for run in runs:
        while run and tokens[run[0]].lower in nothing:
            run.pop(0)
        while run and tokens[run[-1]].lower in nothing:
            run.pop()
        text = " ".join(tokens[at].text for at in run)
        if not run or _is_of_kind(text):
            continue
        said.append(text)
        apart = run[0] > 0 and tokens[run[0] - 1].parted
        unsure = unsure or not (apart or room_in(text, job) or _of_rooms() & {tokens[at].lower for at in run})
    return " ".join(said), unsure


@cache
def _of_rooms() -> frozenset[str]:
    return frozenset(vocabulary(STAGE).head["of_rooms"].split())


def _is_of_kind(text: str) -> bool:
    """Whether all words of a text are those of appliances: "blower motor"."""
    known = {word for key in _kinds() for word in key} | {"motor", "heater", "unit"}
    return all(word.lower() in known for word in text.split())


def _is_figure(word: str) -> bool:
    """Whether a word is a figure or part of one: nothing of a number stays behind as the word for a room."""
    return (
        not word.replace("'", "").isalpha()
        or is_number_word(word)
        or word in ("point", "watts", "amps", "horse", "mca", "mocp")
    )


def _named(job: Job, name: str, room: str) -> Load | None:
    """The load of the house that goes by a name; of several the one in the room that was said."""
    same = [load for load in job.loads if load.name.lower() == name]
    if len(same) > 1 and room:
        same = [load for load in same if load.room.lower() == room.lower()] or same
    return same[0] if len(same) == 1 else None


def _fields(values: dict[str, Any], kind: Kind, named: Load | None) -> dict[str, Any]:
    """The fields of the load that the line says. Raises QuantityError for a rating that cannot be."""
    made: dict[str, Any] = {}
    usual = named.nameplate.volts if named is not None else kind.volts
    volts = values.get("volts")
    if "rating" in values:
        amount, unit, at = values["rating"]
        plate = Nameplate(amount=amount, unit=unit, volts=at or volts or usual)
        made["nameplate"] = read_nameplate(nameplate_text(plate), plate.volts)
    elif volts is not None or named is None:
        amount = named.nameplate.amount if named is not None else None
        made["nameplate"] = Nameplate(amount=amount, unit=named.nameplate.unit if named else "VA", volts=volts or usual)
    for name in (
        "motor_hp",
        "mca_a",
        "mocp_a",
        "uses_neutral",
        "continuous",
        "managed",
        "interlocked",
        "is_motor",
        "controls",
        "duty_percent",
    ):
        if name in values:
            made[name] = values[name]
    if "when" in values:
        made["when"] = When(values["when"])
    return made


def _spoken(
    line: str, job: Job, codebook: Codebook, name: str, room: str, named: Load | None, fields: dict[str, Any], strips: float | None,
    struck: tuple[tuple[int, int], ...], cost: float, kind: Kind, own_id: str,
) -> Spoken:  # fmt: skip
    mca, mocp = fields.get("mca_a"), fields.get("mocp_a")
    if mca is not None and mocp is not None and mca > mocp:
        text = f"MCA {mca:g} A above MOCP {mocp:g} A cannot be; read the nameplate again."
        return Spoken(STAGE, (name,), fault=Fault(text, 0, len(line)), cost=cost)
    if room:
        fields["room"] = room
    elif named is None and (place := room_in(line, job)):
        fields["room"] = place
    tankless = {"tankless": True} if name.startswith(("tankless", "on demand")) else {}

    def edit(job: Job) -> Job:
        """The job with the load as said."""
        if named is not None and job.load(named.id) is not None:
            after, load_id = change_load(job, named.id, **fields), named.id
        else:
            load_id = own_id or new_load_id(job, name)
            after = add_load(job, Load.read({"id": load_id, "name": name, "kind": kind.kind, **tankless, **fields}))
        if strips is not None:
            plate = Nameplate(amount=strips, unit="kW", volts=240)
            more = {
                "id": new_load_id(after, "heat strips"),
                "name": "heat strips",
                "kind": LoadKind.SUPPLEMENTAL_HEAT,
                "nameplate": plate,
            }
            when = {"when": fields["when"]} if "when" in fields else {}
            after = add_load(after, Load.read({**more, **when, "interlocks_with": load_id}))
        return after

    try:
        edit(job).checked(job)
    except ModelError as fault:
        return Spoken(
            STAGE, (name,), fault=Fault(f"The house cannot hold this: {fault.sentence}.", 0, len(line)), cost=cost
        )
    chips = _chips(name, fields, strips, named is not None)
    known = "nameplate" in fields and fields["nameplate"].amount is not None
    plate_there = known or mca is not None or (named is not None and named.nameplate.amount is not None)
    chips = chips if plate_there else (*chips, "nameplate?")
    return Spoken(
        STAGE,
        chips,
        edit,
        f"call out {name}",
        struck=struck,
        place=f"load:{named.id if named else ''}",
        cost=cost,
        facts={"name": name, **fields, **({"strips": strips} if strips else {})},
    )


_WORDS = {
    "uses_neutral": ("with neutral", "no neutral"), "continuous": ("continuous", ""), "managed": ("managed", ""), "interlocked": ("interlocked", ""),
    "is_motor": ("a motor", "no motor"),
}  # fmt: skip


_FIGURES = {
    "mca_a": "MCA {} A", "mocp_a": "MOCP {} A", "motor_hp": "motor {} hp", "controls": "{} controls", "duty_percent": "duty cycle {}%",
}  # fmt: skip
_WHEN = {"existing": "there now", "added": "with this job", "later": "later, reserve", "removed": "removed by this job"}


def _chips(name: str, fields: dict[str, Any], strips: float | None, known: bool) -> tuple[str, ...]:
    chips = [f"{name}{' (listed)' if known else ''}"]
    plate = fields.get("nameplate")
    if plate is not None and plate.amount is not None:
        chips.append(nameplate_text(plate).replace(" @ ", " at ") + " V")
    for field, words in _FIGURES.items():
        if field in fields:
            chips.append(words.format(f"{fields[field]:g}"))
    chips += [words[0 if fields[field] else 1] for field, words in _WORDS.items() if field in fields]
    if strips is not None:
        chips.append(f"heat strips {strips:g} kW")
    if "when" in fields:
        chips.append(_WHEN[fields["when"]])
    if fields.get("room"):
        chips.append(fields["room"])
    return tuple(chip for chip in chips if chip)
