"""Profiles: what is the same on every job, entered once. A profile is a small part of a job under a name; a job made from it keeps its
own copy of what it said then, and can tell when it has moved on.

Which fields a kind holds is data: `profiles.toml`. What a profile does not say it leaves alone.
"""

from __future__ import annotations

import json
import tomllib
from collections.abc import Iterator, Mapping
from functools import cache
from importlib.resources import files
from typing import Any, cast, get_args

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.files import JobFileError, document_of
from robust_ledger.job.job import VERSION, Job, blank_job
from robust_ledger.job.parts.base import AsGiven, Model, plain
from robust_ledger.job.parts.errors import ModelError
from robust_ledger.job.parts.profiles import ProfileKind, TakenProfile
from robust_ledger.job.upgrades import UPGRADES
from robust_ledger.jobbook.differences import differences, value_text, words_and_unit

FORMAT = "robust-ledger-profile"
PROFILE_VERSION = 1
SUFFIX = ".ledger-profile.json"
KINDS: tuple[ProfileKind, ...] = get_args(ProfileKind)
_HEAD = ("format", "version", "kind", "name", "job_format", "says")


class ProfileError(ValueError):
    """A profile that cannot be read, kept or found; the message is one sentence."""


class KindSpec(Struct, frozen=True):
    """A kind of profile: its words, what it is about, and the ways to its fields."""

    words: str
    about: str
    fields: tuple[str, ...]


class Profile(Struct, frozen=True):
    """A profile. `says`: a part of a job's document. `unknown` and `rest`: what else its file has, beside it and within it, written back
    as it was. `left`: what in it is no part of its kind, in words."""

    kind: ProfileKind
    name: str
    says: dict[str, Any]
    unknown: dict[str, Any] = {}
    rest: dict[str, Any] = {}
    left: tuple[str, ...] = ()

    @property
    def key(self) -> tuple[str, str]:
        """What tells it apart: its kind and name."""
        return self.kind, self.name

    @property
    def job(self) -> Job:
        """An empty job that has what the profile says, and nothing else."""
        return _into(blank_job(), self)


class Refreshed(Struct, frozen=True):
    """A job with a profile as it is now: what was taken over, and what the job keeps since it was changed there by hand."""

    job: Job
    taken: tuple[str, ...]
    kept: tuple[str, ...]


@cache
def kind_specs() -> dict[ProfileKind, KindSpec]:
    """What each kind holds."""
    data = tomllib.loads(files("robust_ledger.jobbook").joinpath("profiles.toml").read_text(encoding="utf-8"))
    return {kind: KindSpec(one["words"], one["about"], tuple(one["fields"])) for kind in KINDS for one in [data[kind]]}


# --- reading and writing ------------------------------------------------------------------------------------------------
def read_profile(text: str, name: str) -> Profile:
    """A profile from its JSON document; `name` is what messages call it. Raises ProfileError."""
    try:
        data = document_of(text, name)
    except JobFileError as problem:
        raise ProfileError(str(problem).replace("a job file", "a profile")) from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise ProfileError(f"{name} is not a profile of Robust Ledger.")
    version, form = data.get("version"), data.get("job_format", VERSION)
    if any(not isinstance(one, int) or isinstance(one, bool) or one < 1 for one in (version, form)):
        raise ProfileError(f"{name} does not say which version of a profile it is.")
    if cast(int, version) > PROFILE_VERSION or form > VERSION:
        raise ProfileError(f"{name} was written by a newer version of Robust Ledger; it was left as it is.")
    kind, called, says = data.get("kind"), data.get("name"), data.get("says")
    if kind not in KINDS:
        raise ProfileError(f"{name} is of no kind of profile: one of {', '.join(KINDS)}.")
    if not isinstance(called, str) or not called.strip() or len(called) > 120 or not called.isprintable():
        raise ProfileError(f"{name} has no name of its own, a line of up to 120 letters.")
    if not isinstance(says, dict):
        raise ProfileError(f"{name} says nothing.")
    says, rest, left = _of_kind(_upgraded(says, form), kind)
    try:
        Job.read(says)
    except ModelError as fault:
        raise ProfileError(f"{name}: {fault.sentence}.") from None
    unknown = {key: value for key, value in data.items() if key not in _HEAD}
    return Profile(kind, called.strip(), says, unknown, rest, tuple(left))


def profile_text(profile: Profile) -> str:
    """The document of a profile, as it is written to a file."""
    head = {"format": FORMAT, "version": PROFILE_VERSION, "kind": profile.kind, "name": profile.name}
    data = {**head, "job_format": VERSION, "says": _both(profile.says, profile.rest), **profile.unknown}
    return json.dumps(data, indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def _upgraded(says: dict[str, Any], form: int) -> dict[str, Any]:
    """What a profile of an older job format says, as a job of today has it."""
    data = {"version": form, **says}
    for version in range(form, VERSION):
        data = UPGRADES[version](data)
    return {key: value for key, value in data.items() if key in says or key not in ("version", "format")}


def _of_kind(says: Mapping[str, Any], kind: ProfileKind) -> tuple[dict[str, Any], dict[str, Any], list[str]]:
    """What of a document belongs to the kind, what does not, and that in words."""
    made: dict[str, Any] = {}
    rest: dict[str, Any] = {}
    left: list[str] = []

    def sift(data: Mapping[str, Any], way: str, into: dict[str, Any], beside: dict[str, Any]) -> None:
        """Part what is of the kind from what is not, and go into objects that have some of both."""
        for key, value in data.items():
            here = f"{way}.{key}" if way else key
            if here in kind_specs()[kind].fields:
                into[key] = value
            elif isinstance(value, dict) and any(field.startswith(f"{here}.") for field in kind_specs()[kind].fields):
                sift(value, here, into.setdefault(key, {}), beside.setdefault(key, {}))
            else:
                beside[key] = value
                left.append(f"{here} is no part of a {kind} profile: it is kept in the file, and not taken")

    sift(says, "", made, rest)
    return made, {key: value for key, value in rest.items() if value != {}}, left


def _both(says: Mapping[str, Any], rest: Mapping[str, Any]) -> dict[str, Any]:
    """What a profile says with what else its file has."""
    made = dict(says)
    for key, value in rest.items():
        inner = made.get(key)
        made[key] = _both(inner, value) if isinstance(inner, dict) and isinstance(value, dict) else made.get(key, value)
    return made


# --- jobs and profiles --------------------------------------------------------------------------------------------------
def profile_of(job: Job, kind: ProfileKind, name: str) -> Profile:
    """What a job has of the fields of a kind, as a profile. What is empty in the job is not said. Raises ProfileError without a name."""
    if not name.strip():
        raise ProfileError("A profile needs a name.")
    says: dict[str, Any] = {}
    for way in _ways(kind):
        value = plain(_get(job, way))
        if value in (None, "", [], {}):
            continue
        at = says
        *above, last = way
        for part in above:
            at = at.setdefault(part, {})
        at[last] = value
    return Profile(kind, name.strip(), says)


def into(job: Job, profile: Profile) -> Job:
    """The job with what a profile says, and its own copy of it."""
    after = _into(job, profile)
    taken = TakenProfile(kind=profile.kind, name=profile.name, data=AsGiven(profile.says))
    kept = tuple(one for one in job.profiles if one.kind != profile.kind)
    return replace(after, profiles=tuple(sorted((*kept, taken), key=lambda one: KINDS.index(one.kind))))


def says_lines(profile: Profile) -> list[str]:
    """What a profile says, a line each: "meter low: 48 in"."""
    made: list[str] = []
    job = profile.job
    for way in _ways(profile.kind):
        if _is_said(profile.says, way):
            words, unit = words_and_unit(way[-1])
            value = _get(job, way)
            entries = _by_key(value) if isinstance(value, dict) or (value and isinstance(value, tuple)) else None
            if entries is None:
                made.append(f"{words}: {value_text(value, unit)}")
            else:
                made += [f"{words}, {key}: {_entry_text(one)}" for key, one in entries.items()]
    return made


def said_then(was: TakenProfile) -> list[str]:
    """What a profile said when a job took it, a line each."""
    return says_lines(_then(was))


def _entry_text(one: Any) -> str:
    if not isinstance(one, Model):
        return value_text(one, "")
    parts = [
        (name, getattr(one, name))
        for name in one.__struct_fields__
        if name not in ("unknown", "key", "word", "up_to_a")
    ]
    return ", ".join(value_text(value, words_and_unit(name)[1]) for name, value in parts if value not in (None, ""))


def taken(job: Job, kind: ProfileKind) -> TakenProfile | None:
    """The profile of a kind that a job was made from; None for none."""
    return next((profile for profile in job.profiles if profile.kind == kind), None)


def moved_on(job: Job, profile: Profile) -> list[str]:
    """What a profile says today that it did not when the job took it, in words; nothing when it has not moved on."""
    was = taken(job, profile.kind)
    return [] if was is None or was.name != profile.name else differences(_then(was).job, profile.job)


def differs(job: Job, profile: Profile) -> list[str]:
    """What the job has otherwise than the profile says, in words."""
    return differences(_into(job, profile), job)


def refreshed(job: Job, profile: Profile) -> Refreshed:
    """The job with what the profile has changed since it was taken; what the job has changed there itself stays as the job has it."""
    was = taken(job, profile.kind)
    if was is None:
        return Refreshed(into(job, profile), tuple(differences(job, _into(job, profile))), ())
    then, now, after = _then(was).job, profile.job, job
    kept: list[str] = []
    for way in _ways(profile.kind):
        before, new, mine = (_get(one, way) for one in (then, now, job))
        if before == new or mine == new:
            continue
        merged, whole = _merged(before, new, mine)
        after = _put(after, way, merged)
        if not whole:
            kept += [f"stays as this job has it: {words}" for words in differences(_put(after, way, new), after)]
    return Refreshed(into_copy(after, profile), tuple(differences(job, after)), tuple(kept))


def into_copy(job: Job, profile: Profile) -> Job:
    """The job as it is, with the copy of the profile as it is now."""
    return replace(job, profiles=into(job, profile).profiles)


def _then(was: TakenProfile) -> Profile:
    """A profile as a job took it; what cannot be read of it any more is not in it."""
    says, _rest, _left = _of_kind(was.data, was.kind)
    try:
        Job.read(says)
    except ModelError:
        says = {}
    return Profile(was.kind, was.name, says)


def _into(job: Job, profile: Profile) -> Job:
    says = Job.read(profile.says)
    for way in _ways(profile.kind):
        if _is_said(profile.says, way):
            job = _put(job, way, _get(says, way))
    return job


def _ways(kind: ProfileKind) -> Iterator[tuple[str, ...]]:
    """Every field of a kind as a way into a job; a part as a whole as all its fields."""
    for field in kind_specs()[kind].fields:
        way = tuple(field.split("."))
        held = _get(blank_job(), way)
        if isinstance(held, Model):
            yield from ((*way, name) for name in held.__struct_fields__ if name != "unknown")
        else:
            yield way


def _is_said(says: Mapping[str, Any], way: tuple[str, ...]) -> bool:
    at: Any = says
    for part in way:
        if not isinstance(at, dict) or part not in at:
            return False
        at = at[part]
    return True


def _get(job: Any, way: tuple[str, ...]) -> Any:
    for part in way:
        job = getattr(job, part)
    return job


def _put(job: Any, way: tuple[str, ...], value: Any) -> Any:
    first, *rest = way
    return replace(job, **{first: _put(getattr(job, first), tuple(rest), value) if rest else value})


def _merged(before: Any, new: Any, mine: Any) -> tuple[Any, bool]:
    """A field of the job with what the profile changed; True when all of it could be taken. Lists by their keys are gone through one by one."""
    if mine == before:
        return new, True
    tables = [_by_key(one) for one in (before, new, mine)]
    if any(table is None for table in tables):
        return mine, False
    was, now, own = cast(list[dict[str, Any]], tables)
    made, whole = dict(own), True
    for key in dict.fromkeys([*was, *now]):
        if was.get(key) == now.get(key) or own.get(key) == now.get(key):
            continue
        if own.get(key) != was.get(key):
            whole = False
        elif key in now:
            made[key] = now[key]
        else:
            made.pop(key, None)
    return (made if isinstance(mine, dict) else tuple(made.values())), whole


def _by_key(value: Any) -> dict[str, Any] | None:
    """A table, or a list of things with a key each, by it; None for anything else."""
    if isinstance(value, dict):
        return value
    if isinstance(value, tuple) and all(isinstance(one, Model) for one in value):
        for name in ("key", "word", "up_to_a"):
            if all(hasattr(one, name) for one in value):
                return {str(getattr(one, name)): one for one in value}
    return None
