"""A whole call-out session from lines of text: dictated, kept in a file, or pasted from a spreadsheet."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

from msgspec import Struct

from robust_ledger.callout.manifest import LINES, stage_named
from robust_ledger.callout.spoken import Spoken
from robust_ledger.callout.stages import Context, read_line
from robust_ledger.callout.text import callout_text
from robust_ledger.codebook.codebook import Codebook
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.ledger.text import lower_first
from robust_ledger.load.edition import codebook_of
from robust_ledger.plan import Plan


class Outcome(Struct, frozen=True):
    """What came of one line: which stage understood it, the tag it made or changed and how it was understood, or why it was left.
    `asked`: what is to be answered first; `rival`: another way to read it; `struck`: words that were not understood; `certainty`: sure,
    likely (written down, though a word of it was not understood), asked or refused (nothing was written); `facts`: what it says, by its place."""

    number: int
    text: str
    tag: int | None
    fault: str = ""
    made: str = ""
    stage: str = ""
    asked: tuple[str, ...] = ()
    rival: str = ""
    struck: tuple[str, ...] = ()
    certainty: str = "sure"
    facts: Mapping[str, object] = {}


class Session:
    """Lines said one after the other: a heading changes the stage, "scratch that" takes the last one back, "no, thirty" corrects it. Nobody is there
    to be asked: a doubtful line is left, unless `take` takes the first reading of it."""

    def __init__(self, job: Job, codebook: Codebook, stage: str = "", take: bool = False) -> None:
        self.job, self.codebook, self.stage, self.take = job, codebook, stage, take
        self.before: list[Job] = []
        self.last_tag: int | None = job.circuits[-1].tag if job.circuits else None
        self.last: Spoken | None = None
        self.made: Plan | None = None  # of the job as it was when a line last asked for it

    def _context(self) -> Context:
        """What the next line is read against. The lines of a day follow each other quickly, and change nothing but its record."""
        made = self.made.on_the_day(self.job) if self.made is not None else None
        return Context(self.job, self.codebook, made, self.last_tag, self.last)

    def say(self, number: int, text: str) -> Outcome:
        """Take a line up; one that cannot be read changes nothing."""
        if (stage := stage_named(text)) is not None:
            self.stage = stage
            return Outcome(number, text, None, made=f"on {stage} from here", stage=stage)
        context = self._context()
        spoken = read_line(text, context, self.stage)
        self.made = context.made
        struck = tuple(text[start:end] for start, end in (*spoken.struck, *spoken.passed))
        asked, rival = spoken.asks, " · ".join(spoken.rival.understood) if spoken.rival else ""
        if spoken.order is not None:
            return self._ordered(number, text, spoken)
        if spoken.edit is None or spoken.fault is not None:
            fault = spoken.fault.text if spoken.fault else "nothing of this is understood here"
            return Outcome(
                number, text, None, lower_first(fault), stage=spoken.stage, struck=struck, certainty="refused"
            )
        first = " · ".join(spoken.understood)
        if spoken.doubtful and (spoken.struck or not self.take):
            why = [*(f'not understood: "{word}"' for word in struck), *asked]
            why += [f"{first}, or {rival}?"] if rival else []
            told = f"{'; '.join(why).rstrip('.')}."
            return Outcome(number, text, None, told, first, spoken.stage, asked, rival, struck, "asked", spoken.facts)
        edit, follows = spoken.edit, spoken.follows
        if (problem := self._take(edit if follows is None else lambda job: follows(edit(job)))) is not None:
            return Outcome(number, text, None, problem, stage=spoken.stage, certainty="refused")
        self.last = spoken
        tag, made = self._tag_of(spoken), first
        if tag is not None and (circuit := self.job.circuit(tag)) is not None:
            made = callout_text(circuit, self.job)
        certainty = "likely" if spoken.certainty == "likely" else "sure"
        return Outcome(number, text, tag, "", made, spoken.stage, asked, rival, struck, certainty, spoken.facts)

    def _tag_of(self, spoken: Spoken) -> int | None:
        tag = spoken.place.removeprefix("circuit:") if spoken.place.startswith("circuit:") else ""
        if tag:
            self.last_tag = int(tag)
            return int(tag)
        return None

    def _take(self, edit: Callable[[Job], Job]) -> str | None:
        """Make an edit; the reason when the job cannot hold it."""
        try:
            after = edit(self.job).checked(self.job)
        except ModelError as fault:
            return f"{fault.sentence}."
        self.before.append(self.job)
        if after.edition != self.job.edition:
            self.codebook = codebook_of(after)
        self.job = after
        return None

    def _ordered(self, number: int, text: str, spoken: Spoken) -> Outcome:
        order = spoken.order
        if order is not None and order.name == "undo":
            if not self.before:
                return Outcome(number, text, None, "there is nothing to take back.", certainty="refused")
            self.job = self.before.pop()
            self.last_tag = self.job.circuits[-1].tag if self.job.circuits else None
            return Outcome(number, text, None, made="taken back", stage=spoken.stage)
        if order is not None and order.name == "go" and order.about in LINES:
            self.stage = order.about
            return Outcome(number, text, None, made=f"on {order.about} from here", stage=order.about)
        words = (
            "arranging takes a command of its own" if order and order.name == "arrange" else "that is shown on the desk"
        )
        return Outcome(number, text, None, f"{words}.", stage=spoken.stage, certainty="refused")


def replay(
    lines: Iterable[str], job: Job, codebook: Codebook, stage: str = "pulloff", take: bool = False
) -> tuple[Job, list[Outcome]]:
    """Take lines up one after the other; blank ones and those that begin with # are passed over. Without a stage each line goes to the one
    that understands it best, until a heading line like "load:" names one. A line that cannot be read changes nothing, and the next goes on; nor does
    one that asks, unless `take`."""
    session, made = Session(job, codebook, stage, take), []
    for number, line in enumerate(lines, 1):
        text = line.strip().removeprefix("\ufeff")
        if text and not text.startswith("# "):
            made.append(session.say(number, text))
    return session.job, made


def lines_of_rows(text: str) -> list[str]:
    """Rows from a spreadsheet as call-out lines. With a head of our names the columns are taken by it, otherwise each row's
    cells are one line; a tag that is not there yet is a new circuit."""
    rows = [row.split("\t") for row in text.replace("\r\n", "\n").replace("\r", "\n").split("\n")]
    head = [cell.strip().lower() for cell in rows[0]] if rows else []
    if "space" not in head or "breaker" not in head:
        return [" ".join(cell.strip() for cell in row if cell.strip()) for row in rows]
    lines = [""]
    for row in rows[1:]:
        cells = {name: cell.strip().removeprefix("'") for name, cell in zip(head, row, strict=False)}
        if not any(cells.values()):
            lines.append("")
            continue
        poles = cells.get("poles", "")
        amps = cells.get("breaker") or "?"
        gauge = cells.get("gauge") or "?"
        metal = "al" if cells.get("metal", "").lower() == "al" and gauge != "?" else ""
        wires = f"-{cells['wires']}" if cells.get("wires") and gauge != "?" else ""
        feeds = cells.get("feeds", "").replace('"', "'")
        parts = [
            cells.get("space") or "-",
            f"{amps}/{poles}" if poles not in ("", "1") else amps,
            gauge + wires + metal,
            f'"{feeds}"' if feeds else "",
            cells.get("rest", ""),
        ]
        lines.append(" ".join(part for part in parts if part))
    return lines
