"""Voltages just on and just beside each limit, by hand: what is said on either side of it."""

from __future__ import annotations

import pytest

from robust_ledger.changeover.volts import judged, judged_at
from robust_ledger.job.parts.record import Volts


def at(ab, a, b, ng=0.1, point="line", **more) -> Volts:
    return Volts(point=point, leg_to_leg=ab, a_to_neutral=a, b_to_neutral=b, neutral_to_ground=ng, **more)


RETURNS = "Leg {} is lost and comes back through a load"
TWO_POLE = "A leg is lost and comes back through a 240 V load"
LIMITS = [
    # (leg to leg, leg A, leg B), what is said
    ((0.9, 0.4, 0.5), "No voltage"),
    ((1.0, 0.5, 0.5), "The voltage is too low"),
    # a leg below 30 V is lost, where the other is at 103 to 152 V and leg to leg is no more than 228 V
    ((121, 121, 29.9), "Leg B is lost"),
    ((121, 29.9, 121), "Leg A is lost"),
    ((121, 121, 30.0), "The voltage is too low"),
    ((102.7, 102.7, 0), "Leg B is lost"),
    ((102.5, 102.5, 0), "The voltage is too low"),
    ((152, 152, 0), "Leg B is lost"),
    ((152.1, 152.1, 0), "The voltage is too high"),
    ((228, 121, 0.4), "Leg B is lost"),
    ((228.1, 121, 0.4), "The voltage is too low"),
    # it comes back through a load: with leg to leg it makes up the other, to 3 parts of a hundred
    ((60, 60, 120), RETURNS.format("A")),
    ((60, 120, 60), RETURNS.format("B")),
    ((63.6, 60, 120), RETURNS.format("A")),
    ((63.7, 60, 120), "The voltage is too low"),
    ((56.5, 60, 120), RETURNS.format("A")),
    ((56.3, 60, 120), "The voltage is too low"),
    ((30, 90, 120), RETURNS.format("A")),
    ((29.9, 90.1, 120), TWO_POLE),
    ((89.9, 30.1, 120), RETURNS.format("A")),
    ((90, 30, 120), "The voltage is too low"),
    ((48.4, 60, 108.4), RETURNS.format("A")),
    ((48.2, 60, 108.2), "The voltage is too low"),
    ((72.2, 60, 132.2), RETURNS.format("A")),
    ((72.4, 60, 132.4), "The voltage is too high"),
    # next to nothing from leg to leg, and both show something
    ((29.9, 121, 121), TWO_POLE),
    ((30, 121, 121), "The voltage is too low"),
    ((20, 30.1, 121), TWO_POLE),
    ((20, 30, 121), "The voltage is too low"),
    # a hot where the neutral belongs: 217 to 264 V to it, 108 to 132 V beside
    ((120, 216.7, 120), "Neutral and the conductor of leg B are reversed"),
    ((120, 120, 216.7), "Neutral and the conductor of leg A are reversed"),
    ((120, 216.5, 120), "The voltage is too high"),
    ((120, 264.5, 120), "Neutral and the conductor of leg B are reversed"),
    ((120, 264.7, 120), "The voltage is too high"),
    ((120, 240, 108.2), "The voltage is too high"),
    ((132.4, 240, 120), "The voltage is too high"),
    # 197 to 219 V from leg to leg, the legs together 8 parts of a hundred more
    ((197, 120, 120), "A 208Y/120 V supply"),
    ((196.9, 120, 120), "The voltage is too low"),
    ((219, 120, 120), "A 208Y/120 V supply"),
    ((219.1, 120, 120), "The voltage is too low"),
    ((210, 113.5, 113.5), "A 208Y/120 V supply"),
    ((210, 113.3, 113.3), "The voltage is too low"),
    # the neutral floats: the legs add up to 228 to 252 V, to 3 parts of a hundred, and one is out of its band by more than 4 V apart
    ((240, 130, 117.2), "The neutral is open or loose"),
    ((240, 130, 117.3), "The voltage is too high"),
    ((228, 108, 120), "The neutral is open or loose"),
    ((227.9, 108, 119.9), "The voltage is too low"),
    ((252, 120, 132), "The neutral is open or loose"),
    ((252.1, 120, 132.1), "The voltage is too high"),
    ((236, 114, 122), "The legs are uneven"),
    ((235.9, 113.9, 122), "The neutral is open or loose"),
    ((235.9, 122, 113.9), "The neutral is open or loose"),
    ((244, 118, 126), "The legs are uneven"),
    ((244.1, 118, 126.1), "The neutral is open or loose"),
    ((230, 113, 117), "The voltage is too low"),
    ((230.2, 113, 117.2), "The neutral is open or loose"),
    ((240, 118, 122), "In band"),
    ((240, 117.9, 122.1), "The legs are uneven"),
    # the bands themselves
    ((228, 114, 114), "In band"),
    ((252, 126, 126), "In band"),
    ((252.5, 126, 126), "The voltage is too high"),
    ((227.5, 114, 114), "The voltage is too low"),
    ((252, 126.1, 125.9), "The voltage is too high"),
    ((228, 113.9, 114.1), "The voltage is too low"),
    ((252, 126, 113), "The voltage is too low"),  # what is at the very top of its band is not high
]  # fmt: skip


@pytest.mark.parametrize(("volts", "said"), LIMITS, ids=[str(case[0]) for case in LIMITS])
def test_what_is_said_on_either_side_of_a_limit(volts, said):
    assert judged(at(*volts)).words == said


@pytest.mark.parametrize(
    ("volts", "reason"),
    [
        ((None, 121, 121), "without leg to leg"),
        ((240, None, 121), "without leg A to neutral"),
        ((240, None, None), "without leg A to neutral, leg B to neutral"),
    ],
)
def test_what_was_not_measured_is_named(volts, reason):
    assert (judged(at(*volts)).kind, judged(at(*volts)).reason) == ("not measured", reason)


@pytest.mark.parametrize(("a", "b", "kind"), [(117, 121, "one leg twice"), (116.9, 121, "lost leg")])
def test_both_on_one_leg_show_alike_to_four_volts(a, b, kind):
    assert judged(at(0.3, a, b, loaded=False)).kind == kind


@pytest.mark.parametrize(("ground_v", "kind"), [(2.0, "good"), (2.1, "neutral to ground")])
def test_two_volts_between_neutral_and_ground_are_let_pass(ground_v, kind):
    assert judged(at(242, 121, 121, ground_v)).kind == kind


@pytest.mark.parametrize(
    ("shown_v", "low_z", "kind"),
    [(0.9, False, "dead"), (1.0, False, "ghost"), (9.9, True, "dead"), (10.0, True, "backfeed"), (1.0, None, "ghost")],
)
def test_what_shows_behind_an_open_main(shown_v, low_z, kind):
    assert judged(at(shown_v, 0.2, 0.2, point="panel", main_open=True, low_z=low_z)).kind == kind


@pytest.mark.parametrize(
    ("now", "kind"),
    [
        (
            at(240, 118.25, 121.75, loaded=True),
            "open neutral",
        ),  # 3.5 V apart, half a volt without a load: they drift by 3
        (at(240, 118.5, 121.75, loaded=True), "good"),
        (at(240, 118.25, 121.75, loaded=False), "good"),
    ],
)
def test_legs_that_drift_apart_by_three_volts_under_load(now, kind):
    assert judged(now, at(240, 119.75, 120.25, loaded=False)).kind == kind


def test_the_last_reading_counts_against_the_last_one_without_a_load():
    first, then = at(240, 116, 124, loaded=False), at(240, 120, 120.5, loaded=False)
    loaded = at(240, 118.25, 121.75, loaded=True)
    assert judged_at([first, then, loaded], "line").kind == "open neutral", "half a volt apart before, not eight"
    assert judged_at([then, first, loaded], "line").kind == "good"
    assert judged_at([loaded, first, then], "line").kind == "good"
    assert judged_at([loaded, then, first], "line").kind == "uneven"
    other = at(0.3, 0.2, 0.2, point="panel", main_open=True, low_z=True)
    assert judged_at([then, other], "line").kind == "good" and judged_at([then, other], "panel").kind == "dead"
    assert judged_at([then, other], "load").kind == "not measured"
    alive = at(240, 120, 120, point="panel", main_open=False)
    assert [judged_at([other, alive], "panel", state).kind for state in (True, False)] == ["dead", "good"]


@pytest.mark.parametrize(
    ("now", "told"), [(at(240, 90, 150, loaded=True), True), (at(240, 90, 150, loaded=False), False)]
)
def test_what_was_measured_before_is_told_only_where_the_legs_have_drifted_under_load(now, told):
    assert ("V apart without a load" in judged(now, at(240, 119.75, 120.25, loaded=False)).reason) is told
