"""Lines about what is there already: "same again but kitchen right", "tag 7 is ten gauge", "no, thirty", "not seven, eleven", "delete tag one",
"both of those are double tapped"; of facts, of loads and of circuits."""

from __future__ import annotations

import re
from collections.abc import Sequence

from msgspec.structs import replace

from robust_ledger.branch.old_panel import first_free_position
from robust_ledger.callout.circuit import Reading, read_callout, read_change
from robust_ledger.callout.circuit_readers import read_size, read_spaces
from robust_ledger.callout.fields import METALS, spoken_facts
from robust_ledger.callout.frame_lexicon import called, lexicon
from robust_ledger.callout.frames import is_safety, read_frames, read_values
from robust_ledger.callout.loads import read_load
from robust_ledger.callout.numbers import numbers_at
from robust_ledger.callout.phrases import read_count
from robust_ledger.callout.spoken import Fault, Spoken
from robust_ledger.callout.text import callout_text
from robust_ledger.callout.tokens import Token, tokens_of
from robust_ledger.callout.writing import corrected, of_reading
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.edits import remove_circuits
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.house import Nameplate

STAGE = "pulloff"
_IS = re.compile(r"(?:is|'s|has|gets|goes)\s+(.*)", re.I | re.S)
_SAID_ANEW = r"correction|make (?:that|it)|i mean|i meant|should be|change (?:that|it) to"
_NO = re.compile(rf"\s*(?:(?:no|nope|sorry|{_SAID_ANEW})[,\s]+)+(.+)", re.I | re.S)
_ANEW = re.compile(
    rf"(?:\s*(?:(?:no|nope|sorry)\s*,|(?:{_SAID_ANEW}),?))+\s*(.+)", re.I | re.S
)  # a "no" without a comma denies what follows
_NOT = re.compile(r"\s*no\s+(?:ground|idea|clue|breaker|wire|label)\b", re.I)
_INSTEAD = re.compile(r"\s*not\s+(.+?)(?:,\s*(?:but\s+|it's\s+)?|\s+but\s+)(.+)", re.I | re.S)
_SAME = re.compile(
    r"\s*same(?:\s+(?:again|thing|as\s+(?:before|that|the\s+last(?:\s+one)?)))?[,\s]*(?:but|only|except|for)?\s*(.*)",
    re.I | re.S,
)
_BOTH = re.compile(
    r"\s*(?:both|both\s+of\s+(?:those|them)|those\s+two|the\s+last\s+two)\s+(?:are|were|have|is|'re)?\s*(.+)",
    re.I | re.S,
)
_GONE = ("delete", "remove", "strike", "erase", "drop")


def read_correction(line: str, job: Job, codebook: Codebook, last: int | None) -> Spoken | None:
    """Read a line as being about a circuit that is there; None where it is about another matter. `last`: tag of the one that was said
    last."""
    if (same := _SAME.fullmatch(line)) and line.split()[0].lower() == "same":
        return _repeated(line, same[1], job, codebook)
    if (named := _tag_named(line)) is not None:
        return _of_tag(line, *named, job, codebook)
    if (gone := _dropped(line, job, last)) is not None:
        return gone
    if last is None or job.circuit(last) is None:
        return None
    if both := _BOTH.fullmatch(line):
        return _both(both[1], line, job, codebook, last)
    if instead := _INSTEAD.fullmatch(line):
        return _instead(instead[1], instead[2], line, job, codebook, last)
    if (match := _NO.fullmatch(line)) and not _NOT.match(line):
        return _changed(match[1], line, job, codebook, last)
    return None


def read_again(line: str, job: Job, codebook: Codebook, said: Spoken | None) -> Spoken | None:
    """Read a line as saying anew what was said last of a stage of facts: "no, one fifty", "make that copper"; None where it does not."""
    match = _ANEW.fullmatch(line) or _INSTEAD.fullmatch(line)
    if said is None or match is None or not said.facts or said.stage == STAGE:
        return None
    rest = match[match.lastindex or 1]
    if said.stage == "load" and "name" in said.facts:
        made = read_load(f"{said.facts['name']} {rest}{_unit_of(rest, said)}", job, codebook)
    else:
        of_metal = _other_metal(rest, said)
        made = (
            spoken_facts(of_metal, (), 0.0, line, job, codebook, "frames", said.stage)
            if of_metal
            else read_values(rest, job, codebook, said.stage, tuple(said.facts))
        )
    if made.complete and not made.struck:
        return made
    plain = re.match(r"\s*(?:no|nope|sorry|not)\b", line, re.I)
    told = ", ".join(said.understood)
    fault = Fault(f"That corrects nothing of what was said last: {told}.", 0, len(line))
    return None if plain else Spoken(said.stage, fault=fault)


def _unit_of(rest: str, said: Spoken) -> str:
    """The unit of the rating that was said last, where a bare number is said anew."""
    plate, tokens = said.facts.get("nameplate"), tokens_of(rest)
    bare = any(one.after == len(tokens) for one in numbers_at(tokens, 0))
    return f" {plate.unit}" if bare and isinstance(plate, Nameplate) and plate.amount is not None else ""


def _other_metal(rest: str, said: Spoken) -> dict[str, object]:
    """The conductors that were said last, of another metal: "make that copper"."""
    words = [token.lower for token in tokens_of(rest)]
    if len(words) != 1 or words[0] not in METALS:
        return {}
    sizes = {path: Conductors.read(value) for path, value in said.facts.items() if isinstance(value, str)}
    return {path: str(Conductors(size.size, METALS[words[0]])) for path, size in sizes.items() if size is not None}


def read_on(line: str, job: Job, codebook: Codebook, said: Spoken | None) -> Spoken | None:
    """Read a line as going on about what was said last: "it's in two inch rigid" after the wires of the riser; None where it does not."""
    words = line.split()
    if said is None or not words or words[0].lower().rstrip(",") not in _IT:
        return None
    about = [frame for frame in lexicon().frames if set(frame.fields) <= said.facts.keys()]
    for concept in dict.fromkeys(concepts[0] for frame in about for concepts in frame.needs):
        made = read_frames(f"{called().get(concept, '')} {line}", job, codebook, said.stage)
        if made.certainty == "sure" and made.facts:
            asks = (f"of the {called()[concept]}?",) if any(map(is_safety, made.facts)) else ()
            return replace(made, asks=asks)
    return None


_IT = ("it", "it's", "its", "they", "they're", "that", "that's", "those", "these", "and", "also")


def _repeated(line: str, rest: str, job: Job, codebook: Codebook) -> Spoken:
    """The last circuit again in the next free space, with what is said of it otherwise."""
    if not job.circuits:
        return _refused(line, "There is no circuit yet to repeat.")
    whole = read_callout(same_as_last(job), job, codebook)
    if not rest.strip() or whole.circuit is None:
        return _whole(whole, line)
    changed = read_change(rest, job, codebook, whole.circuit.tag)
    if changed.fault is not None or not changed.said:
        return _refused(line, changed.fault.text if changed.fault else "Nothing of this is understood.")
    after = corrected(replace(job, circuits=(*job.circuits, whole.circuit)), whole.circuit.tag, changed.said)
    return _whole(read_callout(callout_text(after.circuits[-1]), job, codebook), line)


def _tag_named(line: str) -> tuple[bool, int, str] | None:
    """Whether a line begins with a tag, new or there: whether it is new, its number, and the rest."""
    tokens = tokens_of(line)
    new = bool(tokens) and tokens[0].lower == "as"
    at = int(new)
    if len(tokens) <= at + 1 or tokens[at].lower != "tag":
        return None
    if re.fullmatch(r"\d{1,9}:?", tokens[at + 1].text):
        number, after = int(tokens[at + 1].text.rstrip(":")), at + 2
    else:
        found = [one for one in numbers_at(tokens, at + 1) if one.whole and not one.loose]
        if not found:
            return None
        number, after = int(found[0].value), found[0].after
    end = tokens[after - 1].end
    return new, number, line[end:].lstrip(" :,")


def _dropped(line: str, job: Job, last: int | None) -> Spoken | None:
    """ "delete tag one", "strike that one"."""
    tokens = tokens_of(line)
    if len(tokens) < 2 or tokens[0].lower not in _GONE:
        return None
    words = [token.lower for token in tokens[1:]]
    if words in (["that", "one"], ["the", "last", "one"], ["last", "one"], ["the", "last"]):
        tag = last
    elif words[0] in ("tag", "circuit", "number"):
        tag = next((number for number, after in read_count(tokens, 1) if after == len(tokens)), None)
        if tag is None:
            return None
    else:
        return None
    if tag is None or job.circuit(tag) is None:
        return _refused(
            line, "There is no circuit to take out." if tag is None else f"There is no tag {tag} to take out."
        )
    words_ = (f"tag {tag} is taken out",)
    return Spoken(STAGE, words_, lambda job: remove_circuits(job, {tag}), f"take out tag {tag}", facts={"gone": tag})


def _both(rest: str, line: str, job: Job, codebook: Codebook, last: int) -> Spoken | None:
    """Something said of the last two circuits."""
    tags = [circuit.tag for circuit in job.circuits]
    if last not in tags or tags.index(last) == 0:
        return None
    two = (tags[tags.index(last) - 1], last)
    readings = [read_change(rest, job, codebook, tag) for tag in two]
    if any(one.fault is not None or not one.said for one in readings):
        return _refused(line, "Nothing of this is understood.")

    def edit(job: Job) -> Job:
        """The job with both circuits as said."""
        for tag, reading in zip(two, readings, strict=True):
            job = corrected(job, tag, reading.said)
        return job

    chips = (f"tags {two[0]} and {two[1]} change", *readings[0].understood)
    asks = readings[0].asks
    return Spoken(STAGE, chips, edit, f"change tags {two[0]} and {two[1]}", asks=asks, facts=readings[0].said)


def _instead(was: str, now: str, line: str, job: Job, codebook: Codebook, last: int) -> Spoken | None:
    """One figure of the last circuit for another: "not seven, eleven"."""
    circuit = job.circuit(last)
    if circuit is None:
        return None
    said = _said_of(circuit, tokens_of(was))
    if len(said) != 1:
        text = (
            f'"{was.strip()}" may be more than one of its figures; say which, like breaker 30.'
            if said
            else f"Tag {last} has no {was.strip()}."
        )
        return _refused(line, text)
    return _changed(f"{said[0]} {now}".strip(), line, job, codebook, last)


def _said_of(circuit: Circuit, was: Sequence[Token]) -> list[str]:
    """Of what in a circuit some words are the figure or the name, by the words that say so."""
    made = []
    if any("".join(spaces) == "".join(circuit.spaces) and after == len(was) for spaces, after in read_spaces(was, 0)):
        made.append("space")
    if any(one.value == circuit.breaker_a and one.after == len(was) for one in numbers_at(was, 0)):
        made.append("breaker")
    if any(size.text == circuit.gauge and after == len(was) for size, after in read_size(was, 0)):
        made.append("number")
    if " ".join(token.lower for token in was) == circuit.feeds.lower():
        made.append("")
    return made


def _of_tag(line: str, new: bool, tag: int, rest: str, job: Job, codebook: Codebook) -> Spoken:
    if not new and job.circuit(tag) is None:
        return _refused(line, f"There is no tag {tag} to change.")
    if not rest.strip():
        return Spoken(STAGE, (f"tag {tag}",), wanted=("what changes",))
    if says := _IS.fullmatch(rest):
        return _changed(says[1], line, job, codebook, tag)
    reading = read_callout(rest, job, codebook, tag)
    if new or reading.complete:
        return _whole(reading, line)
    changed = _changed(rest, line, job, codebook, tag)
    return _whole(reading, line) if changed.fault is not None and reading.fault is not None else changed


def _whole(reading: Reading, line: str) -> Spoken:
    """A circuit from a whole line that names its tag: the terse way is meant, and no other reading offered."""
    return replace(of_reading(reading, line), rival=None)


def _refused(line: str, text: str) -> Spoken:
    return Spoken(STAGE, fault=Fault(text, 0, len(line)))


def _changed(rest: str, line: str, job: Job, codebook: Codebook, tag: int) -> Spoken:
    """What is said anew of a circuit; only that changes."""
    reading = read_change(rest, job, codebook, tag)
    if reading.fault is not None or not reading.said:
        fault = reading.fault or Fault("Nothing of this is understood.", 0, len(line))
        return Spoken(STAGE, reading.understood, fault=replace(fault, start=0, end=len(line)))
    return Spoken(
        STAGE,
        (f"tag {tag} changes", *reading.understood),
        lambda job: corrected(job, tag, reading.said),
        f"change tag {tag}",
        asks=reading.asks,
        place=f"circuit:{tag}",
        facts=reading.said,
    )


def same_as_last(job: Job) -> str:
    """The line that repeats the last circuit for the next free space."""
    last = job.circuits[-1]
    spare = {"spaces": (first_free_position(job),), "shares_neutral_with": None, "clamp_a": None, "load_ids": ()}
    return callout_text(replace(last, **spare))
