"""What a job says is shown as plain text everywhere: in labels, boxes, tables, tips, the margin, papers, drawings and the phone's page."""

from __future__ import annotations

import ast
import json
from pathlib import Path

import pytest
from builders import house
from msgspec.structs import replace
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QTextDocument
from PyQt6.QtWidgets import QApplication, QLabel, QMessageBox, QTextBrowser, QTextEdit

from robust_ledger.desk.kit.spec import manifest
from robust_ledger.desk.kit.words import Links, ask, plain_tip, warn
from robust_ledger.desk.shell.decision import Decision
from robust_ledger.job.edits import accept_finding, with_part
from robust_ledger.job.parts.circuits import Circuit
from robust_ledger.job.parts.defects import Defect

DESK = Path(__file__).parents[2] / "src" / "robust_ledger" / "desk"
BOLD = "<b>bold</b><img src=x>"


def marked():
    """A job whose every word is markup."""
    job = replace(
        house(1500),
        circuits=(Circuit(tag=1, spaces=("1",), breaker_a=30, gauge="14", feeds=BOLD, room=BOLD, note=BOLD),),
        defects=(Defect(id="d", what=BOLD, where=BOLD, fix=BOLD),),
    )
    job = with_part(job, "heading", title=BOLD, customer=BOLD, address=BOLD, notes=BOLD, electrician=BOLD)
    return job


def test_every_label_of_every_page_is_plain(window):
    window.store.open_job(marked(), None)
    window.show_ledger()
    for name, spec in manifest().items():
        if spec.alone is not None:
            continue
        window.show_stage(name)
        for page in spec.pages:
            window.stage().show_page(page.name)
            QApplication.processEvents()
    assert window.title.text() == BOLD
    window.show_start()
    labels = window.findChildren(QLabel)
    assert len(labels) > 100
    rich = [one for one in labels if one.textFormat() != one.textFormat().PlainText]
    assert all(isinstance(one, Links) for one in rich), [one.text() for one in rich]
    printed = [one.text() for one in labels if one not in rich and "</" in one.text().replace(BOLD, "")]
    assert printed == [], "markup that nobody draws"


def test_a_line_with_links_shows_the_letters_of_its_words(qtbot):
    line = Links()
    qtbot.addWidget(line)
    line.say([(f"If {BOLD}: ", ""), (BOLD, "load.'a'"), (".", "")])
    shown = QTextDocument()
    shown.setHtml(line.text())
    assert shown.toPlainText() == f"If {BOLD}: {BOLD}." and "<img" not in line.text()


def test_the_margin_shows_the_letters_themselves(window):
    job = marked()
    window.store.open_job(job, None)
    window.show_stage("pulloff")
    window.margin.show_entries(("findings",), "")
    finding = next(one for one in window.store.plan.findings if BOLD in f"{one.title}{one.text}" or one.acceptable)
    window.store.edit("x", lambda job: accept_finding(job, finding.id, BOLD))
    window.margin.show_entries(("findings",), "")
    for text in window.findChildren(QTextEdit) + window.findChildren(QTextBrowser):
        assert "<img" not in text.toHtml().replace("&lt;img", "")
    assert BOLD in window.margin.text.toPlainText()


@pytest.mark.parametrize("kind", ["ask", "warn", "decision"])
def test_boxes_are_plain(window, kind):
    seen: list[tuple[str, str]] = []

    def look() -> None:
        box = QApplication.activeModalWidget()
        seen.extend((one.text(), one.textFormat()) for one in box.findChildren(QLabel) if "bold" in one.text())
        seen.append(("box", box.textFormat())) if isinstance(box, QMessageBox) else None
        box.reject() if not isinstance(box, QMessageBox) else box.button(box.standardButtons()).click()

    QTimer.singleShot(0, look)
    ok = QMessageBox.StandardButton.Ok
    if kind == "ask":
        assert ask(window, BOLD, ok, ok) == ok
    elif kind == "warn":
        warn(window, BOLD)
    else:
        Decision(window, BOLD, (), (("a", "A"),)).ask()
    assert seen and all(form.name == "PlainText" for _words, form in seen)


def test_a_tip_shows_what_it_would_have_drawn():
    assert plain_tip("2 < 3") == "<span>2 &lt; 3</span>" and plain_tip("den & hall") == "den & hall"
    assert plain_tip(f"{BOLD}\nx") == "<span>&lt;b&gt;bold&lt;/b&gt;&lt;img src=x&gt;<br>x</span>"


def test_nothing_on_the_desk_goes_around_the_plain_words():
    """Labels and boxes are made in one module; a tip whose words are not constant is made plain."""
    found = []
    for path in sorted(DESK.rglob("*.py")):
        if path.name == "words.py":
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call):
                continue
            called = ast.unparse(node.func)
            words = node.args[0] if node.args else None
            constant = isinstance(words, ast.Constant) or (
                isinstance(words, ast.Call) and ast.unparse(words.func) == "plain_tip"
            )
            if called == "QLabel" or called.startswith("QMessageBox."):
                found.append(f"{path.name}:{node.lineno} {called}")
            if (
                called.endswith(".setToolTip") and not constant and path.name not in ("spine.py", "newjob.py")
            ):  # a spec's own words
                found.append(f"{path.name}:{node.lineno} {ast.unparse(node)[:80]}")
    assert found == []


def test_the_phones_page_holds_it_as_data_alone():
    from robust_ledger.fieldbook.book import book_html
    from robust_ledger.plan import plan

    page = book_html(plan(marked()))
    assert BOLD not in page and json.dumps(BOLD)[1:-1].replace("<", "\\u003c") in page
    assert "innerHTML" not in page
