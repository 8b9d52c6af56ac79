"""Editions: what differs, what is inherited, and what is refused in their data."""

from __future__ import annotations

import ast
import re
import tomllib
from collections.abc import Iterator
from pathlib import Path

import pytest
from builders import JUDGED

from robust_ledger.codebook.codebook import load_codebook, parse_edition
from robust_ledger.codebook.errors import CodebookError, UnknownRuleError
from robust_ledger.ledger.editions import EDITIONS
from robust_ledger.survey.overhead import OVER_WORDS, ROOF_WORDS

SOURCE = Path(__file__).parents[2] / "src" / "robust_ledger"


@pytest.mark.parametrize(
    ("rule", "sections"),
    [
        ("general_lighting", ("220.12", "220.14(J)", "220.41")),
        ("lighting_demand", ("T220.42", "T220.42", "T220.45")),
        ("dwelling_conductors", ("310.15(B)(7)", "310.12", "310.12")),
        ("ampacity", ("T310.15(B)(16)", "T310.16", "T310.16")),
        ("ev", ("625.41", "625.41", "220.57")),
        ("fastened", ("220.53",) * 3),
        ("arc_fault", ("210.12(A)", "210.12(A)", "210.12(B)")),
        ("arc_fault_extension", ("210.12(D)", "210.12(D)", "210.12(E)")),
        ("ground_fault_appliance", ("210.8(D)", "422.5(A)", "210.8(D), 422.5")),
        ("ground_fault_crawl", ("210.8(E)", "210.8(C)", "210.8(C)")),
        ("furnace_own", ("422.12",) * 3),
        ("optional", ("220.82",) * 3),
        ("multiwire", ("210.4",) * 3),
    ],
)
def test_sections_by_edition(rule, sections):
    assert tuple(load_codebook(edition).cite(rule).section for edition in JUDGED) == sections


@pytest.mark.parametrize(
    ("key", "values"),
    [
        ("unit_lighting_load", (3, 3, 3)),
        ("unit_lighting_load_m2", (33, 33, 33)),
        ("fastened_threshold_w", (0, 500, 500)),
        ("fastened_threshold_hp", (0, 0.25, 0.25)),
        ("ev_min", (0, 0, 7200)),
        ("optional_first_va", (10000,) * 3),
        ("ground_fault_most_v", (125, 250, 250)),
        ("ground_fault_outdoor_most_a", (0, 50, 50)),
        ("ground_fault_garage_hardwired", (0, 0, 1)),
        ("outlet_va", (180,) * 3),
        ("dwelling_factor", (0.83,) * 3),
    ],
)
def test_figures_by_edition(key, values):
    assert tuple(load_codebook(edition).number(key) for edition in JUDGED) == values


def test_what_is_not_certain_says_so():
    assert load_codebook("2017").cite("noncoincident").verify
    assert str(load_codebook("2023").step("range_branch_min_a").cites[0]).endswith("(verify)")


def named() -> dict[str, set[str]]:
    """Every name of a rule or figure that the code and its data ask for, by the kind of thing it has to be."""
    found: dict[str, set[str]] = {"rules": set(), "values": set(), "tables": set()}
    kinds = {"cite": "rules", "step": "values", "number": "values", "table": "tables"}
    for path in SOURCE.rglob("*.py"):
        for call in ast.walk(ast.parse(path.read_text())):
            if not isinstance(call, ast.Call):
                continue
            if isinstance(call.func, ast.Attribute) and call.func.attr in kinds and call.args:
                book = ast.unparse(call.func.value)
                first = call.args[0]
                if book.endswith(("codebook", "book")) and isinstance(first, ast.Constant):
                    found[kinds[call.func.attr]].add(first.value)
            for one in call.keywords:
                if one.arg in ("rules", "rule") and isinstance(one.value, ast.Tuple | ast.Constant | ast.IfExp):
                    parts = (
                        [one.value]
                        if isinstance(one.value, ast.Constant)
                        else [
                            part
                            for tuple_ in ast.walk(one.value)
                            if isinstance(tuple_, ast.Tuple)
                            for part in tuple_.elts
                        ]
                    )
                    found["rules"] |= {part.value for part in parts if isinstance(part, ast.Constant)}
    for path in SOURCE.rglob("*.toml"):
        if "data" not in path.parts:
            found["rules"] |= set(_rules_in(tomllib.loads(path.read_text("utf-8"))))
    return found


def _rules_in(data: object) -> Iterator[str]:
    """What stands under `rule` and `rules` in a data file, however deep."""
    if isinstance(data, dict):
        for key, value in data.items():
            if key in ("rule", "rules"):
                yield from _words_in(value)
            else:
                yield from _rules_in(value)
    elif isinstance(data, list):
        for one in data:
            yield from _rules_in(one)


def _words_in(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    for one in value.values() if isinstance(value, dict) else value if isinstance(value, list) else ():
        yield from _words_in(one)


def test_every_rule_and_figure_that_is_asked_for_exists_in_every_edition():
    """They are strings in code and data; a misspelt one would only show when its branch is taken."""
    asked = named()
    asked["rules"] = {
        one for one in asked["rules"] if one and not one.startswith("#")
    }  # a rule is also a line on paper
    assert [len(names) > least for names, least in zip(asked.values(), (150, 60, 10), strict=True)] == [True] * 3
    for edition in EDITIONS:
        for kind, names in asked.items():
            assert names - set(load_codebook(edition).keys(kind)) == set(), f"{edition}: {kind}"


def test_every_rule_and_figure_is_used_somewhere():
    text = "\n".join(
        path.read_text()
        for ending in ("py", "toml")
        for path in SOURCE.rglob(f"*.{ending}")
        if "data" not in path.parts
    )
    book = load_codebook("2017")
    said = set(re.findall(r"\w+", text))
    unused = [key for kind in ("values", "rules", "tables") for key in book.keys(kind) if key not in said]
    built = {f"{name}_circuit{end}" for name in ("small_appliance", "laundry") for end in ("", "s_min")}
    built |= {f"drop_{over}_ft" for over in OVER_WORDS} | {f"roof_{roof}_in" for roof in ROOF_WORDS}
    built |= {f"strap_{kind}_{where}_in" for kind in ("metal", "pvc") for where in ("end", "between")}
    assert set(unused) <= built | {"unit_lighting_load", "electrode_rod_most_al"}


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ('edition = "x"\n[vales]\na = 1', "unknown section: vales"),
        (
            'parent = "2017"\n[values]\nunit_lightning_load = { value = 2, unit = "VA", section = "1" }',
            "its parent does not know",
        ),
        ('parent = "2017"\n[rules]\nneutral = { section = "220.61", page = 3 }', "unknown key page"),
        ('parent = "2017"\n[values]\nev_min = { value = 7200, unit = "VA" }', "lacks section"),
        ("[values]\na = 1\na = 2", "cannot be read"),
    ],
)
def test_data_that_cannot_be_meant_is_refused(text, sentence):
    with pytest.raises(CodebookError, match=re.escape(sentence)):
        parse_edition(text, "test")


def test_a_new_key_may_enter_when_it_says_so():
    added = parse_edition(
        'parent = "2020"\n[values]\nnew_one = { value = 2, unit = "VA", section = "1", since = "2023" }', "test"
    )
    assert added["values"]["new_one"]["value"] == 2
    assert added["values"]["ev_min"]["value"] == 0, "the rest is inherited"


def test_what_is_missing_raises_and_never_defaults():
    with pytest.raises(UnknownRuleError, match="Edition 2020 has no rule named nonsense"):
        load_codebook("2020").cite("nonsense")
    with pytest.raises(UnknownRuleError, match="no value named nonsense"):
        load_codebook("2020").step("nonsense")
    with pytest.raises(UnknownRuleError, match="no code edition 1890"):
        load_codebook("1890")
