"""The table of fields: what a part's annotation says is all there is, and a name that is no field raises where it is written."""

from __future__ import annotations

import ast
import tomllib
from collections.abc import Iterator
from copy import copy
from pathlib import Path
from typing import Any, Literal, get_args, get_origin

import pytest

from robust_ledger.callout import phrases
from robust_ledger.desk.kit.specs import TYPED
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.devices import FOUND, Device, DeviceKind
from robust_ledger.job.edits import with_part
from robust_ledger.job.fields import choices_at, every_path, field_at, fields_of
from robust_ledger.job.job import Job
from robust_ledger.job.parts.errors import NoFieldError

SRC = Path(__file__).parents[2] / "src" / "robust_ledger"
PATHS = tuple(every_path())


def nodes(path: Path) -> Iterator[Any]:
    """Everything in a module, as it is parsed."""
    return ast.walk(ast.parse(path.read_text()))


@pytest.mark.parametrize(
    ("path", "label", "words", "unit", "reads"),
    [
        ("existing.meter_label_a", "Meter label, A", "meter label", "A", "amps"),
        ("existing.disconnect_aic_a", "Disconnect AIC", "disconnect AIC", "A", "aic"),
        ("fit.old.width_in", "wide", "width", "in", "inches"),
        ("location.room", "Room", "room", "", "choice"),
        ("location.air_space", "¼ in of air behind it", "air space", "", "looked"),
        ("location.wet", "rain or splash reaches it", "wet", "", "tick"),
        ("panels.box.aic_a", "Panel AIC, A", "AIC", "A", "aic"),
        ("circuits.conductors", "Wires", "wires", "", "choice"),
        ("decisions.circuits.places", "Rooms", "places", "", "names"),
        ("panels.lower_in", "lower, in", "lower", "in", "signed inches"),
    ],
)
def test_a_field_says_its_words_its_unit_and_how_it_is_read(path, label, words, unit, reads):
    field = field_at(path)
    assert (field.label, field.words, field.unit, field.reads) == (label, words, unit, reads)


def test_every_field_can_be_read_in_some_way_or_is_a_part_of_its_own():
    ways = {*TYPED, "choice", "looked", "tick"}
    assert [path for path in PATHS if not field_at(path).is_part and field_at(path).reads not in ways] == []


def test_choices_are_called_by_words_for_each_value_and_for_no_other():
    """A value that a choice lacks could be in a job, and would show as nothing on its form."""
    for path in PATHS:
        field = field_at(path)
        if field.said.choices and get_origin(field.kind) is Literal:
            allowed = {*get_args(field.kind), *([None] if field.optional else [])}
            assert set(field.choices) == allowed, path


def test_a_misspelt_name_raises_where_it_is_written():
    """Before, the same job came back and nobody was told."""
    job = Job()
    with pytest.raises(NoFieldError, match="Decisions has no field mian_a"):
        with_part(job, "decisions", mian_a=200)
    with pytest.raises(NoFieldError, match=r"Location has no field location\.wett"):
        field_at("location.wett")
    assert with_part(job, "decisions", main_a=200).decisions.main_a == 200


def test_a_misspelt_field_in_the_words_of_the_line_raises_when_they_are_read(tmp_path, monkeypatch):
    folder = tmp_path / "words"
    folder.mkdir()
    (folder / "shared.toml").write_text("[lists]\n")
    (folder / "walkthrough.toml").write_text('[[phrase]]\nsets = { "location.wett" = true }\nsay = ["rain"]\n')
    monkeypatch.setattr(phrases, "FOLDER", folder)
    phrases.vocabulary.cache_clear()
    try:
        with pytest.raises(NoFieldError, match=r"location\.wett"):
            phrases.vocabulary("walkthrough")
    finally:
        phrases.vocabulary.cache_clear()


def test_every_place_that_data_and_findings_name_is_a_field_or_a_kind_of_its_own():
    """Places in the code, "fit:handle_in", lead a click to a field: a misspelt one leads nowhere."""
    parts = {name for name in Job.__struct_fields__ if name != "unknown"}
    wrong = []
    for path in SRC.rglob("*.py"):
        for node in nodes(path):
            called = isinstance(node, ast.Call) and ast.unparse(node.func) == "Place" and len(node.args) == 1
            if called and isinstance(node.args[0], ast.Constant):
                part, _, name = node.args[0].value.partition(":")
                if part in parts and name and not name.isdigit() and f"{part}.{name}" not in PATHS:
                    wrong.append(f"{path.name}:{node.lineno} {part}:{name}")
    assert wrong == []


def test_every_field_that_the_code_writes_is_one():
    """`with_part(job, "decisions", main_a=200)`: names after a part's are checked without running them."""
    items = {
        "change_circuit": "circuits",
        "change_load": "loads",
        "change_panel": "panels",
        "change_branch": "decisions.circuits",
    }
    seen = 0
    for path in SRC.rglob("*.py"):
        for node in nodes(path):
            name = ast.unparse(node.func) if isinstance(node, ast.Call) else ""
            if name == "with_part" and isinstance(node.args[1], ast.Constant):
                part = node.args[1].value
            elif name in items:
                part = items[name]
            else:
                continue
            for one in node.keywords:
                if one.arg is not None:
                    assert field_at(f"{part}.{one.arg}"), f"{path.name}:{node.lineno}"
                    seen += 1
    assert seen > 60


def test_words_of_data_set_fields_that_there_are():
    rows = [
        row
        for path in (SRC / "callout" / "words").glob("*.toml")
        for row in tomllib.loads(path.read_text("utf-8")).get("phrase", ())
    ]
    named = {path for row in rows for path in row.get("sets", {})}
    assert len(named) > 120 and all(field_at(path) for path in named)


def test_what_a_choice_is_called_is_said_once():
    assert choices_at("location.room")["closet"] == "clothes closet"
    assert list(fields_of(type(Job().location))) == list(Job().location.as_data())


@pytest.mark.parametrize(
    ("made", "text", "sets"),
    [
        (Conductors("4/0", "al"), "4/0 Al", 1),
        (Conductors("250", "cu", 2), "2 × 250 kcmil Cu", 2),
        (Conductors.worded("6", "cu", "6 Cu, or 8 Cu in conduit", "6 or 8 Cu"), "6 Cu, or 8 Cu in conduit", 1),
    ],
)
def test_conductors_are_their_own_text_and_are_copied_whole(made, text, sets):
    again = copy(made)
    assert (str(made), made.sets, again, again.sets, again.short) == (text, sets, made, sets, made.short)


def test_a_panels_list_has_every_breaker_that_can_be_planned():
    """One vocabulary: what a circuit takes is found on the list by the same words."""
    planned = {str(Device(kind, poles)) for kind in DeviceKind for poles in (1, 2)}
    assert planned | {"tandem"} == set(field_at("panel.devices").values)
    assert set(FOUND) | {"", "tandem", "quad"} == set(field_at("circuits.device").values)
    for kind in DeviceKind:
        assert DeviceKind.watching(kind.arc, kind.ground) is kind
