"""A score in words, and the instructor's table of many."""

from __future__ import annotations

import secrets
from collections.abc import Iterator
from pathlib import Path

from robust_ledger.job.files import SUFFIX, JobFileError, read_job
from robust_ledger.practice.codes import SEEDS, Code, PracticeError, read_code
from robust_ledger.practice.exercise import panel_of
from robust_ledger.practice.house import TRAPS
from robust_ledger.practice.score import Score, scored


def score_lines(score: Score) -> list[str]:
    """The score, a line each."""
    lines = [f"Practice {score.code}: {score.points} of 100"]
    lines += [f"  {part.name} {part.points:.0f} of {part.most}: {part.how}" for part in score.parts]
    lines += [f"  the trap in the load: {trap}"] if (trap := trap_words(score)) else []
    for head, verdicts in (("Found", score.found), ("MISSED", score.missed), ("Invented", score.invented)):
        lines += [f"{head}: {len(verdicts)}"] if verdicts else []
        for one in verdicts:
            only = " (called out, not named)" if head == "Found" and not one.named else ""
            lines.append(f"  {one.where}{one.words}{only}. {one.why}" + (f" [{one.sections}]" if one.sections else ""))
            lines += [f"    to be seen: {one.seen}.", f"    {one.harm}"] if one.harm else []
    lines += [f"Misread: {len(score.misread)}"] if score.misread else []
    lines += [f"  {one.where}{one.words}" for one in score.misread]
    if score.ordered is not None and score.ordered.wrong:
        lines += ["Dark hours:", *(f"  {one}" for one in score.ordered.wrong)]
    return [*lines, *time_lines(score)]


def time_lines(score: Score) -> list[str]:
    """How long it took, where that is known, and how fast the circuits were called out."""
    if score.minutes is None:
        return []
    speed = f", {score.circuits_a_minute:.1f} circuits a minute" if score.circuits_a_minute else ""
    over = f", {score.over_min:.0f} min past the clock" if score.over_min else ""
    return [f"Time: {score.minutes:.0f} min{speed}{over}"]


def trap_words(score: Score) -> str:
    """What the trap in the load was; empty where there was none. Raises PracticeError for a code that is none."""
    house = panel_of(read_code(score.code)).house
    return TRAPS[house.trap] if house is not None and house.trap else ""


RESULT_COLUMNS = ("file", "code", "points", "found", "missed", "invented", "misread", "minutes", "why not")


def class_codes(level: int, many: int) -> list[list[str]]:
    """A table of new codes of a level for a class, its head first."""
    codes = [str(Code(level, secrets.randbelow(SEEDS))) for _ in range(many)]
    return [["number", "code"], *([str(number), code] for number, code in enumerate(codes, 1))]


def result_rows(folder: Path) -> Iterator[list[str]]:
    """A row for each job in a folder, for the instructor, behind the head: its points, or why it has none."""
    yield list(RESULT_COLUMNS)
    for path in sorted(folder.glob(f"*{SUFFIX}")):
        try:
            job = read_job(path)
            score = scored(job)
        except (PracticeError, JobFileError) as problem:
            yield [path.name, "", "", "", "", "", "", "", str(problem)]
            continue
        yield [path.name, *result_cells(score), ""]


def result_cells(score: Score) -> list[str]:
    """Code, points, found, missed, invented, misread, minutes."""
    counts = (score.points, *(len(one) for one in (score.found, score.missed, score.invented, score.misread)))
    return [score.code, *map(str, counts), "" if score.minutes is None else f"{score.minutes:.1f}"]
