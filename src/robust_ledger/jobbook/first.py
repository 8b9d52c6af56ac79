"""The three things that are asked at the first start, as profiles that new jobs start from."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from robust_ledger.job.parts.profiles import ProfileKind
from robust_ledger.jobbook.profile_store import ProfileStore
from robust_ledger.jobbook.profiles import Profile


class FirstAnswers(Struct, frozen=True):
    """What was answered; empty and None: nothing said. Heights of the meter's center above grade."""

    edition: str
    ahj: str = ""
    utility: str = ""
    meter_low_in: float | None = None
    meter_high_in: float | None = None
    company: str = ""
    license: str = ""


def first_profiles(said: FirstAnswers) -> Iterator[Profile]:
    """A profile of each kind that something was said of; it is named after who it is about."""
    heading = {"ahj": said.ahj} if said.ahj else {}
    yield Profile(
        "jurisdiction", said.ahj or f"NEC {said.edition}", {"edition": said.edition, **_part("heading", heading)}
    )
    utility = {"name": said.utility, "meter_low_in": said.meter_low_in, "meter_high_in": said.meter_high_in}
    company = {"company": said.company, "license": said.license}
    parts: tuple[tuple[ProfileKind, str, str, dict[str, object]], ...] = (
        ("utility", said.utility, "utility", {**utility}), ("company", said.company, "heading", {**company}),
    )  # fmt: skip
    for kind, name, part, fields in parts:
        given = {key: value for key, value in fields.items() if value not in (None, "")}
        if given:
            yield Profile(kind, name or kind, _part(part, given))


def keep_first(profile_store: ProfileStore, said: FirstAnswers) -> None:
    """Store them, and let new jobs start from them. Raises ProfileError."""
    for profile in first_profiles(said):
        profile_store.keep(profile)
        profile_store.choose(profile.kind, profile.name)


def _part(name: str, fields: dict[str, object] | dict[str, str]) -> dict[str, object]:
    return {name: dict(fields)} if fields else {}
