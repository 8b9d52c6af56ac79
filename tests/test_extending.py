"""docs/extending.md is true: its diffs apply to a copy of the product, and what they add is there and works, with nothing else touched."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
GUIDE = ROOT / "docs" / "extending.md"
SECTIONS = dict(re.findall(r"^## (.+?)\n.*?```diff\n(.*?)```", GUIDE.read_text("utf-8"), re.S | re.M))


WHOLE = ("src", "tests", "examples", "docs", "scripts", "packaging")
FILES = ("pyproject.toml", "README.md", "CHANGELOG.md", "CONTRIBUTING.md", "constraints.txt")


@pytest.fixture
def copy(tmp_path):
    """The product with its tests and documents, to be changed."""
    for name in WHOLE:
        shutil.copytree(ROOT / name, tmp_path / name, ignore=shutil.ignore_patterns("__pycache__"))
    for name in FILES:
        shutil.copy(ROOT / name, tmp_path)
    return tmp_path


# The part of the suite that a change of each kind has to leave green, and what of it the change itself asks to be done first.
RELEVANT = {
    "A page": ["tests/desk/test_manifest.py"],
    "A stage": ["tests/desk/test_manifest.py", "tests/desk/test_desk.py", "-k", "stage or manifest"],
    "A sheet": ["tests/papers/test_packets.py"],
    "An edition": [
        "tests/codebook",
        "tests/branch/test_protection.py",
        "tests/load/test_rules.py",
        "tests/job/test_files.py",
    ],
    "A field": ["tests/job", "-k", "not hold_to_the_published_schema"],
    "A kind of node": ["tests/installation", "tests/desk/test_panels.py", "-k", "hand or kind or usual"],
    "A rule and its finding": [
        "tests/findings",
        "tests/codebook/test_editions.py",
        "tests/survey/test_scope_place_and_defects.py",
    ],
    "A phrase of the call-out line": ["tests/callout/test_stages.py", "tests/job/test_fields.py"],
}


@pytest.mark.parametrize("section", RELEVANT)
def test_the_suite_holds_with_what_the_guide_adds(copy, section):
    """With the whole change of the guide and nothing else: what names a stage, an edition or a field elsewhere would fail here."""
    for one in ["A field", section] if section.startswith("A rule") else [section]:
        subprocess.run(["git", "apply", "-"], input=SECTIONS[one], text=True, cwd=copy, check=True)
    environment = {
        **os.environ,
        "PYTHONPATH": str(copy / "src"),
        "QT_QPA_PLATFORM": "offscreen",
        "ROBUST_LEDGER_HOME": str(copy / "home"),
    }
    for name in [one for one in environment if one.startswith("PYTEST_")]:
        del environment[name]  # of the run that this one is in
    schema = [sys.executable, "scripts/write_schema.py", "docs/job-format.schema.json"]
    subprocess.run(schema, cwd=copy, env=environment, check=True)
    run = [
        sys.executable,
        "-m",
        "pytest",
        "-x",
        "-q",
        "-p",
        "no:cacheprovider",
        "-p",
        "no:randomly",
        *RELEVANT[section],
    ]
    done = subprocess.run(run, capture_output=True, text=True, cwd=copy, env=environment, check=False)
    assert done.returncode == 0, done.stdout[-3000:]


def extended(copy: Path, section: str, code: str) -> str:
    """Apply the diff of a section to the copy, run some code with it, and give what it printed."""
    subprocess.run(["git", "apply", "-"], input=SECTIONS[section], text=True, cwd=copy, check=True)
    environment = {
        **os.environ,
        "PYTHONPATH": str(copy / "src"),
        "QT_QPA_PLATFORM": "offscreen",
        "ROBUST_LEDGER_HOME": str(copy / "home"),
    }
    start = (
        "from pathlib import Path\nfrom robust_ledger.job.files import read_job\nfrom robust_ledger.plan import plan\n"
    )
    start += "DEMO = read_job(Path('examples/marrow-lane.ledger.json'))\n"
    made = subprocess.run(
        [sys.executable, "-c", start + code], capture_output=True, text=True, cwd=copy, env=environment, check=False
    )
    assert made.returncode == 0, made.stderr
    return made.stdout


WINDOW = """
from robust_ledger.desk.shell.application import make_application
from robust_ledger.desk.shell.window import Window
app = make_application(); window = Window(); window.store.open_job(DEMO, None); window.show_ledger()
"""


def test_a_page_is_one_module_and_one_line(copy):
    code = (
        WINDOW
        + "window.show_stage('load'); window.stage().show_page('summary'); print(window.stage().page().words.text())"
    )
    assert extended(copy, "A page", code + "\nwindow.store.close()").strip() == "143 A, main 150 A"


def test_a_stage_is_one_folder_and_its_help(copy):
    code = (
        WINDOW
        + """
window.show_stage('handover'); print(list(window.spine.buttons)[-1], '|', window.stage().page().words.text(), '|', end=' ')
window.margin.show_help(); print(window.margin.text.toPlainText().splitlines()[0])
"""
    )
    said = extended(copy, "A stage", code + "window.store.close()").strip()
    assert said == "handover | Main 150 A; circuits called out: 28 | Handover"


def test_a_sheet_is_one_module(copy):
    code = """
from robust_ledger.papers.packet import write_packet
print([path.name for path in write_packet(plan(DEMO), Path('out'), 'x')][0])
"""
    assert extended(copy, "A sheet", code).strip() == "x-cover.pdf"
    assert (copy / "out" / "x-cover.pdf").read_bytes().startswith(b"%PDF")


def test_an_edition_is_one_file(copy):
    """At 2 VA/ft² the general lighting of the bungalow is two thirds of what it was; everything else is inherited."""
    code = (
        WINDOW
        + """
from robust_ledger.job.files import job_text, parse_job
from robust_ledger.codebook.codebook import load_codebook
job = parse_job(job_text(DEMO).replace('"edition": "2023"', '"edition": "2026"'), 'x')
both = [plan(one).load.entries['load.standard.lighting'].amount for one in (DEMO, job)]
print(both[1] / both[0], list(window.menus.editions)[-1], load_codebook('2026').cite('working_space'))
"""
    )
    ratio, menu, section = extended(copy, "An edition", code + "window.store.close()").split()
    assert float(ratio) == pytest.approx(2 / 3) and menu == "2026" and section == "110.26(A)"


def test_a_field_is_a_line_in_the_document_and_a_line_in_its_form(copy):
    code = (
        WINDOW
        + """
from robust_ledger.ledger.place import Place
window.go_to(Place('location:lit')); print(window.current, window.stage().current, window.focusWidget().accessibleName())
"""
    )
    assert extended(copy, "A field", code + "window.store.close()").strip() == "walkthrough location Light at the panel"


def test_a_rule_is_a_line_and_its_use(copy):
    """Unknown stays silent; "no" fires with its section, in every edition."""
    code = """
from robust_ledger.job.edits import with_part
for lit in (None, True, False):
    print(lit, [str(f.cites[0]) for f in plan(with_part(DEMO, 'location', lit=lit)).findings if f.id == 'location.light'])
"""
    subprocess.run(["git", "apply", "-"], input=SECTIONS["A field"], text=True, cwd=copy, check=True)
    assert extended(copy, "A rule and its finding", code).splitlines() == ["None []", "True []", "False ['110.26(D)']"]


def test_a_phrase_is_a_row_of_the_words(copy):
    code = """
from robust_ledger.callout.completions import said_on
from robust_ledger.callout.session import replay
from robust_ledger.load.edition import codebook_of
job, _ = replay(["walk:", "panel out in the weather", "in the weather"], DEMO, codebook_of(DEMO), "")
print(job.location.wet, job.location.weatherproof, "in the rain" in said_on("walkthrough"))
"""
    assert extended(copy, "A phrase of the call-out line", code).split() == ["True", "True", "True"]
