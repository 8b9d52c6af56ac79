"""What stays of the service and goes on with its own figures: main, disconnect and conductors as they were found."""

from __future__ import annotations

from robust_ledger.codebook.codebook import Codebook
from robust_ledger.codebook.conductors import area_cmil, sound_rating_a
from robust_ledger.job.conductors import Conductors
from robust_ledger.job.job import Job
from robust_ledger.ledger.entry import Entry, Step
from robust_ledger.ledger.place import Place
from robust_ledger.ledger.working import Working

RUNS = (
    ("riser_conductors", "Service-entrance conductors (line side)"),
    ("load_conductors", "Meter-to-panel conductors"),
)
OLD_MAIN, DISCONNECT = Place("old_panel:main_a"), Place("existing:disconnect_a")


def kept_ratings(job: Job) -> list[tuple[str, float | None, Place]]:
    """The overcurrent devices of a service that stays, each with its rating [A] as found: the old main, unless the new panel has
    none, and a service disconnect ahead of it. None where it was not read."""
    made = []
    ahead = job.kept_disconnect and not job.scope.panel_stays_first
    if ahead:
        made.append(("disconnect as found", job.existing.disconnect_a, DISCONNECT))
    if not (ahead and job.panel.main == "lugs"):
        made.append(("old main as found", job.old_panel.main_a, OLD_MAIN))
    return made


def kept_main(work: Working, job: Job, codebook: Codebook) -> Step:
    """The rating of a service that stays [A]: the smallest of its devices. A rating that is none of the standard ones was misread;
    one that was not read is unknown, unless another one was."""
    work.note("the service that is there", "stays, at its own rating")
    steps = []
    for words, rating_a, place in kept_ratings(job):
        if rating_a is None and len(kept_ratings(job)) > 1 and any(r for _w, r, _p in kept_ratings(job)):
            work.note(f"{words}: not read", "the other one is taken")
            continue
        sound = sound_rating_a(codebook, rating_a)
        label = words if sound is not None or rating_a is None else f"{words}: {rating_a:g} A is not a standard size"
        steps.append(work.given(label if sound else f"{label}, to be read", sound, "A", place))
    return steps[0] if len(steps) == 1 else work.smaller("the smaller governs", steps)


def protection_entry(job: Job, main: Entry, codebook: Codebook) -> Entry:
    """The device ahead that protects the feeder to the main panel, and its bus where that has lugs [A]: a disconnect that stays with its
    own rating, a new one with the main of the job [408.36, 240.21]."""
    work = Working("service.protection", "Disconnect ahead", DISCONNECT)
    cites = [codebook.cite("panel_protection"), codebook.cite("feeder_protection")]
    if not job.kept_disconnect:
        return work.entry(work.entry_step(main, "new disconnect, by the main"), cites)
    rating_a = job.existing.disconnect_a
    sound = sound_rating_a(codebook, rating_a)
    return work.entry(work.given("disconnect that stays: its rating", sound, "A", DISCONNECT), cites)


def guard_entry(job: Job, main: Entry, codebook: Codebook) -> Entry:
    """The device that keeps the service conductors from overload [A]: a service disconnect that stays with its own rating where it is
    larger than the main, else the main [230.90]."""
    if not job.kept_disconnect or job.scope.panel_stays_first:
        return main
    protection = protection_entry(job, main, codebook)
    return protection if protection.known and main.known and protection.amount > main.amount else main


def found_runs(job: Job) -> list[tuple[str, str, str]]:
    """The runs of service conductors: field, title and what was found, empty where it was not read."""
    return [(field, words, getattr(job.existing, field)) for field, words in RUNS]


def staying_runs(job: Job) -> list[tuple[str, str, str]]:
    """Those that this job does not make new."""
    return [one for one in found_runs(job) if one[0] not in job.scope.renews]


def conductors_stay(job: Job) -> bool:
    """Whether the job goes on with the service conductors that are there: the service stays, and no run of it is made new."""
    return job.scope.keeps_service and len(staying_runs(job)) == len(RUNS)


def there_entry(job: Job, codebook: Codebook) -> Entry:
    """The service conductors as found, the larger run where they differ: by it go electrode conductor, bonding jumper and fault
    current, where larger is the careful side. Each run's own limit is in the chain."""
    work = Working("service.conductors.there", "Service conductors as found", Place("existing:riser_conductors"))
    read = []
    for field, words, found in staying_runs(job):
        one = Conductors.read(found)
        if one is not None and area_cmil(codebook, one.size) is not None:
            read.append(one)
            work.take(Step(words.lower(), one, place=Place.of("existing", field)))
        else:
            work.note(f"{words.lower()}: not read", "?")
    if not read:
        return work.entry(work.given("service conductors as found: size and metal, to be read", None))
    largest = max(read, key=lambda one: area_cmil(codebook, one.size) or 0)
    work.note("what they are good for", "each run's own limit is told in the chain", [codebook.cite("ampacity")])
    result = work.take(Step("as found" if len(read) == 1 else "the larger of both", largest))
    return work.entry(result, [codebook.cite("ampacity")])
