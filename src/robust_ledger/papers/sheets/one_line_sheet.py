"""The one-line diagram, on a page of its own for the permit."""

from __future__ import annotations

from reportlab.platypus import Flowable, Spacer

from robust_ledger.papers.drawings import SceneFlowable, drawings_of, scene_of
from robust_ledger.papers.sheet import Sheet, missing_heading
from robust_ledger.papers.style import SMALL, WIDTH, heading_block, para
from robust_ledger.plan import Plan

TITLE = "One-line diagram"
MOST_HIGH = 560.0  # points that are left under the heading


def story(plan: Plan) -> list[Flowable]:
    """The drawing as large as the page allows."""
    parts: list[Flowable] = [*heading_block(plan, TITLE), Spacer(0, 8)]
    found = next((one for one in drawings_of(plan) if one.name == "one-line"), None)
    if found is None:
        return [*parts, para(f"Not drawn: the main is not known ({plan.service.main.why_unknown}).")]
    scene = scene_of(found, plan)
    scale = min(WIDTH / scene.width, MOST_HIGH / scene.height)
    return [
        *parts,
        SceneFlowable(scene, scale),
        Spacer(0, 6),
        para("Conductors up to the service point are the utility's.", SMALL),
    ]


def _missing(plan: Plan) -> list[str]:
    main = plan.service.main
    return missing_heading(plan) + ([] if main.known else [main.why_unknown])


SHEET = Sheet(2.5, "one-line", TITLE, _missing, story, ("permit", "file"))
