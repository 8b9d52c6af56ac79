"""What is handed out: version, change log, manual, package files agree with each other and with the program."""

from __future__ import annotations

import re
import subprocess
import sys
import tomllib
import xml.etree.ElementTree as ET
from configparser import ConfigParser
from pathlib import Path

import pytest
from make_dist import SIZES, icons, libraries, version
from man_page import man_page

from robust_ledger.cli import commands
from robust_ledger.job.job import VERSION
from robust_ledger.jobbook.about import about
from robust_ledger.jobbook.doctor import examined
from robust_ledger.start import COMMANDS

ROOT = Path(__file__).parents[1]

OWN = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"]
MIME = "application/x-robust-ledger-job+json"


def test_the_version_names_the_job_format_and_the_change_log_begins_with_it():
    heads = re.findall(
        r"^## (\d+)\.(\d+)\.(\d+) — (\d{4}-\d\d-\d\d), job format (\d+)$", (ROOT / "CHANGELOG.md").read_text(), re.M
    )
    assert ".".join(heads[0][:3]) == OWN == version() and int(OWN.split(".")[1]) == VERSION
    assert all(head[1] == head[4] for head in heads) and {int(head[4]) for head in heads} == set(range(1, VERSION + 1))
    assert heads == sorted(heads, key=lambda head: tuple(map(int, head[:3])), reverse=True)
    done = subprocess.run([sys.executable, "-m", "robust_ledger", "--version"], capture_output=True, text=True)
    assert done.stdout.strip() == about() and f"job format {VERSION}" in done.stdout


def test_the_manual_has_every_command_with_its_options():
    page = man_page().replace("\\-", "-")
    for name, command in commands.commands.items():
        assert f".SS {name} " in page or getattr(command, "commands", None)
        for option in [one for one in command.params if one.opts[0].startswith("-")]:
            assert option.opts[0] in page and (option.help or "") in page.replace("\\", "")
    assert set(COMMANDS) == set(commands.commands)


def test_the_desktops_files_name_the_same_program_and_kind_of_file():
    entry = ConfigParser(interpolation=None)
    entry.read(ROOT / "packaging" / "robust-ledger.desktop")
    assert entry["Desktop Entry"]["Exec"] == "robust-ledger %f" and MIME in entry["Desktop Entry"]["MimeType"]
    kinds = ET.parse(ROOT / "packaging" / "robust-ledger.mime.xml").getroot()
    space = {"m": "http://www.freedesktop.org/standards/shared-mime-info"}
    kind, glob = kinds.find("m:mime-type", space), kinds.find(".//m:glob", space)
    assert kind is not None and kind.get("type") == MIME and glob is not None and glob.get("pattern") == "*.ledger.json"
    about_it = ET.parse(ROOT / "packaging" / "robust-ledger.metainfo.xml").getroot()
    release = about_it.find("releases/release")
    assert about_it.findtext("provides/mediatype") == MIME and release is not None and release.get("version") == OWN


def test_the_icon_is_there_in_every_size(tmp_path):
    icons(tmp_path)
    for kind in ("apps", "mimetypes"):
        assert {path.parent.parent.name for path in tmp_path.rglob(f"{kind}/*.png")} == {
            f"{size}x{size}" for size in SIZES
        }
    assert all(path.stat().st_size > 100 for path in tmp_path.rglob("*.png"))


def test_the_package_has_need_of_the_desks_libraries_and_of_none_that_only_tests_want():
    listed = libraries()
    assert "libegl1" in listed and not {"chromium", "xvfb"} & set(listed) and len(listed) > 10


def test_the_doctor_finds_nothing_missing_where_the_tests_run(tmp_path):
    trials = examined(tmp_path / "home")
    assert [one for one in trials if one.state == "MISSING"] == []
    assert {"ok"} == {one.state for one in trials if one.what in ("Qt opens", "time zones", "fonts that ship with it")}


@pytest.mark.parametrize("what", ["a file", "gone below a file"])
def test_the_doctor_says_what_is_missing(what, tmp_path, monkeypatch):
    place = tmp_path / "x"
    place.write_text("a file")
    monkeypatch.setattr(
        "robust_ledger.jobbook.doctor.requires",
        lambda _name: ["msgspec>=99.1", "no-such-library>=2", "pytest; extra == 'dev'"],
    )
    trials = {one.what: one for one in examined(place if what == "a file" else place / "home")}
    assert trials["no-such-library"].words == "install it: pip install 'no-such-library>=2'"
    assert any(
        what.startswith("msgspec ") and one.state == "MISSING" and one.words == "99.1 or later is needed"
        for what, one in trials.items()
    )
    room = next(one for what, one in trials.items() if what.startswith("a place for unsaved work"))
    assert (
        room.state == "MISSING"
        and room.words.startswith("it cannot be written: ")
        and not any(what.startswith("pytest") for what in trials)
    )
