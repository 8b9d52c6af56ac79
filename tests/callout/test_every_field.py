"""Every field of the job can be said, or there is a reason why it never is; and what can be said by its name is read on its stage."""

from __future__ import annotations

import pytest
from how_well_read import FOLDER
from msgspec.structs import replace

from robust_ledger.callout.frame_fields import plain_choices, plain_rows, table
from robust_ledger.callout.frame_lexicon import lexicon
from robust_ledger.callout.frames import UNSURE_NEVER
from robust_ledger.callout.phrases import vocabulary
from robust_ledger.callout.stages import GRAMMARS, Context, read_line
from robust_ledger.codebook.codebook import load_codebook
from robust_ledger.job.fields import every_path, field_at
from robust_ledger.job.files import read_job
from robust_ledger.job.job import Job
from robust_ledger.job.parts.panel_tree import Panel
from robust_ledger.plan import plan

BOOK = load_codebook("2023")
DATA = table()


def framed() -> set[str]:
    """The fields that frames and phrases set."""
    made = {path for frame in lexicon().frames for path in (*frame.fields, *frame.also)}
    made |= {f"panels.{path}" for frame in lexicon().node_rows for path in (*frame.fields, *frame.also)}
    for stage in ("walkthrough", "service", "house"):
        made |= {path for phrase in vocabulary(stage).phrases for path in phrase.value}
    return made


def within(path: str, heads) -> bool:
    return any(path == head or path.startswith(f"{head}.") for head in heads)


def test_every_field_is_sayable_or_says_why_not():
    said = framed()
    silent = [
        path
        for path in every_path()
        if not field_at(path).is_part
        and path not in said
        and not within(path, DATA["grammar"])
        and not within(path, DATA["never"])
    ]
    assert silent == []


def test_what_is_never_written_unsure_are_fields():
    names = {path.rpartition(".")[2] for path in every_path()}
    assert names >= UNSURE_NEVER


def test_what_is_told_back_is_a_field_that_can_be_said():
    said = framed()
    assert [path for path in DATA["told"] if path not in said] == []


def test_no_reason_is_stale():
    said, paths = framed(), set(every_path())
    for path in (*DATA["never"], *DATA["grammar"]):
        assert path in paths, path
    told = [path for path in DATA["never"] if path in said]
    assert told == [], "these can be said"
    assert set(DATA["grammar"].values()) <= set(GRAMMARS)


SAMPLES = {"amps": "60 amps", "inches": "12 inches", "feet": "20 feet", "count": "3", "number": "9", "fahrenheit": "95 degrees", "kilo": "10,000",
           "conductor": "2 copper", "trade": "2 inch", "clock_day": "noon", "area": "900"}  # fmt: skip


@pytest.mark.parametrize("row", plain_rows(), ids=lambda row: row["field"])
def test_a_field_is_said_by_its_name_in_either_order(row):
    """And what is said of it comes out as it was meant; a denial turns a yes round."""
    path, stage = row["field"], row["on"][0]
    name = DATA["plain"][path][0]
    if "is" in row:
        for words, meant in ((name, True), (f"no {name}", False)):
            assert read_line(words, Context(Job(), BOOK), stage).facts == {path: meant}, words
        return
    kind = row["value"]
    if kind.startswith("plain."):
        for value, words in plain_choices()[kind].items():
            made = read_line(f"{name} {words[0]}", Context(Job(), BOOK), stage)
            assert made.facts.get(path) == value and made.edit is not None, (name, words[0], made)
        return
    made = read_line(f"{name} {SAMPLES[kind]}", Context(Job(), BOOK), stage)
    turned = read_line(f"{SAMPLES[kind]} {name}", Context(Job(), BOOK), stage)
    assert made.facts.keys() == {path} and made.edit is not None, made
    assert turned.facts.get(path, made.facts[path]) == made.facts[path]


GARAGE = replace(Job(), panels=(Panel(id="garage", name="garage"),))


@pytest.mark.parametrize(
    ("line", "field", "value"),
    [
        ("the garage panel is a transfer switch", "kind", "transfer"),
        ("garage panel is taken out", "gone", True),
        ("garage panel is fed by feed through lugs", "fed_by", "lugs"),
        ("there is a metal pipe between the buildings at the garage panel", "metal_path", True),
        ("no metal path to the garage panel", "metal_path", False),
        ("garage sub has its own main", "disconnect", True),
        ("garage panel carries 40 amps", "load_a", 40.0),
        ("garage feeder neutral is 8 aluminum", "found_neutral", "8 Al"),
        ("garage ground rod wire is 6 copper", "found_gec", "6 Cu"),
    ],
)
def test_fields_of_a_node_are_said_with_its_name(line, field, value):
    made = read_line(line, Context(GARAGE, BOOK), "service")
    assert made.facts == {f"panels:garage.{field}": value}
    assert getattr(made.edit(GARAGE).panel_of("garage"), field) == value


DEMO = plan(read_job(FOLDER.parents[2] / "examples" / "marrow-lane.ledger.json"))


@pytest.mark.parametrize(
    ("line", "tag", "field", "value"),
    [
        ("cap tag 9", 9, "action", "cap"),
        ("tag 9 gets a new cable", 9, "action", "new_cable"),
        ("combine 9 with 11", 9, "into", 11),
        ("refrigerator gets a 20 amp breaker", 13, "breaker_a", 20.0),
        ("protect tag 13 at the first outlet", 13, "protect_at", "first_outlet"),
        ("tag 13 has 8 receptacles", 13, "outlets", 8),
        ("13 enters at the left", 13, "new_side", "left"),
        ("new cable for 13 is 40 feet", 13, "cable_ft", 40.0),
    ],
)
def test_what_becomes_of_a_circuit_is_said_at_the_bench(line, tag, field, value):
    made = read_line(line, Context(DEMO.job, DEMO.codebook, DEMO), "bench")
    assert made.certainty == "sure", made
    changes = made.edit(DEMO.job).decisions.circuits
    assert [getattr(one, field) for key, one in changes.items() if key == f"tag:{tag}"] == [value]


def test_futures_are_said_by_their_name_and_grow_line_by_line():
    job = Job()
    for line in (
        "future shop",
        "the future shop, welder 50 amp two pole",
        "future shop adds 300 square feet",
        "future shop, no spaces for it",
        "someday a second unit, adds 1 unit",
    ):
        made = read_line(line, Context(job, BOOK), "load")
        assert made.certainty == "sure", made
        job = made.edit(job)
    shop, unit = job.futures
    assert (shop.name, shop.area, shop.reserve, unit.name, unit.units) == ("shop", 300, False, "second unit", 1)
    (welder,) = shop.circuits
    assert (welder.name, welder.poles, welder.breaker_a) == ("welder", 2, 50)
    gone = read_line("the future shop is off", Context(job, BOOK), "load")
    assert [one.name for one in gone.edit(job).futures] == ["second unit"]
