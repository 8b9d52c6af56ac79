"""How well lines of the corpus are read: right, asked, refused, wrong, by stage and voice. `--wrong` lists what is not right; words name the
files, "strangers"."""

from __future__ import annotations

import re
import sys
from collections import Counter
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.callout import number_words
from robust_ledger.callout.spoken import Spoken
from robust_ledger.callout.stages import Context, read_line
from robust_ledger.codebook.codebook import Codebook, load_codebook
from robust_ledger.job.job import Job
from robust_ledger.plan import Plan, plan

FOLDER = Path(__file__).parent.parent / "tests" / "callout" / "speech"
OUTCOMES = ("right", "asked", "refused", "wrong")


IMPLIED = {"dwelling.area_unit"}  # what a unit says of itself


class Line(Struct, frozen=True):
    """A line of the corpus: where it is said and by whom, and the facts it stands for, as they are written."""

    stage: str
    voice: str
    said: str
    facts: dict[str, str]
    terse: str = ""  # the line that says the same, where it is more than a few facts; "!": it must be asked or refused


def _rows(path: Path) -> Iterator[tuple[str, str, str, str]]:
    """The rows of a file: voice, stage, what is said, what it stands for. Raises ValueError for one that is none."""
    voice = ""
    for text in path.read_text("utf-8").splitlines():
        if text.startswith("## "):
            voice = text[3:]
        elif text and not text.startswith("#"):
            stage, said, facts = (part.strip() for part in text.split("|"))
            yield voice, stage, said, facts


def lines_of(path: Path) -> Iterator[Line]:
    """The lines of a file. Raises ValueError for one that is none."""
    for voice, stage, said, facts in _rows(path):
        if facts.startswith("=> "):
            yield Line(stage, voice, said, {}, facts[3:])
            continue
        pairs = (fact.split(" = ") for fact in facts.split("; "))
        yield Line(stage, voice, said, dict(pairs))  # type: ignore[arg-type]


def written(value: Any) -> str:
    """A value as the corpus writes it."""
    if isinstance(value, bool):
        return "true" if value else "false"
    return f"{value:g}" if isinstance(value, float | int) else str(value)


def changed(made: Spoken, job: Job) -> dict[str, str]:
    """What a reading would write down, by its place."""
    if made.edit is None:
        return {}
    before, after = _flat(job.as_data()), _flat(made.edit(job).as_data())
    return {key: written(value) for key, value in after.items() if before.get(key) != value}


def _flat(data: Any, at: str = "") -> dict[str, Any]:
    if isinstance(data, dict):
        made: dict[str, Any] = {}
        for key, value in data.items():
            made |= _flat(value, f"{at}.{key}" if at else str(key))
        return made
    return {at: data}


def outcome(line: Line) -> tuple[str, dict[str, str]]:
    """How a line came out, and what was read."""
    blank, codebook, planned = _before()
    made = read_line(line.said, Context(blank, codebook, planned), line.stage)
    if line.terse:
        return _beside(line, made, blank)
    read = {path: written(value) for path, value in made.facts.items() if "." in path} if made.complete else {}
    if not read and made.complete and made.edit is not None:
        read = changed(made, blank)
    if made.certainty in ("refused", "asked"):
        return made.certainty, read
    after = _flat(made.edit(blank).as_data()) if made.edit is not None else {}
    read = {path: written(value) for path, value in after.items() if path in line.facts} | read
    same = all(_same(read.get(path, ""), value) for path, value in line.facts.items())
    return ("right" if same and set(read) <= set(line.facts) | IMPLIED else "wrong"), read


def _beside(line: Line, made: Spoken, job: Job) -> tuple[str, dict[str, str]]:
    """How a line came out beside the terse one that says the same."""
    sure = made.certainty in ("sure", "likely")
    read = changed(made, job) if made.complete else {}
    if line.terse == "!":
        return ("wrong" if sure else "right"), read
    if not sure:
        return made.certainty, read
    meant = read_line(line.terse, Context(job, load_codebook(job.edition), plan(job)), line.stage)
    if meant.edit is None or made.edit is None:
        raise ValueError(f'"{line.terse}" is no line of {line.stage}.')
    return ("right" if _nameless(made.edit(job)) == _nameless(meant.edit(job)) else "wrong"), read


FIGURES: dict[str, tuple[float, ...]] = {
    "amps": (60, 100, 125, 150, 200, 225, 400), "inches": (30, 42, 48.5, 55, 60.25, 66, 72), "feet": (8, 9.5, 12, 13.5, 15, 18, 20),
    "count": (1, 2, 3, 4), "va": (1200, 1500, 2400, 3850, 4500, 5600, 11200), "area": (940, 1200, 1480, 1850, 2150, 3075),
    "kilo": (5000, 10000, 14000, 22000, 42000), "kva": (15, 25, 37.5, 50, 100), "clock": (7, 7.5, 8, 8.25),
}  # fmt: skip
SIZES = ("6 Cu", "4 Cu", "2 Cu", "1/0 Cu", "2 Al", "1/0 Al", "2/0 Al", "4/0 Al", "250 kcmil Al")
ONES = tuple(word for word, number in number_words.ONES.items() if number < 20 and word != "oh")
TENS = ("zero", "ten", *(word for word in number_words.TENS if word != "fourty"))
_PARTS = {0.25: "and a quarter", 0.5: "and a half", 0.75: "and three quarters"}


def in_words(number: float) -> str:
    """A number as it is said: "thirteen and a half", "four thousand five hundred"."""
    whole, part = int(number), round(number - int(number), 3)
    made = []
    if whole >= 1000:
        made, whole = [in_words(whole // 1000), "thousand"], whole % 1000
    if whole >= 100:
        made, whole = [*made, ONES[whole // 100], "hundred"], whole % 100
    if whole >= 20:
        made, whole = [*made, TENS[whole // 10]], whole % 10
    if whole or not made:
        made.append(ONES[whole])
    return " ".join([*made, _PARTS[part]] if part else made)


def _said(kind: str, value: float | str) -> tuple[str, ...]:
    """The ways to say a figure."""
    if kind == "size":
        size, *_kcmil, metal = str(value).split()
        name = {"Cu": "copper", "Al": "aluminum"}[metal]
        aught = f"{in_words(float(size[0]))} aught {name}" if "/" in size else f"number {in_words(float(size))} {name}"
        return (f"{size} {name}", f"#{size} {metal.lower()}" if "/" not in size else f"{size} {metal.lower()}", aught)
    number = float(value)
    if kind == "clock":
        hour, minutes = int(number), round(60 * (number % 1))
        return (f"{hour}:{minutes:02d}", f"{in_words(hour)} {in_words(minutes)}" if minutes else in_words(hour))
    return (f"{number:,.10g}" if number >= 10000 else f"{number:.10g}", in_words(number))


def filled(path: Path) -> Iterator[tuple[bool, Line]]:
    """The sentences of a file with figures of every kind, each with whether it judges."""
    for voice, stage, sentence, facts in _rows(path):
        match = re.search(r"\{([a-z]+)\}", sentence)
        kind = match[1] if match else ""
        joined = sentence[match.end() :][:1].isalpha() if match else False
        for value in SIZES if kind == "size" else FIGURES[kind]:
            for said in _said(kind, value)[: 1 if joined else 3]:
                line = sentence.replace(f"{{{kind}}}", said)
                if facts.startswith("=> "):
                    terse = facts[3:].replace(f"{{{kind}}}", f"{value}")
                    yield "judges" in voice, Line(stage, voice, line, {}, terse)
                    continue
                path_, meant = facts.split(" = ")
                yield "judges" in voice, Line(stage, voice, line, {path_: _meant(meant, kind, value)})


def _meant(text: str, kind: str, value: float | str) -> str:
    if kind == "clock":
        hour, minutes = int(float(value)), round(60 * (float(value) % 1))
        return text.replace("{clock}", f"{hour}:{minutes:02d}")
    if "*12" in text:
        return f"{float(value) * 12:g}"
    return text.replace(f"{{{kind}}}", value if isinstance(value, str) else f"{value:g}")


def _nameless(job: Job) -> Job:
    """A job whose loads are told by what they are: "garbage disposal" and "disposal" are one."""
    return replace(job, loads=tuple(replace(load, id="", name="") for load in job.loads))


@cache
def _before() -> tuple[Job, Codebook, Plan]:
    """The empty job that a line is said to."""
    job = Job()
    return job, load_codebook(job.edition), plan(job)


def _same(read: str, meant: str) -> bool:
    return read.replace("\xa0", " ").lower() == meant.lower()


def parts() -> dict[str, list[Line]]:
    """The whole corpus of facts by part: what led to words, and what judges them."""
    made = {path.stem: list(lines_of(path)) for path in sorted(FOLDER.glob("fields_*.txt"))}
    sentences = list(filled(FOLDER / "sentences.txt"))
    made["sentences_made_from"] = [line for judges, line in sentences if not judges]
    made["sentences_judging"] = [line for judges, line in sentences if judges]
    return made


def main(*arguments: str) -> None:
    wanted = [word for word in arguments if not word.startswith("--")]
    for name, lines in parts().items():
        if wanted and not any(word in name for word in wanted):
            continue
        counts: dict[str, Counter[str]] = {}
        for line in lines:
            how, read = outcome(line)
            for key in ("all", f"voice {line.voice}", f"stage {line.stage}"):
                counts.setdefault(key, Counter())[how] += 1
            if "--wrong" in arguments and how != "right":
                print(f"  {how:8} {line.stage}: {line.said!r}  meant {line.facts or line.terse}  read {read}")
        print(name)
        for key, found in counts.items():
            whole = sum(found.values())
            print(f"  {key:24} {whole:4}  " + "  ".join(f"{one} {found[one] / whole:.0%}" for one in OUTCOMES))


if __name__ == "__main__":
    main(*sys.argv[1:])
