"""The marking order: nothing opens before the panel is stated to be dead, and no pass is skipped in silence."""

from __future__ import annotations

import pytest
from builders import circuit, finding_ids, house
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.branch.passes import PASSES, dead, standings
from robust_ledger.job.edits import with_part
from robust_ledger.job.job import Job
from robust_ledger.job.parts.circuits import Mark
from robust_ledger.plan import plan

SIGNED = {"first_tester": "proving unit 1", "second_tester": "lamp", "proved_before": True, "proved_after": True,
          "signed_by": "O.", "signed_at": "2026-12-03 08:05"}  # fmt: skip


def at_work(passes: dict[str, str], **statement) -> Job:
    job = house(1500, circuits=(circuit(1, marks=(Mark.CAPPED,)), circuit(2, marks=(Mark.WHITE_HOT,)), circuit(3)))
    return with_part(job, "pull_off", **{**SIGNED, **statement}, passes=passes)


@pytest.mark.parametrize("missing", [{name: type(value)()} for name, value in SIGNED.items()])
def test_the_statement_is_whole_or_not_made(missing):
    assert dead(at_work({})) and not dead(at_work({}, **missing))
    assert {s.state for s in standings(at_work({}, **missing))} == {"waiting"}
    assert "pass.dead" in finding_ids(plan(at_work({"capped": "done"}, **missing)))
    assert "pass.dead" not in finding_ids(plan(at_work({}, **missing))), "nothing begun, nothing asked"


@pytest.mark.parametrize(
    ("hold", "proved"),
    [
        ({"signed_by": "O.", "ticks": {"tester1_here": "0"}, "facts": {"tester1_here": "first tester"}}, True),
        ({"signed_by": "O.", "ticks": {}, "facts": {"tester1_here": "first tester"}}, False),
        ({"signed_by": "O."}, False),
        (
            {"signed_by": "O.", "ticks": {"tester1_here": "0"}, "facts": {"tester1_here": "x"}, "overridden": "late"},
            False,
        ),
        ({"ticks": {"tester1_here": "0"}}, False),
    ],
)
def test_the_hold_of_the_changeover_day_is_statement_enough(hold, proved):
    """Signed by its readings it need not be said again; passed for a reason, or not signed, it proves nothing."""
    job = with_part(at_work({"capped": "done"}, signed_by=""), "record", holds={"dead": hold})
    assert dead(job) == proved and ("pass.dead" not in finding_ids(plan(job))) == proved


@pytest.mark.parametrize(
    ("passes", "states", "found"),
    [
        ({}, ["open", "waiting", "waiting", "waiting"], set()),
        ({"capped": "done"}, ["done", "open", "waiting", "waiting"], set()),
        ({"capped": "done", "white": "later"}, ["done", "later", "open", "waiting"], {"pass.white"}),
        ({"capped": "done", "white": "later", "dark": "done"}, ["done", "later", "done", "open"], {"pass.white", "pass.order:dark"}),
        ({"white": "done"}, ["open", "done", "waiting", "waiting"], {"pass.order:white"}),
        (dict.fromkeys(("capped", "white", "dark", "removal"), "done"), ["done"] * 4, set()),
    ],
)  # fmt: skip
def test_how_the_passes_stand(passes, states, found):
    job = at_work(passes)
    assert [s.state for s in standings(job)] == states
    assert {one for one in finding_ids(plan(job)) if one.startswith("pass.")} == found


def test_each_pass_holds_its_own_circuits():
    tags = {s.one.key: [c.tag for c in s.circuits] for s in standings(at_work({}))}
    assert tags == {"capped": [1], "white": [2], "dark": [], "removal": [1, 2, 3]}


@given(st.dictionaries(st.sampled_from([one.key for one in PASSES]), st.sampled_from(["done", "later"])), st.booleans())
def test_at_most_one_pass_is_open_and_only_behind_closed_ones(passes, signed):
    job = at_work(passes, signed_by="O." if signed else "")
    states = [s.state for s in standings(job)]
    assert states.count("open") <= 1
    if "open" in states:
        assert signed and all(state in ("done", "later") for state in states[: states.index("open")])
