"""Scores: what a hand-in gets, counted by hand; what an instructor sees of a class; what is kept back until then."""

from __future__ import annotations

import csv
from datetime import datetime, timedelta

import pytest
from msgspec.structs import replace
from worked import by_eye, names, panel, perfect

from robust_ledger.changeover.demands import DayError
from robust_ledger.cli import main
from robust_ledger.job.edits import change_circuit, change_load, with_part
from robust_ledger.job.files import read_job, write_job
from robust_ledger.job.job import blank_job
from robust_ledger.job.parts.circuits import Circuit, Mark
from robust_ledger.job.parts.practice import Named, Practice
from robust_ledger.plan import plan
from robust_ledger.practice.codes import LEVELS, Code, PracticeError, read_code
from robust_ledger.practice.day_order import order_judged, pool
from robust_ledger.practice.drills.model import Run
from robust_ledger.practice.exercise import CALLS_MIN, CLOCK_MIN, exercise
from robust_ledger.practice.faults import fault_kinds
from robust_ledger.practice.hand_in import begun, handed_in, is_called, left_s
from robust_ledger.practice.naming import read_named, with_named, without_named
from robust_ledger.practice.progress import NAME, keep, kept, of_drill, of_panel, rows
from robust_ledger.practice.report import score_lines
from robust_ledger.practice.score import scored

EIGHT = datetime.fromisoformat("2026-11-28T08:00:00-05:00")


def parts(score):
    return {one.name: one.points for one in score.parts}


# --- the perfect one ----------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("level", LEVELS)
@pytest.mark.parametrize("number", range(1, 6))
def test_who_calls_everything_out_truly_and_names_it_has_a_hundred(level, number):
    made = panel(level, number)
    score = scored(perfect(made))
    assert (score.points, score.missed, score.invented, score.misread) == (100, (), (), ())
    assert len(score.found) == len(made.planted) and score.minutes == 20
    assert score.circuits_a_minute == len(made.truth.circuits) / 20
    text = "\n".join(score_lines(score))
    assert "100 of 100" in text and all(fault_kinds()[one.kind].harm in text for one in made.planted)


@pytest.mark.parametrize("level", LEVELS)
def test_whoever_has_nothing_but_eyes_finds_everything(level):
    """Forty panels of each level from their drawings alone: what is seen is enough to find every fault, to read everything truly, to come to
    the load to the VA and to the shortest dark. Only the layout is left as the desk lays it out."""
    for number in range(40):
        made = panel(level, number)
        score = scored(by_eye(made), made)
        points = parts(score)
        points.pop("layout", None)
        full = {one.name: one.most for one in score.parts if one.name != "layout"}
        assert points == full, (str(made.code), score.missed, score.invented, score.misread, score.sized, score.ordered)


def test_tags_and_their_order_do_not_matter():
    """Under other tags and in another order: it is the spaces that count."""
    made = panel(3, 4)
    count = len(made.truth.circuits)
    other = {one.tag: count + 1 - one.tag for one in made.truth.circuits}
    circuits = tuple(
        replace(one, tag=other[one.tag], shares_neutral_with=other.get(one.shares_neutral_with or 0))
        for one in reversed(made.truth.circuits)
    )
    assert scored(replace(perfect(made), circuits=circuits)).points == 100


# --- counted by hand ----------------------------------------------------------------------------------------------------
def level_two():
    """A panel of level 2 with a wrong breaker and a doubled screw, and nothing else."""
    return next(
        made
        for made in (exercise(Code(2, seed)) for seed in range(400))
        if len(made.planted) == 2 and {one.kind for one in made.planted} == {"wire_on_breaker", "doubled"}
    )


def test_a_careless_one_has_what_is_counted_by_hand():
    """Two faults: one marked in calling out, one missed by a wire read too large; one invented; the main and all circuits but two read truly.
    70 · 1/2 − 5 + 30 · (n + 1 − 2)/(n + 1)."""
    made = level_two()
    wrong, doubled = (next(one for one in made.planted if one.kind == kind) for kind in ("wire_on_breaker", "doubled"))
    sound = [one for one in made.truth.circuits if one.tag not in (wrong.tag, doubled.tag) and one.poles == 1]
    size = "12" if made.truth.circuit(wrong.tag).breaker_a == 20 else "10"
    job = change_circuit(made.truth, wrong.tag, gauge=size)
    job = change_circuit(job, sound[0].tag, marks=(Mark.DARK_NEUTRAL,))
    job = replace(
        job,
        circuits=tuple(one for one in job.circuits if one.tag != sound[1].tag),
        practice=Practice(code=str(made.code)),
    )
    score = scored(job)
    count = len(made.truth.circuits) + 1
    assert [one.spaces for one in score.found] == [doubled.spaces] and [one.spaces for one in score.missed] == [
        wrong.spaces
    ]
    assert len(score.invented) == 1 and {one.spaces for one in score.misread} == {wrong.spaces, sound[1].spaces}
    assert score.points == round(35 - 5 + 30 * (count - 2) / count)
    text = "\n".join(score_lines(score))
    assert (
        "MISSED: 1" in text
        and fault_kinds()["wire_on_breaker"].harm in text
        and "[240.4" in text
        and "not called out" in text
    )


def test_what_was_called_out_and_not_named_counts_half_and_what_was_named_and_not_called_out_whole():
    """Of two faults the doubled screw is marked, which names it; the breaker is only read: 70 · (1 + 1/2)/2. The other way round, with no
    circuit called out, both named: 70, and of the reading the main alone."""
    made = level_two()
    read = scored(replace(made.truth, practice=Practice(code=str(made.code))))
    assert parts(read)["faults"] == pytest.approx(52.5) and [one.named for one in read.found].count(False) == 1
    assert "(called out, not named)" in "\n".join(score_lines(read))
    named = scored(
        replace(
            with_part(made.start, "old_panel", main_a=100.0), practice=Practice(code=str(made.code), named=names(made))
        )
    )
    assert parts(named)["faults"] == 70 and parts(named)["reading"] == pytest.approx(
        30 / (len(made.truth.circuits) + 1)
    )


def test_an_empty_hand_in_has_nothing():
    for level in LEVELS:
        score = scored(panel(level).start)
        assert (
            score.points <= 1
            and not score.found
            and not score.invented
            and len(score.missed) == len(panel(level).planted)
        )
        assert score.minutes is None and score.circuits_a_minute is None


def test_forty_faults_that_are_not_there_cost_five_each_and_do_not_go_below_nothing():
    """All the faults found, and three invented: 70 − 15; forty: nothing is left of the seventy, and the thirty for reading stay."""
    made = panel(1, 3)
    busy = {space for one in made.planted for space in one.spaces}
    at = [str(n) for n in range(1, 60) if str(n) not in busy]
    for count, left in ((3, 55), (40, 0)):
        job = perfect(made)
        for space in at[:count]:
            job = with_named(job, Named(kind="doubled", space=space))
        score = scored(job)
        assert len(score.invented) == count and parts(score) == {"faults": left, "reading": 30}
    forty = tuple(
        Circuit(tag=n, spaces=(str(n),), breaker_a=15.0, gauge="14", feeds="x", marks=(Mark.DOUBLED,))
        for n in range(1, 41)
    )
    called = scored(replace(made.start, circuits=forty))
    assert len(called.invented) >= 38 and 0 <= called.points <= 30


def test_the_same_mistake_named_and_called_out_is_invented_once():
    made = panel(1, 3)
    free = next(
        one for one in made.truth.circuits if one.poles == 1 and not any(one.tag == other.tag for other in made.planted)
    )
    job = change_circuit(perfect(made), free.tag, marks=(Mark.DOUBLED,))
    assert (
        len(scored(job).invented)
        == len(scored(with_named(job, Named(kind="doubled", space=free.spaces[0]))).invented)
        == 1
    )


def test_a_load_is_scored_by_how_far_it_is_off():
    """1% too much costs a tenth of the fifteen points, 10% all of them; unknown has none."""
    made = panel(4, 2)
    job, load = perfect(made), made.truth.loads[0]
    true = scored(job).sized.true_va
    assert scored(with_part(job, "dwelling", area=None)).sized.load_va is None
    assert parts(scored(with_part(job, "dwelling", area=None)))["load"] == 0
    more = change_load(job, load.id, nameplate=load.nameplate.changed(amount=load.nameplate.amount * 1.1))
    off = abs(scored(more).sized.load_va - true) / true
    assert 0 < off < 0.1 and parts(scored(more))["load"] == pytest.approx(15 * (1 - off / 0.1))
    assert parts(scored(with_part(job, "dwelling", area=9000.0)))["load"] == 0


def test_a_layout_costs_two_points_a_splice_above_the_fewest():
    made = panel(4, 3)
    job = perfect(made)
    best = scored(job).laid
    keys = list(job.decisions.placements)
    swapped = dict(job.decisions.placements) | {}
    singles = [key for key in keys if plan(made.truth).branch(key).poles == 1]
    for one, other in zip(singles[::2], singles[1::2], strict=False):
        swapped[one], swapped[other] = swapped[other], swapped[one]
    worse = scored(with_part(job, "decisions", placements=swapped))
    assert best.splices == best.fewest and worse.laid.splices > worse.laid.fewest == best.fewest
    assert parts(worse)["layout"] == max(0, 10 - 2 * (worse.laid.splices - best.fewest))
    assert parts(scored(with_part(job, "decisions", placements={})))["layout"] == 0


def test_an_order_of_the_dark_hours_is_judged_by_needs_and_by_the_shortest_dark():
    """Two tasks the wrong way round: 3 points. One that can be done before: its minutes, a point for ten. One left out: 3 points."""
    made = panel(4)
    truth = plan(made.truth)
    tasks = truth.changeover.tasks
    dark = [one.id for one in tasks if one.phase == "dark"]
    good = order_judged(dark, truth)
    assert good.wrong == () and good.dark_min == good.least_min == sum(
        one.usual_min for one in tasks if one.phase == "dark"
    )
    at = dark.index("old_out")
    turned = [*dark[:at], dark[at + 1], dark[at], *dark[at + 2 :]]
    bad = order_judged(turned, truth)
    assert len(bad.wrong) == 1 and "stands before" in bad.wrong[0] and bad.dark_min == good.dark_min
    early = next(one for one in tasks if one.phase == "before")
    longer = order_judged([early.id, *dark], truth)
    assert longer.wrong == () and longer.dark_min - longer.least_min == early.usual_min
    short = order_judged(dark[:-1], truth)
    assert len(short.wrong) == 1 and "left out" in short.wrong[0] and short.dark_min == good.dark_min
    assert not order_judged([], truth).given and order_judged(["nonsense"], truth).dark_min == 0
    points = [
        parts(scored(with_part(perfect(made), "practice", order=tuple(order))))["dark hours"]
        for order in (dark, turned, [early.id, *dark], [])
    ]
    assert points == [15, 12, pytest.approx(15 - early.usual_min / 10), 0]
    mixed = pool(truth, made.code)
    assert (
        sorted(one.id for one in mixed) == sorted(one.id for one in tasks)
        and mixed != tasks
        and mixed == pool(truth, made.code)
    )


def test_a_job_that_is_of_no_practice_panel_is_refused():
    with pytest.raises(PracticeError, match="of no practice panel: it has no code"):
        scored(blank_job())
    with pytest.raises(PracticeError, match="another version"):
        scored(with_part(blank_job(), "practice", code="93-00000-0"))
    old = with_part(replace(panel(1).start, practice=Practice()), "heading", title=f"Practice {panel(1).code}")
    assert scored(old).code == str(panel(1).code), "an older hand-in has it in its title"


# --- what is kept back --------------------------------------------------------------------------------------------------
def test_nothing_is_given_away_before_the_hand_in_and_nothing_kept_back_after_it():
    made = panel(4, 2)
    before = begun(made.code, EIGHT)
    veiled = replace(made.truth, practice=before.practice)
    assert [one.id for one in plan(veiled).findings] == ["practice.kept_back"], "nothing is said to be in order either"
    (told,) = plan(with_part(veiled, "decisions", accepted={"practice.kept_back": "quiet"})).findings
    assert told.open and told.severity.name == "STOP", "no reason quiets it, and every sheet bears it"
    assert {link.verdict for link in plan(veiled).walk.chain} == {"kept back until you hand in"}
    assert all(plan(veiled).stage_state(stage) != "settled" for stage in plan(veiled).filled)
    with pytest.raises(DayError, match="kept back until you hand in"):
        plan(veiled).changeover.schedule()
    shown = plan(handed_in(veiled, EIGHT + timedelta(minutes=9)))
    assert {one.id for one in shown.findings} == {one.id for one in plan(made.truth).findings}
    assert not any(link.verdict.startswith("kept back") for link in shown.walk.chain)


def test_the_clock_of_level_five_ends_it_and_its_customer_calls_in_between():
    code = Code(5, 7)
    job = begun(code, EIGHT)
    minutes = lambda n: EIGHT + timedelta(minutes=n)  # noqa: E731
    assert left_s(job, minutes(10)) == (CLOCK_MIN - 10) * 60 and left_s(begun(Code(4, 7), EIGHT), minutes(10)) is None
    assert [is_called(job, minutes(n)) for n in (CALLS_MIN - 1, CALLS_MIN)] == [False, True]
    assert not is_called(begun(Code(4, 7), EIGHT), minutes(100))
    assert handed_in(job, minutes(55)).practice.handed_in == minutes(CLOCK_MIN).isoformat(), (
        "what comes later was not worked on"
    )
    assert scored(handed_in(job, minutes(33))).minutes == 33
    late = with_part(job, "practice", handed_in=minutes(50).isoformat())
    assert scored(late).over_min == 10 and "10 min past the clock" in "\n".join(score_lines(scored(late)))
    assert scored(with_part(job, "practice", handed_in="yesterday")).minutes is None


# --- naming -------------------------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("text", "kind", "space"),
    [
        ("5 doubled", "doubled", "5"), ("two wires under one screw at 5", "doubled", "5"), ("space 5: two wires under one screw", "doubled", "5"),
        ("odd tandem 9a", "odd_tandem", "9a"), ("gec small", "gec_small", ""), ("No bonding jumper around the water meter", "no_jumper", ""),
    ],
)  # fmt: skip
def test_a_fault_is_named_by_its_words_or_its_key(text, kind, space):
    assert read_named(text) == Named(kind=kind, space=space)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [("doubled", "At which space?"), ("5 gremlins", '"5 gremlins" names no fault; there are:'), ("", "no fault")],
)
def test_what_names_no_fault_is_refused_in_a_sentence(text, sentence):
    with pytest.raises(PracticeError, match=sentence.replace("?", r"\?")):
        read_named(text)


def test_a_fault_is_named_once_and_can_be_taken_back():
    job = with_named(with_named(panel(2).start, read_named("5 doubled")), read_named("5 doubled"))
    assert job.practice.named == (Named(kind="doubled", space="5"),) and without_named(job, {0}).practice.named == ()
    full = job
    for n in range(199):
        full = with_named(full, Named(kind="doubled", space=str(n + 6)))
    with pytest.raises(PracticeError, match="200 faults are named already"):
        with_named(full, read_named("4 doubled"))


# --- progress -----------------------------------------------------------------------------------------------------------
def test_progress_is_kept_line_by_line_and_a_torn_line_costs_itself_alone(tmp_path):
    keep(tmp_path, of_panel(scored(perfect(panel(2))), EIGHT))
    with (tmp_path / NAME).open("ab") as file:
        file.write(b'{"at": "20')  # the machine went down here
    keep(tmp_path, of_drill(Run("bond", 12, 9, 180.0), EIGHT))
    progress = kept(tmp_path)
    assert progress.unread == 1 and [one.words for one in progress.done] == [
        f"11/28/2026  Panel {panel(2).code}: 100 of 100, 20 min",
        "11/28/2026  Bond or not: 9 of 12 right, 3 min",
    ]
    head, first, second = rows(progress.done)
    assert dict(zip(head, first, strict=True))["points of 100"] == "100" and second[1:6] == [
        "Bond or not",
        "",
        "",
        "9",
        "12",
    ]
    assert kept(tmp_path / "none").done == ()


# --- the command --------------------------------------------------------------------------------------------------------
def test_a_panel_is_made_called_out_and_scored(tmp_path, capsys):
    code = str(Code(4, 12_345))
    assert main(["practice", "--code", code, "--out", str(tmp_path)]) == 0
    job, drawing = tmp_path / f"practice-{code}.ledger.json", tmp_path / f"practice-{code}.svg"
    assert drawing.read_text().startswith("<") and (tmp_path / f"practice-{code}-house.svg").exists()
    assert read_job(job).circuits == () and code in capsys.readouterr().out
    assert main(["practice", "--score", str(job)]) == 1 and f"Practice {code}: " in capsys.readouterr().out
    made = exercise(read_code(code))
    write_job(replace(perfect(made), practice=Practice(code=code, order=perfect(made).practice.order)), job)
    said = [word for one in names(made) for word in ("--fault", f"{one.kind} {one.space}")]
    assert main(["practice", "--score", str(job), *said]) == 0 and "100 of 100" in capsys.readouterr().out
    assert (
        main(["practice", "--score", str(job), "--fault", "gremlins"]) == 2
        and "names no fault" in capsys.readouterr().err
    )
    assert (
        main(["practice", "--code", code, "--out", str(tmp_path)]) == 2
        and "is there already" in capsys.readouterr().err
    )
    assert (
        main(["practice", "--code", code, "--level", "3"]) == 2 and "is of level 4, not 3." in capsys.readouterr().err
    )
    assert main(["arrange", str(job)]) == 2 and "kept back" in capsys.readouterr().err
    assert main(["practice", "--level", "3", "--out", str(tmp_path / "new")]) == 0
    assert len(list((tmp_path / "new").glob("practice-13-*"))) == 2


def test_an_instructor_has_codes_for_a_class_and_a_table_of_results(tmp_path, capsys):
    assert main(["practice", "--codes", "20", "--level", "2"]) == 0
    head, *table = list(csv.reader(capsys.readouterr().out.splitlines()))
    assert head == ["number", "code"] and [row[0] for row in table] == [str(n) for n in range(1, 21)]
    assert {read_code(row[1]).level for row in table} == {2} and len({row[1] for row in table}) == 20
    good, empty = exercise(read_code(table[0][1])), exercise(read_code(table[1][1]))
    for name, job in (("anna", perfect(good)), ("ben", empty.start), ("cora", blank_job())):
        write_job(job, tmp_path / f"{name}.ledger.json")
    (tmp_path / "dan.ledger.json").write_text("{")
    assert main(["practice", "--results", str(tmp_path)]) == 0
    head, *table = list(csv.reader(capsys.readouterr().out.splitlines()))
    assert [dict(zip(head, row, strict=True))["points"] for row in table] == ["100", "0", "", ""]
    assert (
        table[0][head.index("minutes")] == "20.0" and "it has no code" in table[2][-1] and "is damaged" in table[3][-1]
    )
    assert (
        main(["practice", "--results", str(tmp_path / "none")]) == 2
        and "is no folder of hand-ins." in capsys.readouterr().err
    )
