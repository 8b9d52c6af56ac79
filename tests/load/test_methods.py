"""Which calculation is open, and which is recommended: every condition both ways."""

from __future__ import annotations

import pytest
from builders import K, house, load

from robust_ledger.job.parts.measured import Measured
from robust_ledger.load.methods import recommended_name
from robust_ledger.plan import plan

YEAR = {"route": "year", "days": 365.0, "coverage": 1.0, "peak": 9.0, "peak_at": "2025-01-18 19:00"}
MONTH = {
    "route": "thirty_days",
    "days": 32.0,
    "longest_days": 31.0,
    "coverage": 1.0,
    "peak": 40.0,
    "peak_unit": "A",
    "interval_min": 15,
    "occupied": True,
    "seasonal": True,
    "renewable": False,
}


def made(scope: str, measured: dict | None = None, **more):
    """Standard 5,100 + 8,000 + 5,500 + 4,500 + 11,520 = 34,620 VA; optional 42,520 → 23,008 VA = 96 A."""
    loads = [
        load(*one)
        for one in ((K.COOKING, "12kW"), (K.DRYER, "5.5kW"), (K.WATER_HEATER, "4.5kW"), (K.EV_CHARGER, "48A@240"))
    ]
    return plan(house(1500, *loads, scope=scope, measured=measured and Measured(**measured), **more))


@pytest.mark.parametrize(
    ("scope", "open_"),
    [
        ("unsaid", {"standard", "optional"}),
        ("upgrade", {"standard", "optional"}),
        ("split", {"standard", "optional"}),
        ("swap", {"standard", "optional", "existing"}),
        ("relocated", {"standard", "optional", "existing"}),
        ("merged", {"standard", "optional", "existing"}),
        ("sub_panel", {"standard", "optional", "existing"}),  # the service stays; the feeder is a part by itself
    ],
)
def test_open_methods_by_scope(scope, open_):
    assert {name for name, method in made(scope).load.methods.items() if method.open} == open_


@pytest.mark.parametrize(
    ("base", "change", "words"),
    [
        (YEAR, {"days": 334.0, "missing": ("1 December to 31 December",)}, "334 of 365 days; missing: 1 December to 31 December"),
        (YEAR, {"coverage": 0.98, "missing": ("20 May",)}, "98% of the readings are there; missing: 20 May"),
        (YEAR, {"exports": True}, "energy was sent out"),
        (YEAR, {"peak": None}, "none read yet"),
        (MONTH, {"longest_days": 29.0}, "29 of 30 days; a gap starts them anew"),
        (MONTH, {"interval_min": 30}, "every 30 minutes"),
        (MONTH, {"renewable": True}, "no renewable source, no peak shaving: there is"),
        (MONTH, {"renewable": None}, "no renewable source, no peak shaving: not confirmed yet"),
        (MONTH, {"occupied": False}, "not confirmed yet"),
        (MONTH, {"seasonal": False}, "neither yet"),
    ],
)  # fmt: skip
def test_what_a_recording_has_to_hold(base, change, words):
    assert made("swap", base).load.methods["measured"].open
    lacking = made("swap", {**base, **change}).load.methods["measured"]
    assert not lacking.open and words in lacking.why


def test_a_season_added_by_calculation_opens_the_30_days():
    assert made("swap", {**MONTH, "seasonal": False, "seasonal_va": 4000.0}).load.methods["measured"].open


@pytest.mark.parametrize("edition", ["2017", "2020"])
def test_renewable_sources_bar_the_30_days_in_every_edition(edition):
    """2017 does not say it as plainly: there it is marked to be verified."""
    state = made("swap", {**MONTH, "renewable": True}, edition=edition).load.methods["measured"].state
    cite = next(s.cites[0] for s in state.steps if s.label.startswith("no renewable"))
    assert state.value == "not allowed" and bool(cite.verify) is (edition == "2017")


@pytest.mark.parametrize(
    ("scope", "measured", "recommended", "reason"),
    [
        ("upgrade", None, "optional", "comes to the least load"),
        ("sub_panel", None, "existing", "the service stays"),
        ("swap", None, "existing", "carries the additions"),
        ("swap", YEAR, "measured", "really draws"),
        ("swap", {**YEAR, "days": 300.0}, "existing", "carries the additions"),
        ("upgrade", YEAR, "measured", "comes to the least load"),  # 9 kW × 125% = 47 A against 96 A
        ("upgrade", {**YEAR, "peak": 30.0}, "optional", "comes to the least load"),
    ],
)
def test_the_recommended_method(scope, measured, recommended, reason):
    advice = made(scope, measured).entries["load.recommended"]
    assert recommended_name(advice) == recommended
    assert reason in next(s.text() for s in advice.steps if s.label == "chosen because")
    assert {s.label for s in advice.steps} >= {
        "Standard calculation",
        "Optional calculation",
        "Existing dwelling",
        "Measured demand",
    }


def test_a_small_gas_house_is_less_by_the_standard_calculation():
    """2,000 ft²: standard 3,000 + 35% of 7,500 = 5,625 VA; optional 10,000 + 40% of 500 = 10,200 VA."""
    plain = plan(house(2000, scope="upgrade"))
    assert recommended_name(plain.entries["load.recommended"]) == "standard"


def test_a_main_chosen_below_100_amperes_closes_the_optional_calculation():
    assert made("upgrade").load.methods["optional"].open
    assert not made("upgrade", decisions={"main_a": 60}).load.methods["optional"].open


def test_nothing_is_recommended_while_nothing_is_known():
    advice = plan(house(None)).load.recommended
    assert not advice.known and "floor area" in advice.why_unknown


def test_every_method_leads_to_a_standard_main(demo):
    """197 → 200, 143 → 150, 152 → 175, 198 → 200."""
    mains = {name: method.main.value for name, method in plan(demo).load.methods.items()}
    assert mains == {"standard": 200, "optional": 150, "existing": 175, "measured": 200}
