"""What the job does: answers, each of which decides what is asked and which calculations are open."""

from typing import Annotated, Literal

from msgspec import Meta

from robust_ledger.job.parts.base import Model
from robust_ledger.job.parts.said import said

Renewed = Literal["riser", "riser_conductors", "load_conductors", "feeder"]


class Scope(Model, frozen=True, kw_only=True):
    """Answers in any combination; an empty one is not given yet."""

    service: Annotated[
        Literal["", "kept", "kept_for_now", "upgraded", "split"],
        said(
            "Service",
            "kept; kept now with a larger panel, to be upgraded later; upgraded; split over several panels",
            choices={
                "": "not answered",
                "kept": "stays as it is",
                "kept_for_now": "stays for now, larger panel",
                "upgraded": "upgraded",
                "split": "split, several panels",
            },
        ),
    ] = ""
    panel_place: Annotated[
        Literal["", "same", "moved"],
        said("Panel", choices={"": "not answered", "same": "where it was", "moved": "moved"}),
    ] = ""
    old_boxes: Annotated[
        Literal["", "one", "several"],
        said(
            "Old boxes",
            "several old boxes: merged into one",
            choices={"": "not answered", "one": "one", "several": "several into one"},
        ),
    ] = ""
    disconnect: Annotated[
        Literal["", "as_is", "new", "gone"],
        said(
            "Disconnect ahead",
            "the disconnect ahead of the panel: as it is, new, or taken out",
            choices={"": "not answered", "as_is": "as found", "new": "added or replaced", "gone": "taken out"},
        ),
    ] = ""
    disconnect_kind: Annotated[
        Literal["", "service", "meter", "supply"],
        said(
            "Disconnect is a",
            "service disconnect; meter disconnect, or another one on the supply side, that is no service equipment",
            choices={
                "": "not answered",
                "service": "service disconnect",
                "meter": "meter disconnect",
                "supply": "other, supply side",
            },
        ),
    ] = ""
    feeder: Annotated[
        Literal["", "as_is", "renewed"],
        said(
            "Feeder, other panel",
            "the feeder of a panel behind the panel, on the same day",
            choices={"": "not answered", "as_is": "as found, or none", "renewed": "renewed"},
        ),
    ] = ""
    renews: Annotated[
        tuple[Renewed, ...],
        Meta(description="conductors and raceways that this job makes new; meter socket and disconnect have their own"),
    ] = ()

    @property
    def said(self) -> bool:
        """Whether it is known what becomes of the service; the other answers have a plain case each."""
        return self.service != ""

    @property
    def keeps_service(self) -> bool:
        """Whether the service that is there goes on carrying the house at its present rating."""
        return self.service in ("kept", "kept_for_now")

    @property
    def new_service(self) -> bool:
        """Whether the service is made new, from the service head to the panel."""
        return self.service in ("upgraded", "split")

    @property
    def split(self) -> bool:
        """Whether the service is split over several panels."""
        return self.service == "split"

    @property
    def panel_stays_first(self) -> bool:
        """Whether the disconnect ahead is none of the service: panel and bond stay what they were [230.85]."""
        return self.disconnect_kind in ("meter", "supply")
