"""What a stage says of itself: its name, its pages and the places on them. The one list of stages is the folders of
`desk/stages`, each with a module `spec` that is good for its `SPEC`."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from msgspec import Struct

from robust_ledger.desk import stages
from robust_ledger.ledger.place import Place
from robust_ledger.plan import Plan


class PageSpec(Struct, frozen=True):
    """A page: the module of its stage's folder, the words on its button with the key to press, the places it shows, each in full
    ("panel:aic_a") or as a kind ("fit"), and whether its picture is kept with the documentation."""

    name: str
    words: str
    places: tuple[str, ...] = ()
    pictured: bool = False

    @property
    def view(self) -> str:
        """The class of the page in its module: "fault" is FaultPage."""
        return f"{self.name.capitalize()}Page"


class StageSpec(Struct, frozen=True):
    """A stage of the spine. `order` is its place there; `places` are those that belong to it without a page of their own, or
    to the page they are said to be on; `opening` names the entries whose working it opens with; `filled` says of a plan whether
    there is something in it, where the plan has no word of its own for that; `settled`: whether it is over, where no open finding is not
    enough; `alone`: it is on the spine for some jobs only, and those open with it; `line`: the
    stage whose call-out line it has, where not one of its own."""

    name: str
    title: str
    order: int
    pages: tuple[PageSpec, ...] = ()
    places: tuple[str, ...] = ()
    opening: Callable[[Plan], tuple[str, ...]] = lambda _plan: ()
    filled: Callable[[Plan], bool] | None = None
    settled: Callable[[Plan], bool] | None = None
    pictured: bool = False
    alone: Callable[[Plan], bool] | None = None
    line: str = ""

    @property
    def view(self) -> str:
        """The class of the stage in its folder's module `stage`."""
        return f"{self.name.capitalize()}Stage"

    @property
    def help_file(self) -> str:
        """Its page among the help."""
        return f"{self.name}.md"

    def page_of(self, place: Place) -> str:
        """The page a place is on; "" where it is not on one of its own."""
        named = {one: page.name for page in self.pages for one in page.places}
        return next((named[key] for key in _ways(place) if key in named), "")

    def is_for(self, plan: Plan) -> bool:
        """Whether a job has this stage."""
        return self.alone is None or self.alone(plan)

    def state(self, plan: Plan) -> str:
        """ "empty", "in work" or "settled": settled has something in it and no open finding."""
        state = plan.stage_state(self.name, self.filled(plan) if self.filled else None)
        return "in work" if state == "settled" and self.settled and not self.settled(plan) else state


def opens_with(*entry_ids: str) -> Callable[[Plan], tuple[str, ...]]:
    """A stage that always opens with the same entries."""
    return lambda _plan: entry_ids


@cache
def manifest() -> dict[str, StageSpec]:
    """Every stage by its name, in the order of the spine."""
    found = [
        import_module(f"{stages.__name__}.{folder.name}.spec").SPEC
        for folder in iter_modules(stages.__path__)
        if folder.ispkg
    ]
    return {spec.name: spec for spec in sorted(found, key=lambda spec: spec.order)}


@cache
def _stages_by_place() -> dict[str, str]:
    return {
        place: spec.name
        for spec in manifest().values()
        for place in (*spec.places, *(place for page in spec.pages for place in page.places))
    }


def stage_of(place: Place) -> str:
    """The stage that shows a place; "" for an unknown kind."""
    known = _stages_by_place()
    return next((known[key] for key in _ways(place) if key in known), "")


def _ways(place: Place) -> tuple[str, ...]:
    """A place as it may have been named, the most exact first: in full, without its inner field, by its kind."""
    kind, name = place.kind, place.name
    return place, f"{kind}:{name.partition('.')[0]}", kind
