"""Findings of one kind in one line: what they have in common is said once, whom it is about in a list."""

from __future__ import annotations

from builders import K, called_out, house, unknown_load
from hypothesis import given
from hypothesis import strategies as st

from robust_ledger.ledger.entry import Finding, Severity
from robust_ledger.ledger.groups import grouped
from robust_ledger.ledger.place import NOWHERE
from robust_ledger.plan import plan


def finding(title: str, kind: str = "x.same", severity: Severity = Severity.FIX, **more) -> Finding:
    fields = {"text": "text", "remedy": "remedy", **more}
    return Finding(f"{kind}:{title}", severity, "bench", NOWHERE, title, kind=kind, **fields)


def tag(number: int, frame: tuple[str, str], title: str = "Tag") -> Finding:
    return finding(f"{title} {number}", several=frame, each=str(number))


def test_what_they_have_in_common_is_said_once_and_whom_it_is_about_in_a_list():
    wire, other, mark = ("14 Cu on 20 A: tags ", ""), ("12 Cu on 30 A: tags ", ""), ("Tags ", " have a bare neutral")
    made = [tag(5, wire), tag(3, mark), tag(9, wire), tag(7, other), tag(10, mark)]
    assert [group.title for group in grouped(made)] == [
        "14 Cu on 20 A: tags 5, 9",
        "Tags 3, 10 have a bare neutral",
        "Tag 7",
    ]


def test_what_has_no_title_of_several_is_listed():
    assert [group.title for group in grouped([finding("Open splice"), finding("Missing cover")])] == [
        "Open splice; Missing cover"
    ]


def test_what_is_accepted_more_severe_or_of_another_kind_stands_apart():
    one = finding("Tag 1: no")
    others = (
        finding("Tag 2: no", accepted="seen"),
        finding("Tag 3: no", severity=Severity.STOP),
        finding("Tag 4: no", kind="x.other"),
    )
    assert [len(group.findings) for group in grouped((one, *others))] == [1, 1, 1, 1]


def test_text_and_remedy_of_a_group_are_said_once():
    (group,) = grouped((finding("Tag 1: no", text="as found"), finding("Tag 2: no", text="as found")))
    assert (group.text, group.remedy, group.alone) == ("as found", "remedy", False)


@given(
    st.lists(
        st.tuples(
            st.sampled_from(["Tag 1: a", "Tag 2: a", "pump: b", "c d"]),
            st.sampled_from(["x.k", "x.l"]),
            st.sampled_from(Severity),
        )
    )
)
def test_no_finding_is_lost_in_its_group(made):
    findings = [finding(title, kind, severity) for title, kind, severity in made]
    groups = grouped(findings)
    assert sorted(f.id for group in groups for f in group.findings) == sorted(f.id for f in findings)
    assert all(group.title and group.findings for group in groups)


def test_a_plan_speaks_in_groups():
    job = called_out(house(1500), "1 20 14 den receptacles", "3 20 14 hall lights", "5 20 12 bath receptacle")
    made = plan(job)
    assert "14 Cu on 20 A: tags 1, 2" in [group.title for group in made.groups]
    assert sum(len(group.findings) for group in made.groups) == len(made.findings)
    unread = plan(house(1500, unknown_load(K.APPLIANCE, "kiln"), unknown_load(K.MOTOR, "lathe")))
    assert "rating not known: kiln, lathe" in [group.title for group in unread.groups]
