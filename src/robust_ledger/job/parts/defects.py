"""What was found wrong, and old equipment to be wary of."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Line, Model, Text


class Defect(Model, frozen=True, kw_only=True):
    """Something found wrong that is not of this job's making. `kind` names one of the catalogue, empty for a free one."""

    id: Line
    kind: Line = ""
    what: Line
    where: Line = ""
    fix: Line = ""
    part: Literal["panel", "riser", "meter", "grounding", "branch", "outdoor", "room"] = "panel"
    who: Literal["us", "owner", "utility", "other"] = "us"
    minutes: float | None = None
    material: Line = ""
    in_scope: Annotated[bool | None, Meta(description="the user's word; None goes by the practice")] = None
    state: Literal["open", "planned", "done"] = "open"
    photos: Annotated[tuple[Line, ...], Meta(max_length=40, description="files beside the job")] = ()


class Caution(Model, frozen=True, kw_only=True):
    """A match with the user's own list of equipment marks: the mark, and what the list says of it."""

    mark: Line
    text: Text
