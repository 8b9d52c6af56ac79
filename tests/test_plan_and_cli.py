"""The whole plan, its JSON, and the command line."""

from __future__ import annotations

import ast
import io
import json
import re
import subprocess
import sys
from pathlib import Path

import pytest
from builders import JUDGED, K, answers, called_out, circuit, finding_ids, house, load, with_parts
from msgspec.structs import replace

from robust_ledger.cli import commands, main, summary
from robust_ledger.exchange.plan_json import plan_data, plan_text
from robust_ledger.job.edits import add_panel, link_load, move_to_panel, with_part
from robust_ledger.job.files import job_text, read_job, write_job
from robust_ledger.job.job import blank_job
from robust_ledger.job.keys import CircuitKey
from robust_ledger.job.parts.equipment import Equipment
from robust_ledger.job.parts.house import Management
from robust_ledger.job.parts.panel_tree import FurtherBox, Panel
from robust_ledger.ledger.editions import EDITIONS
from robust_ledger.ledger.entry import Severity
from robust_ledger.papers.packet import all_sheets
from robust_ledger.plan import plan
from robust_ledger.start import COMMANDS

ROOT = Path(__file__).parents[1]
DEMO = str(ROOT / "examples" / "marrow-lane.ledger.json")
SMALL = str(ROOT / "examples" / "tansy-court.ledger.json")


def test_the_plan_is_pure_and_the_same_every_time(demo):
    before = demo.as_data()
    assert plan_text(plan(demo)) == plan_text(plan(demo))
    assert demo.as_data() == before


def test_every_figure_of_the_demo_is_known_and_every_step_leads_somewhere(demo_plan):
    for entry in demo_plan.entries.values():
        off = entry.id == "branch.breaker.tag:28"
        assert entry.known, entry.id
        assert entry.steps or off, entry.id
        for step in entry.steps:
            if step.place.startswith("entry:"):
                target = demo_plan.entries[step.place.removeprefix("entry:")]
                assert (
                    target.value == step.value
                    or step.label.endswith((", half", "counts", "calculation"))
                    or target.unit != step.unit
                ), step


def test_the_faults_of_the_demo_are_found(demo_plan):
    serious = {f.id for f in demo_plan.findings if f.open}
    assert serious == {
        "branch.bare_neutral:tag:2",
        "branch.unknown:tag:25",
        "branch.dark_neutral:tag:27",
    }
    assert {"branch.capped:tag:28", "branch.white_hot:tag:3"} <= finding_ids(demo_plan)
    cured = {f.id for f in demo_plan.findings if f.cured}
    assert cured == {"branch.wire_on_breaker:tag:10", "branch.neutral_one_leg:tag:6"}, "the plan puts them right"
    ranks = [2.5 if f.cured else f.severity.rank for f in demo_plan.findings]
    assert ranks == sorted(ranks), "the worst comes first"


def test_every_finding_says_where_what_and_what_to_do(demo):
    job = called_out(with_part(demo, "decisions", main_a=100), "- ? ? unknown")
    for finding in plan(job).findings:
        assert finding.stage in plan(job).filled and finding.place and finding.title
        assert finding.text.endswith(".") and finding.remedy.endswith(".")
        if finding.severity in (Severity.STOP, Severity.FIX) and not finding.id.startswith("branch.load:"):
            assert finding.cites, finding.id


@pytest.mark.parametrize(("edition", "ampere"), [("2017", (143, 198)), ("2020", (143, 198)), ("2023", (143, 198))])
def test_the_demo_by_edition(demo, edition, ampere):
    """In 2017 the 180 VA range hood is one of the appliances at 75%: 45 VA less, which the ampere does not show."""
    made = plan(replace(demo, edition=edition))
    assert (
        made.load.calculations["optional"].amperes.value,
        made.load.calculations["standard"].amperes.value,
    ) == ampere
    assert made.load.calculations["standard"].total.value == pytest.approx(47_465 - (45 if edition == "2017" else 0))


def test_stage_states(demo, small):
    empty = plan(house(None))
    assert [empty.stage_state(stage) for stage in empty.filled] == ["empty"] * 6
    states = {stage: plan(demo).stage_state(stage) for stage in empty.filled}
    assert states == {
        "walkthrough": "settled",
        "pulloff": "in work",
        "load": "settled",
        "service": "settled",
        "bench": "settled",
        "papers": "in work",
    }
    assert {plan(small).stage_state(stage) for stage in empty.filled} == {"settled"}


def test_documented_entry_ids_exist(demo_plan):
    """docs/entries.md is the promise to whoever reads the JSON."""
    text = (ROOT / "docs" / "entries.md").read_text()
    ids = re.findall(r"^- `([^`]+)`", text, re.M)
    patterns = [
        re.compile("^" + re.sub(r"<\w+>", ".+", re.escape(i).replace("\\<", "<").replace("\\>", ">")) + "$")
        for i in ids
    ]
    assert len(ids) > 20
    # Some lines stand on a tape only when something is held back, out of season, or of a future with circuits reserved.
    job = demo_plan.job
    job = with_parts(job, "chain", disconnect_a=150.0)
    held = [replace(x, managed=True, when="added") if x.id == "charger" else x for x in job.loads]
    other = replace(
        job,
        loads=tuple(held),
        management=Management(setpoint_a=10),
        measured=replace(job.measured, seasonal_va=900.0),
        futures=tuple(replace(future, reserve=True) for future in job.futures),
    )
    other = link_load(other, "range-hood", 4)
    whole = replace(
        other,
        scope=answers("split"),
        main_feed=job.main_feed.changed(breaker_a=150.0),
        panels=(
            Panel(id="sub", breaker_a=60, found=True, conductors="6 Al", wires=4, rods=2),
            Panel(id="two", name="two", fed_from="meter", breaker_a=100),
            Panel(id="tapped", name="tapped", fed_by="tap", box=FurtherBox(main="breaker", main_a=60)),
            Panel(id="switch", name="switch", kind="disconnect", breaker_a=60, box=FurtherBox(main_a=60)),
        ),
        equipment=Equipment(generator_a=30, inverter_a=16),
        grounding=replace(job.grounding, one_run=True),
        fit=replace(job.fit, meter_to_panel_in=-20.0),
    )
    kept = house(
        1500,
        scope="swap",
        chain={"disconnect_a": 100.0},
        main_feed={"conductors": "2 Cu", "wires": 4},
        grounding={"gec_new": False},
    )
    leaning = house(500, kiln := load(K.APPLIANCE, "12kW@120", "kiln", when="added"))
    aside = add_panel(
        house(500, kiln, load(K.COOKING, "8kW", "range")), Panel(id="shed", name="shed", breaker_a=125, area=0)
    )
    aside = move_to_panel(aside, [CircuitKey.of_load(kiln.id)], "shed")
    others = (demo_plan, *(plan(one) for one in (other, whole, kept, leaning, aside)))
    ids_made = {entry_id for made in others for entry_id in made.all_entries}
    for pattern in patterns:
        assert any(pattern.match(key) for key in ids_made), pattern.pattern
    for key in ids_made:
        assert any(pattern.match(key) for pattern in patterns), key


def test_the_json_holds_everything(demo_plan):
    data = json.loads(plan_text(demo_plan))
    assert data == plan_data(demo_plan)
    assert data["entries"]["load.optional.amperes"]["value"] == 143
    assert data["entries"]["service.main"]["steps"][0]["place"] == "entry:load.optional.amperes"
    assert len(data["schedule"]) == 40 and data["waiting"] == []
    lines = data["calculations"]["standard"]["tape"]
    assert sum(line["result_va"] for line in lines if line["counted"]) == pytest.approx(47_465)
    assert {name: data["entries"][one["amperes"]]["value"] for name, one in data["methods"].items()} == {
        "standard": 198,
        "optional": 143,
        "existing": 152,
        "measured": 198,
    }
    assert (data["recommended"], data["methods"]["existing"]["open"]) == ("optional", False)
    assert [column["key"] for column in data["what_if"]][:3] == ["today", "after", "future.charger"]
    assert {f["severity"] for f in data["findings"]} == {"STOP", "FIX", "ASK", "NOTE"}


def run(capsys, *arguments: str) -> tuple[int, str, str]:
    code = main(list(arguments))
    out, err = capsys.readouterr()
    return code, out, err


def test_plan_command(capsys):
    code, out, _ = run(capsys, "plan", DEMO, "--json")
    assert code == 0 and json.loads(out)["format"] == "robust-ledger-plan"
    code, out, _ = run(capsys, "plan", DEMO)
    assert (
        code == 0 and re.search(r"^Main: +150 A$", out, re.M) and re.search(r"^Service conductors: +2/0 Al$", out, re.M)
    )


def test_summary_of_a_job_with_unknowns():
    text = "\n".join(summary(plan(house(None, circuits=(circuit(),)))))
    assert "Load:                ?" in text and "not known" in text and "floor area" in text


def test_check_command(capsys):
    code, out, _ = run(capsys, "check", DEMO)
    assert code == 1 and "STOP  Tag 2 has a bare neutral." in out and "1 of them open STOP or FIX" in out
    assert "240.4(D)" in out
    code, out, _ = run(capsys, "check", SMALL)
    assert code == 0


def test_arrange_command(capsys, tmp_path):
    job = tmp_path / "job.ledger.json"
    job.write_text(Path(DEMO).read_text())
    code, out, _ = run(capsys, "arrange", str(job), "--take", "1")
    lines = out.splitlines()
    assert code == 0 and lines[0] == "As it is:            15 splices"
    assert lines[1].startswith("1  fewest splices:") and "4 splices" in lines[1] and "proven" in lines[1]
    assert any("mount the new enclosure 6 in higher: 0 splices instead of 4" in line for line in lines)
    after = plan(read_job(job))
    assert (
        sum(reach.splices for reach in after.bench.reach.values()) == 4
        and lines[-1] == "Layout 1 written into job.ledger.json."
    )
    job.write_text(job_text(with_part(read_job(job), "panel", spaces=20)))
    code, out, _ = run(capsys, "arrange", str(job))
    assert code == 1 and "No arrangement: 18 more spaces are needed; " in out


def test_papers_command(capsys, tmp_path):
    code, out, _ = run(capsys, "papers", DEMO, "--out", str(tmp_path / "new" / "folder"))
    assert code == 0
    names = [Path(line).name for line in out.splitlines()]
    pdfs, drawings = (
        [one.name for one in all_sheets()],
        ("one-line", "chain", "fit", "overhead", "bench", "bench-garage"),
    )
    assert names == [f"marrow-lane-{n}.pdf" for n in pdfs] + [f"marrow-lane-{n}.svg" for n in drawings]
    starts = {".pdf": b"%PDF", ".svg": b"<svg"}
    assert all((tmp_path / "new" / "folder" / name).read_bytes().startswith(starts[name[-4:]]) for name in names)
    assert len(list((tmp_path / "new" / "folder").iterdir())) == len(names) == 21


def test_check_prints_groups(capsys, tmp_path):
    job = called_out(house(1500), "1 20 14 den receptacles", "3 20 14 hall lights", "5 20 14 bedroom lights")
    path = tmp_path / "job.ledger.json"
    path.write_text(job_text(job))
    code, out, _ = run(capsys, "check", str(path))
    assert code == 0 and "FIX   14 Cu on 20 A: tags 1, 2, 3." in out and "Cured by the plan." in out
    assert re.search(r"\d+ findings of \d+ kinds", out)


def test_both_demos_come_out_with_few_groups(demo_plan):
    """At most twelve, each of them true."""
    small = plan(read_job(ROOT / "examples" / "tansy-court.ledger.json"))
    assert len(demo_plan.groups) <= 12 and len(small.groups) <= 12


def test_demand_command(capsys, tmp_path):
    folder = ROOT / "examples" / "interval-data"
    code, out, _ = run(capsys, "demand", str(folder / "dirty-eleven-months.csv"))
    assert code == 0 and "64.00 kW" in out and "spike: 64.0 kW" in out and "missing: 1 December to 31 December" in out
    code, out, _ = run(capsys, "demand", str(folder / "clean-year.csv"), "--unit", "kW")
    assert "2.7" in out.splitlines()[0] and "365.0 days every 15 min, 100.0% there" in out
    bare = tmp_path / "bare.csv"
    bare.write_text(
        "when,house\n" + "".join(f"2025-07-0{day} {hour:02}:00,1\n" for day in (1, 2) for hour in range(24))
    )
    code, out, err = run(capsys, "demand", str(bare))
    assert (code, out) == (2, "") and "say it with --unit" in err
    assert run(capsys, "demand", str(bare), "--unit", "kW")[0] == 0
    code, out, err = run(capsys, "demand", str(folder / "clean-year.csv"), "--unit", "furlongs")
    assert (code, out) == (2, "") and "no unit" in err
    (tmp_path / "x.csv").write_text("a,b\n1,2\n")
    assert run(capsys, "demand", str(tmp_path / "x.csv"))[0] == 2


def test_simulate_command(capsys, tmp_path):
    code, out, _ = run(capsys, "simulate", DEMO, "--years", "3", "--seed", "4")
    assert code == 0 and "680 A behind a main of 150 A" in out and "A clamp at 3 pm" in out
    assert out == run(capsys, "simulate", DEMO, "--years", "3", "--seed", "4")[1]
    (tmp_path / "empty.ledger.json").write_text(job_text(blank_job()))
    code, _, err = run(capsys, "simulate", str(tmp_path / "empty.ledger.json"))
    assert code == 2 and err.startswith("There is nothing to simulate")


def test_errors_are_one_sentence_and_exit_2(capsys, tmp_path):
    bad = tmp_path / "bad.ledger.json"
    bad.write_text("{")
    in_the_way = tmp_path / "file"
    in_the_way.write_text("")
    for arguments in (
        ("plan", str(tmp_path / "none.ledger.json")),
        ("plan", str(bad)),
        ("check", str(bad)),
        ("plan",),
        ("plan", DEMO, "--yaml"),
        ("papers", DEMO),
        ("papers", DEMO, "--out", str(in_the_way / "folder")),
    ):
        code, out, err = run(capsys, *arguments)
        assert code == 2 and not out, arguments
        assert err.count("\n") == 1 and err.endswith(".\n") and "Traceback" not in err


def test_the_command_itself_and_its_cores_never_load_qt(tmp_path, demo):
    """The command line answers without a screen and without loading the interface."""
    code = "import sys; from robust_ledger.cli import main; main(['plan', sys.argv[1]]); sys.exit(any(m.startswith('PyQt6') for m in sys.modules))"
    path = tmp_path / "with spaces ü.ledger.json"
    write_job(demo, path)
    done = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True)
    assert done.returncode == 0 and "Main:" in done.stdout
    done = subprocess.run([sys.executable, "-m", "robust_ledger", "check", str(path)], capture_output=True, text=True)
    assert done.returncode == 1 and not done.stderr


def test_a_desk_that_cannot_read_its_job_says_so_and_ends(tmp_path):
    done = subprocess.run(
        [sys.executable, "-m", "robust_ledger", str(tmp_path / "none.ledger.json")], capture_output=True, text=True
    )
    assert done.returncode == 2 and done.stderr == "none.ledger.json cannot be read: no such file or directory.\n"
    done = subprocess.run(
        [sys.executable, "-m", "robust_ledger", "pln", "job", "--what"], capture_output=True, text=True
    )
    assert done.returncode == 2 and done.stderr == "Unrecognized arguments: job --what.\n"


def test_public_functions_say_what_they_mean():
    """Every public function and class of the core that is more than a few lines has a docstring."""
    for path in (ROOT / "src" / "robust_ledger").rglob("*.py"):
        if "desk" in path.parts:
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
                long = (node.end_lineno or 0) - node.lineno > 8
                assert not long or ast.get_docstring(node), f"{path.name}: {node.name}"


def test_editions_are_offered_in_order():
    assert set(JUDGED) <= set(EDITIONS)


def test_every_command_is_reached_from_the_entry_point():
    assert set(COMMANDS) == set(commands.commands)


SPOKEN = """# the old panel, as it was called
seven, twenty amp, twelve gauge, den
next 20 12 attic fan
same
7 99 12 nobody
tag 1: 7 15 14 cloth den
tag 9 3 20 12 hall
kitchen counter
"""


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_lines_of_any_usual_encoding_are_read_as_they_were_written(capsys, tmp_path, monkeypatch, encoding):
    path = tmp_path / "house.ledger.json"
    write_job(house(1500), path)
    spoken = "1 20 12 café\n" + "9" * 5000 + " 20 12 x\n3 20 12 den\n"
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(spoken.encode(encoding))))
    code, out, _ = run(capsys, "callout", str(path))
    assert code == 1 and "2 lines accepted, 1 not read." in out and len(out.splitlines()[1]) < 400
    assert [c.feeds for c in read_job(path).circuits] == ["café", "den"]


def test_a_session_is_replayed_and_bad_lines_are_told_apart(capsys, tmp_path, monkeypatch):
    path = tmp_path / "house.ledger.json"
    write_job(house(1500), path)
    monkeypatch.setattr("sys.stdin", io.StringIO(SPOKEN))
    code, out, _ = run(capsys, "callout", str(path))
    assert code == 1
    assert out.splitlines() == [
        "   2  tag 1: 7 20 12 den",
        "   3  tag 2: 1 20 12 attic fan",
        "   4  tag 3: 2 20 12 attic fan",
        '   5  not read: "7 99 12 nobody": 99 A is not a standard breaker rating; read the handle again, or write ?.',
        "   6  tag 1: 7 15 14 cloth den",
        '   7  not read: "tag 9 3 20 12 hall": there is no tag 9 to change.',
        '   8  not read: "kitchen counter": missing: space, breaker, gauge; say ? for what is not known.',
        "4 lines accepted, 3 not read.",
    ]
    assert [(c.tag, c.spaces, c.cable) for c in read_job(path).circuits] == [
        (1, ("7",), "cloth"),
        (2, ("1",), ""),
        (3, ("2",), ""),
    ]
    from robust_ledger.jobbook.lock import JobLock

    desk = JobLock(path)
    desk.take()
    before = path.read_bytes()
    monkeypatch.setattr("sys.stdin", io.StringIO("9 20 12 porch\n"))
    code, _, err = run(capsys, "callout", str(path))
    assert code == 2 and f"is open: {desk.me.words}; nothing was written" in err and path.read_bytes() == before
    desk.release()
    monkeypatch.setattr("sys.stdin", io.StringIO("9 20 12 porch\n"))
    code, out, _ = run(capsys, "callout", str(path), "--try")
    assert code == 0 and out.endswith("Nothing was saved.\n") and path.read_bytes() == before


def test_a_job_is_begun_dictated_and_written_out_again(capsys, tmp_path, monkeypatch):
    """new, callout with JSON, facts: what was dictated comes back as lines that make the same job."""
    path = tmp_path / "ladder.ledger.json"
    code, out, _ = run(capsys, "new", str(tmp_path / "ladder"), "--spaces", "30")
    assert code == 0 and out.strip() == str(path) and read_job(path).old_panel.spaces == 30
    code, _, err = run(capsys, "new", str(path))
    assert code == 2 and "is there already; nothing was written" in err
    lines = "meter says 150\n25 20 12 den\n26 20 12 den clamp x\nrange 11.2 kW kitchen\nfrob the knob\nwhy 150\n"
    monkeypatch.setattr("sys.stdin", io.StringIO(lines))
    before = path.read_bytes()
    code, out, _ = run(capsys, "callout", str(path), "--json", "--try")
    told = json.loads(out)
    assert code == 1 and not told["saved"] and path.read_bytes() == before
    assert [one["stage"] for one in told["lines"][:4]] == ["walkthrough", "pulloff", "pulloff", "load"]
    assert told["lines"][1]["tag"] == 1 and "clamp" in told["lines"][2]["asked"][0]
    assert told["lines"][4]["refused"] and told["lines"][5]["refused"] == "that is shown on the desk."
    monkeypatch.setattr("sys.stdin", io.StringIO(lines))
    run(capsys, "callout", str(path))
    code, out, _ = run(capsys, "facts", str(path))
    assert code == 0 and "meter is 150" in out and "25 20 12 den" in out
    again = tmp_path / "again.ledger.json"
    run(capsys, "new", str(again))
    monkeypatch.setattr("sys.stdin", io.StringIO(out))
    code, _, _ = run(capsys, "callout", str(again))
    assert code == 0 and read_job(again) == read_job(path)
