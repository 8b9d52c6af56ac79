"""The stored profiles: a folder of small files, one a profile, and which of them new jobs start from."""

from __future__ import annotations

import json
import os
from contextlib import suppress
from pathlib import Path
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from robust_ledger.job.doors import read_plain
from robust_ledger.job.files import MAX_BYTES, JobFileError, read_whole, text_of
from robust_ledger.job.job import Job, blank_job
from robust_ledger.job.parts.conventions import OwnWord
from robust_ledger.job.parts.profiles import ProfileKind
from robust_ledger.job.whole import private_folder, write_text
from robust_ledger.jobbook.profiles import (
    KINDS,
    SUFFIX,
    Profile,
    ProfileError,
    into,
    moved_on,
    profile_text,
    read_profile,
)
from robust_ledger.ledger.text import reason_of

CHOSEN = "new-jobs.json"
MOST = 500
BEFORE = "utilities.json"  # where utilities' figures were kept before there were profiles


class StoredProfile(Struct, frozen=True):
    """What is stored: the profiles by kind and name, and a sentence for each file that is none."""

    profiles: tuple[Profile, ...] = ()
    faults: tuple[str, ...] = ()

    def of_kind(self, kind: ProfileKind) -> tuple[Profile, ...]:
        """The profiles of a kind."""
        return tuple(profile for profile in self.profiles if profile.kind == kind)

    def find(self, kind: ProfileKind, name: str) -> Profile | None:
        """The profile of a kind and name; None where there is none."""
        return next((profile for profile in self.profiles if profile.key == (kind, name)), None)


class ProfileStore:
    """The profiles of this user, in a folder."""

    def __init__(self, home: Path) -> None:
        self.home, self.root = home, home / "profiles"

    def all(self) -> StoredProfile:
        """Every profile; a file that cannot be read is told and left as it is."""
        self._take_over_utilities()
        made: dict[tuple[str, str], Profile] = {}
        faults: list[str] = []
        try:
            names = sorted(name for name in os.listdir(self.root) if name.endswith(SUFFIX))
        except FileNotFoundError:
            return StoredProfile()
        except OSError as problem:
            return StoredProfile((), (f"The profiles in {self.root} cannot be read: {reason_of(problem)}.",))
        if len(names) > MOST:
            faults.append(f"There are more than {MOST} profiles in {self.root}; the others are left out.")
        for name in names[:MOST]:
            try:
                one = read_profile(text_of(read_whole(self.root / name), name), name)
            except (ProfileError, JobFileError) as problem:
                faults.append(str(problem))
                continue
            if one.key in made:
                faults.append(f'{name} is a second {one.kind} profile "{one.name}"; the first one counts.')
            made.setdefault(one.key, one)
        order = sorted(made.values(), key=lambda one: (KINDS.index(one.kind), one.name.casefold()))
        return StoredProfile(tuple(order), tuple(faults))

    def keep(self, profile: Profile) -> None:
        """Store a profile, in the place of the one of its kind and name; what else that one's file has stays in it. Raises
        ProfileError."""
        before = self.all().find(profile.kind, profile.name) if self.root.is_dir() else None
        if before is not None:
            profile = replace(profile, unknown={**before.unknown, **profile.unknown}, rest=profile.rest or before.rest)
        try:
            private_folder(self.root)
            write_text(self._file(profile), profile_text(profile), private=True)
        except (OSError, ValueError) as problem:
            reason = reason_of(problem) if isinstance(problem, OSError) else str(problem)
            raise ProfileError(f'The profile "{profile.name}" could not be kept: {reason}.') from None

    def remove(self, profile: Profile) -> None:
        """Take a profile out; jobs made from it keep their copy. Raises ProfileError."""
        try:
            self._file(profile).unlink(missing_ok=True)
        except OSError as problem:
            raise ProfileError(f'The profile "{profile.name}" could not be removed: {reason_of(problem)}.') from None

    def chosen(self) -> dict[ProfileKind, str]:
        """Names of the profiles that new jobs start from, by kind."""
        data: Any = None
        with suppress(OSError, ValueError, RecursionError):
            data = json.loads(read_plain(self.root / CHOSEN, 20_000))
        if not isinstance(data, dict):
            return {}
        return {kind: data[kind] for kind in KINDS if isinstance(data.get(kind), str)}

    def choose(self, kind: ProfileKind, name: str) -> None:
        """Let new jobs start from a profile of a kind; from none with "". Raises ProfileError."""
        made = {**self.chosen(), kind: name}
        try:
            private_folder(self.root)
            text = json.dumps({key: value for key, value in made.items() if value}, indent=2) + "\n"
            write_text(self.root / CHOSEN, text, private=True)
        except OSError as problem:
            raise ProfileError(f"What new jobs start from could not be kept: {reason_of(problem)}.") from None

    def new_job(self, names: dict[ProfileKind, str] | None = None) -> Job:
        """An empty job made from the chosen profiles, or from those named by kind."""
        job, shelved = blank_job(), self.all()
        for kind, name in (self.chosen() if names is None else names).items():
            profile = shelved.find(kind, name)
            job = into(job, profile) if profile is not None else job
        return job

    def learn(self, job: Job, word: OwnWord) -> str:
        """Put a word of the user's into the company profile: the one the job was made from, else the one new jobs start from. Answers its name, ""
        where there is none. Raises ProfileError."""
        name = next((one.name for one in job.profiles if one.kind == "company"), self.chosen().get("company", ""))
        profile = self.all().find("company", name) if name else None
        if profile is None:
            return ""
        held = dict(profile.says.get("conventions", {}))
        words = [one for one in held.get("line_words", ()) if one.get("word") != word.word]
        held["line_words"] = [*words, {"word": word.word, "means": word.means}]
        self.keep(replace(profile, says={**profile.says, "conventions": held}))
        return name

    def moved(self, job: Job) -> list[tuple[Profile, list[str]]]:
        """The profiles a job was made from that have moved on, each with what changed in words."""
        if not job.profiles:
            return []
        shelved = self.all()
        found = ((profile, shelved.find(profile.kind, profile.name)) for profile in job.profiles)
        return [(now, words) for _was, now in found if now is not None and (words := moved_on(job, now))]

    def _file(self, profile: Profile) -> Path:
        """The file of a profile: where it is already, else one by its name."""
        with suppress(OSError):
            for name in sorted(os.listdir(self.root)):
                if name.startswith(f"{profile.kind}-") and name.endswith(SUFFIX):
                    with suppress(ProfileError, JobFileError):
                        if read_profile(text_of(read_whole(self.root / name), name), name).key == profile.key:
                            return self.root / name
        stem = "".join(c if c.isalnum() else "-" for c in profile.name.lower()).strip("-")[:60] or "profile"
        names = (f"{profile.kind}-{stem}{'' if n == 1 else f'-{n}'}{SUFFIX}" for n in range(1, 10_000))
        return next(self.root / name for name in names if not os.path.lexists(self.root / name))

    def _take_over_utilities(self) -> None:
        """Utilities' figures kept by an earlier version become profiles, once; a file that cannot be taken over stays where it is."""
        old = self.home / BEFORE
        if not old.is_file():
            return
        with suppress(OSError, ValueError, KeyError, TypeError, RecursionError):
            listed = json.loads(read_plain(old, MAX_BYTES))["utilities"]
            made = [Profile("utility", str(one["name"]).strip(), {"utility": dict(one)}) for one in listed]
            ready = [read_profile(profile_text(one), BEFORE) for one in made]
            os.replace(old, f"{old}~")
            for one in ready:
                self.keep(one)
