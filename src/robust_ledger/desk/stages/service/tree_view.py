"""The tree of panels as a drawing one can work on: add, carry to another feed, take out, with the keyboard or the mouse."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from robust_ledger.desk.kit.scene_view import SceneView
from robust_ledger.desk.kit.theme import LOOK
from robust_ledger.drawing.scene import Scene
from robust_ledger.installation.tree_drawing import TreeRow, row_box, tree_height, tree_rows, tree_scene
from robust_ledger.job.keys import MAIN
from robust_ledger.plan import Plan

# What a key adds below the row in view.
KINDS: dict[int, str] = {
    Qt.Key.Key_Insert: "panel",
    Qt.Key.Key_Plus: "panel",
    Qt.Key.Key_D: "disconnect",
    Qt.Key.Key_T: "transfer",
    Qt.Key.Key_S: "splice_box",
}


class TreeView(SceneView):
    """Holds the row in view and what is in hand. Signals carry ids of panels."""

    picked = pyqtSignal(str)
    add_asked = pyqtSignal(str, str)
    remove_asked = pyqtSignal(str)
    feed_asked = pyqtSignal(str, str)
    edit_asked = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("Panels, as they are fed", self._draw, (600, 160))
        self.nodes: tuple[TreeRow, ...] = ()
        self.in_hand = ""
        self.dragged = False
        self.setMinimumSize(0, 0)

    def _draw(self, plan: Plan, width: float, _height: float) -> Scene:
        self.nodes = tree_rows(plan.installation, spaces_words(plan))
        return tree_scene(self.nodes, width)

    def sizeHint(self) -> QSize:
        return QSize(LOOK.px(600), LOOK.px(tree_height(self.nodes) if self.nodes else 40))

    def minimumSizeHint(self) -> QSize:
        return QSize(LOOK.px(360), self.sizeHint().height())

    def show_plan(self, plan: Plan) -> None:
        key = self.key
        super().show_plan(plan)
        if key in [node.key for node in self.nodes]:
            self.choose(key)
        if self.in_hand and self.in_hand not in [node.key for node in self.nodes]:
            self.in_hand = ""
        self.updateGeometry()

    @property
    def key(self) -> str:
        """The row under the cursor."""
        return self.nodes[self.current].key if self.current < len(self.nodes) else MAIN

    def choose(self, key: str) -> None:
        """Put the cursor on a row."""
        self.current = next((n for n, node in enumerate(self.nodes) if node.key == key), self.current)
        self._describe()
        self.update()

    def middle_of(self, key: str) -> QPointF:
        """The middle of a row, in the widget's own points."""
        number = [node.key for node in self.nodes].index(key)
        box = row_box(self.nodes, number, self.width() / LOOK.scale)
        return QPointF(box.x + box.width / 2, box.y + box.height / 2) * LOOK.scale

    # --- keyboard -------------------------------------------------------------------------------------------------
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = event.key()
        if key in KINDS and not event.modifiers() & ~Qt.KeyboardModifier.ShiftModifier:
            self.add_asked.emit(self.key, KINDS[key])
        elif key == Qt.Key.Key_Delete:
            self.remove_asked.emit(self.key)
        elif key == Qt.Key.Key_F2:
            self.edit_asked.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._put(self.key) if self.in_hand else self._pick(self.key)
        elif key == Qt.Key.Key_Escape and self.in_hand:
            self._let_go()
        else:
            super().keyPressEvent(event)

    def _pick(self, key: str) -> None:
        if self._fixed(key):
            self.said.emit("The meter and the disconnect ahead of the main panel stay where they are.")
            return
        self.in_hand = key
        self.said.emit("In hand. Arrows choose what is to feed it, Enter puts it there, Esc lets go.")
        self.update()

    def _fixed(self, key: str) -> bool:
        """Whether a row stays where it is: the meter, and the disconnect ahead of the main panel."""
        return any(node.key == key and node.fixed and key != MAIN for node in self.nodes)

    def _put(self, target: str) -> None:
        held, self.in_hand, self.dragged = self.in_hand, "", False
        self.said.emit("")
        if target != held:
            self.feed_asked.emit(held, target)
        self.update()

    def _let_go(self) -> None:
        self.in_hand, self.dragged = "", False
        self.said.emit("")
        self.update()

    # --- mouse ----------------------------------------------------------------------------------------------------
    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is not None and self._under(event.position()) == self.key and not self._fixed(self.key):
            self.in_hand, self.dragged = self.key, False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.in_hand and event.buttons() & Qt.MouseButton.LeftButton:
            self.dragged = True
            if target := self._under(event.position()):
                self.choose(target)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or not self.in_hand:
            return
        target = self._under(event.position())
        if self.dragged and target and target != self.in_hand:
            self._put(target)
        else:
            self._let_go()

    def _under(self, point: QPointF) -> str:
        at = point / LOOK.scale
        for number, node in enumerate(self.nodes):
            box = row_box(self.nodes, number, self.width() / LOOK.scale)
            if box.y <= at.y() <= box.y + box.height and at.x() >= box.x:
                return node.key
        return ""

    # --- painting -------------------------------------------------------------------------------------------------
    def _go(self, number: int) -> None:
        super()._go(number)
        self.picked.emit(self.key)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        held = next((n for n, node in enumerate(self.nodes) if node.key == self.in_hand), None)
        painter = QPainter(self)
        painter.scale(LOOK.scale, LOOK.scale)
        for number, style in ((held, Qt.PenStyle.DashLine), (self.current, Qt.PenStyle.SolidLine)):
            if number is not None and number < len(self.nodes):
                box = row_box(self.nodes, number, self.width() / LOOK.scale)
                painter.setPen(QPen(LOOK.color("accent"), 2, style))
                painter.drawRect(int(box.x) - 2, int(box.y) - 2, int(box.width) + 4, int(box.height) + 4)


def spaces_words(plan: Plan) -> dict[str, str]:
    """What each panel has of its spaces, in words."""
    made = {}
    for panel_id, bench in plan.benches.items():
        spaces = bench.job.panel.spaces
        used = bench.spaces_used.text()
        made[panel_id] = f"{used} of {spaces} spaces" if spaces else "label not read"
    return made
