"""Service: the one-line drawing and the choices, every size, the alternatives, fault current, feeder and equipment."""

from __future__ import annotations

from robust_ledger.desk.kit.page import PagedStage

_PAGE_OF = {
    "service_run:raceway": "alternatives",
    "service_run:trade_size": "alternatives",
    "service_run:nipple": "alternatives",
    "service_run:insulation": "alternatives",
    "service_run:sets": "sizes",
    "service_run:ambient_c": "sizes",
    "service_run:current_carrying": "sizes",
    "service_run:rooftop": "sizes",
    "panel:interrupting_a": "fault",
}
_PAGE_OF_PART = {"service_run": "fault", "sub_panel": "feeder", "equipment": "equipment", "conventions": "equipment"}


class ServiceStage(PagedStage):
    """Pages around what the service becomes."""

    prefix = "service"
    title = "Service"
    pages = (
        ("drawing", "One-&line"),
        ("sizes", "Si&zes"),
        ("alternatives", "Alterna&tives"),
        ("fault", "&Drop and fault"),
        ("feeder", "&Feeder"),
        ("equipment", "E&quipment"),
    )

    def page_of(self, place: str) -> str:
        return _PAGE_OF.get(place) or _PAGE_OF_PART.get(place.partition(":")[0], "drawing")
