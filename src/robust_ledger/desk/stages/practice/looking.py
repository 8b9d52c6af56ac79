"""A drawing that is larger than its page: it scrolls within itself, so that the page stays whole."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea

from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.drawing.scene import Scene
from robust_ledger.plan import Plan


class Looking(QScrollArea):
    """A scene at its full size, whatever the text size; arrows walk its parts and bring them into view."""

    def __init__(self, name: str, draw: Callable[[Plan], Scene]) -> None:
        super().__init__()
        self.view = SceneView(name, lambda plan, _width, _height: draw(plan))
        self.view.chosen.connect(self._into_view)
        self.setWidget(self.view)
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def show_plan(self, plan: Plan) -> None:
        """The scene of a plan."""
        self.view.show_plan(plan)
        self.view.setMinimumSize(LOOK.px(self.view.scene.width), LOOK.px(self.view.scene.height))

    def _into_view(self, spot: str) -> None:
        at = self.view.spot_of(spot).toPoint()
        self.ensureVisible(at.x(), at.y(), LOOK.px(90), LOOK.px(60))
