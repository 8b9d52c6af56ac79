"""What the job does, from its answers: what is asked about later, what is new, and what is touched on the way."""

from __future__ import annotations

from msgspec import Struct

from robust_ledger.job.fields import field_at
from robust_ledger.job.job import Job

TOPICS = ("chain", "grounding", "fit", "overhead", "location", "defects")


class Answer(Struct, frozen=True):
    """One possible answer to a question of the scope: its value, its words and what it means."""

    value: str
    title: str
    words: str


class Question(Struct, frozen=True):
    """A question of the scope: the field that holds the answer, its words, and the answers."""

    field: str
    title: str
    answers: tuple[Answer, ...]

    def answer(self, job: Job) -> Answer | None:
        """What this job answers; None while it does not."""
        value = getattr(job.scope, self.field)
        return next((one for one in self.answers if one.value == value), None)


def _question(name: str, **follows: str) -> Question:
    """A question of the scope with what follows from each answer; its words and theirs are the field's own."""
    field = field_at(f"scope.{name}")
    answers = tuple(Answer(value, field.choices[value], words) for value, words in follows.items())
    return Question(name, field.label, answers)


QUESTIONS = (
    _question(
        "service",
        kept="The old main, conductors and meter go on; their ratings govern.",
        kept_for_now="A larger bus, still fed at the old rating until the service follows.",
        upgraded="From the utility's conductors to the panel: mast, meter, conductors, grounding.",
        split="Too much for one 200 A panel: a 320 or 400 A class meter, a main in each panel.",
    ),
    _question(
        "panel_place",
        same="The old wires arrive where they always did.",
        moved="Old circuits are extended to the new place.",
    ),
    _question(
        "old_boxes",
        one="One old panel or fuse box.",
        several="Everything of two old panels lands in one; spaces are counted twice.",
    ),
    _question(
        "disconnect",
        as_is="None, or the one that is there with its own rating.",
        new="A new disconnect outdoors or ahead of the panel.",
        gone="The one that was found comes off; what feeds the panel is on the Panels page.",
    ),
    _question(
        "disconnect_kind",
        service="The bond is there; the panel behind it has neutrals and grounds apart.",
        meter="Not service equipment: the panel stays the service equipment, with the bond.",
        supply="Not service equipment: the panel stays the service equipment, with the bond.",
    ),
    _question(
        "feeder",
        as_is="No feeder is renewed on this day.",
        renewed="The feeder of a garage or other panel, on the same day.",
    ),
)


def questions(job: Job) -> tuple[Question, ...]:
    """The questions of this job: what kind a disconnect is, is asked once there is one."""
    return tuple(one for one in QUESTIONS if one.field != "disconnect_kind" or job.disconnect_ahead)


def title(job: Job) -> str:
    """The scope in a line: "service upgraded, panel where it was, disconnect added or replaced (meter disconnect)"."""
    if not job.scope.said:
        return "not entered yet"
    told = {question.field: answer.title for question in questions(job) if (answer := question.answer(job))}
    parts = [f"service {told['service']}"]
    parts += [f"panel {told['panel_place']}"] if "panel_place" in told else []
    parts += ["several old boxes into one"] if job.scope.old_boxes == "several" else []
    parts += ["old disconnect taken out"] if job.scope.disconnect == "gone" else []
    if job.scope.disconnect == "new":
        kind = f" ({told['disconnect_kind']})" if "disconnect_kind" in told else ""
        parts.append(f"disconnect added or replaced{kind}")
    parts += ["feeder renewed"] if job.scope.feeder == "renewed" else []
    return ", ".join(parts)


def words(job: Job) -> str:
    """What the main answers mean, in sentences."""
    if not job.scope.said:
        return "All questions are open until it is entered."
    wanted = ("service", "panel_place", "old_boxes", "disconnect", "feeder")
    plain = {"same", "one", "as_is"}
    said = [question.answer(job) for question in questions(job) if question.field in wanted]
    return " ".join(one.words for one in said if one is not None and one.value not in plain)


def renews(job: Job) -> tuple[str, ...]:
    """Parts of the house that this job makes new, for "what you touch you own"."""
    scope, made = job.scope, ["panel"] if job.scope.said else []
    if scope.new_service:
        made += ["riser", "meter", "grounding"]
    if scope.panel_place == "moved":
        made.append("branch")
    return tuple(made)


def touches(job: Job) -> tuple[str, ...]:
    """Parts of the house that it has to touch besides."""
    scope = job.scope
    if not scope.said:
        return ()
    made = ["branch", "room"]
    outside = scope.new_service or scope.feeder == "renewed" or scope.disconnect == "new"
    made += ["outdoor"] if outside else []
    made += [] if scope.new_service else ["grounding"]
    made += ["riser"] if scope.panel_place == "moved" else []
    made += ["meter"] if scope.disconnect == "new" else []
    return tuple(one for one in made if one not in renews(job))


def asked(job: Job) -> tuple[str, ...]:
    """The topics of the walk-through this job is asked about: the drop only where the service is made new, or nobody has said, and
    never with an underground lateral."""
    over = (job.scope.new_service or not job.scope.said) and not job.existing.underground
    return tuple(topic for topic in TOPICS if topic != "overhead" or over)
