"""The catalogue of findings: every kind is well said, every use of it fits, and what is not is found when it is read."""

from __future__ import annotations

import ast
from pathlib import Path
from typing import Any

import pytest

from robust_ledger.codebook.codebook import EDITIONS, load_codebook
from robust_ledger.findings import CatalogueError, Findings, catalogue
from robust_ledger.findings.catalogue import COUNT, filled, read, wanted
from robust_ledger.ledger.entry import Citation, Entry, Severity
from robust_ledger.ledger.place import Place

SRC = Path(__file__).parents[2] / "src" / "robust_ledger"
OWN = {"at", "of", "key", "severity", "rules", "cites", "kind"}  # of the maker, not of the words


class Book:
    """Cites whatever it is asked for."""

    def cite(self, rule: str) -> Citation:
        return Citation(rule, "2023")


MAKER = Findings(Book(), "bench")


def uses() -> list[tuple[str, Any]]:
    """Every call of the maker with the name of a kind, and where it stands."""
    return [
        (f"{path.relative_to(SRC)}:{node.lineno}", node)
        for path in sorted(SRC.rglob("*.py"))
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Call)
        and node.args
        and ast.unparse(node.func).rpartition(".")[2] in ("find", "mine", "seen")
        and isinstance(node.args[0], ast.Constant)
        and str(node.args[0].value) in catalogue()
    ]


def test_every_use_gives_the_values_that_its_words_have_places_for():
    for where, call in uses():
        name, given = call.args[0].value, {one.arg for one in call.keywords} - OWN
        assert given - {COUNT} == wanted(name), f"{where} {name}"
        counted = any("{count" in text or "|" in text for text in catalogue()[name].texts())
        assert COUNT not in given or counted, f"{where} {name} counts for nothing"


def test_every_kind_is_used_and_every_name_of_one_is_there():
    strings = {
        node.value
        for path in SRC.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Constant) and isinstance(node.value, str)
    }
    assert set(catalogue()) <= strings


def test_every_rule_is_one_of_an_edition():
    known = {rule for edition in EDITIONS for rule in load_codebook(edition).keys("rules")}
    cited = {rule for kind in catalogue().values() for rule in kind.every_rule()}
    assert cited - known == set()


def test_a_kind_read_alone_is_the_kind_of_the_whole_file():
    whole = [one for page in (SRC / "findings").glob("*.toml") for one in read(page.read_text("utf-8"), page.name)]
    assert dict(whole) == dict(catalogue()) and len(whole) > 240


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("[a.b]\nseverity = 'LOUD'\ntitle = 't'\ntext = 't'\nremedy = 'r'", "x.toml: a.b: LOUD is no severity"),
        ("[a.b]\nseverity = 'FIX'\ntitle = 't'\ntext = 't'\nremdy = 'r'", "x.toml: a.b: Object contains unknown field `remdy`"),
        ("[a.b]\nseverity = 'FIX'\ntitle = '{n:q}'\ntext = 't'\nremedy = 'r'", "x.toml: a.b: '{n:q}': {n:q} is no place for a value"),
        ("[a.b]\nseverity = 'FIX'\ntitle = '{n.x}'\ntext = 't'\nremedy = 'r'", "x.toml: a.b: '{n.x}': {n.x:} is no place for a value"),
        ("[a.b]\nseverity = 'FIX'\ntitle = '{n:g} {n}'\ntext = 't'\nremedy = 'r'", "x.toml: a.b: n is a number here and words there"),
        ("[a.b]\nseverity = 'FIX'\ntitle = {on = 't'}\ntext = 't'\nremedy = 'r'", "x.toml: a.b: a table that does not end in 'otherwise'"),
        ("[a.b", "x.toml: Expected ']' at the end of a table declaration (at end of document)"),
    ],
)  # fmt: skip
def test_a_fault_is_named_with_its_kind_when_the_catalogue_is_read(text, said):
    with pytest.raises(CatalogueError) as fault:
        list(read(text, "x.toml"))
    assert str(fault.value) == said


@pytest.mark.parametrize(
    ("name", "values", "said"),
    [
        ("feeder.nothing", {}, "no finding is called feeder.nothing"),
        ("feeder.aic", {"name": "barn"}, "feeder.aic: its words and its values differ in aic_a, fault, next_aic"),
        ("feeder.bus_breaker", {"panel": "barn", "bus_a": "60", "rating_a": 100}, "'60' is no number"),
        ("branch.no_circuit", {"load": None}, "None is neither words nor a count, nor an entry"),
        ("branch.capped", {"severity": Severity.STOP}, "branch.capped: its severity is that of the catalogue"),
        ("day.volts", {"words": "a", "reason": "b", "do": "c"}, "day.volts: its severity is not given"),
    ],
)
def test_a_use_that_does_not_fit_raises_where_it_is_written(name, values, said):
    with pytest.raises(CatalogueError) as fault:
        MAKER.find(name, **values)
    assert str(fault.value) == said


def test_a_finding_says_its_values_and_cites_its_rules():
    fault = Entry("feeder.barn.fault", "fault", 9200, "A")
    made = Findings(Book(), "service", "feeder.barn").find(
        "feeder.aic", at=Place("panels:barn"), name="barn", fault=fault, aic_a=5000, next_aic=10000
    )
    assert (made.id, made.severity, made.place) == ("feeder.barn.aic", Severity.STOP, "panels:barn")
    assert made.title == "Available fault current at the barn above its rating"
    assert made.text == "9,200 A against 5,000 A."
    assert [cite.section for cite in made.cites] == ["interrupting_rating"]


def test_a_word_hangs_on_a_fact_and_so_does_the_severity():
    known, asked = (MAKER.find("grounding.splice", known=known) for known in (True, False))
    assert (known.severity, known.title) == (Severity.FIX, "GEC is spliced")
    assert (asked.severity, asked.title) == (Severity.ASK, "GEC: not checked for splices")


def test_one_and_several_are_said_as_people_say_them():
    one, three = (MAKER.find("panel.knockouts", side="top", words="tag 4", count=count) for count in (1, 3))
    assert one.title == "1 cable finds no knockout at the top"
    assert three.title == "3 cables find no knockout at the top"
    tagged = MAKER.about(Place("circuit:3"), "tag:3", "Tag 3").find("branch.white_hot")
    assert (tagged.title, tagged.several) == (
        "Tag 3 has a white wire used as a hot",
        ("Tags ", " have a white wire used as a hot"),
    )


@pytest.mark.parametrize(("spec", "said"), [("", "Tag 3 feeds"), ("up", "Tag 3 feeds"), ("low", "tag 3 feeds")])
def test_a_value_begins_a_sentence_or_stands_within_one(spec, said):
    assert filled(f"{{words:{spec}}}" if spec else "{words}", {"words": "Tag 3 feeds"}) == said
