"""Colors, fonts and sizes of the desk: two themes and one text scale, turned into a Qt style sheet."""

from __future__ import annotations

from pathlib import Path

from msgspec import Struct
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

ASSETS = Path(__file__).parents[2] / "assets"

SCALES = (0.8, 0.9, 1.0, 1.15, 1.3, 1.5)
LARGE_FROM = 1.3


class Theme(Struct, frozen=True):
    """One set of colors. Text pairs hold WCAG AA against `page`, `side` and `wash`; a test checks it."""

    name: str
    page: str
    side: str
    wash: str
    field: str
    ink: str
    faint: str
    rule: str
    accent: str
    head: str
    head_ink: str
    stop: str
    fix: str
    ask: str
    note: str
    badge_ink: str

    def severity(self, word: str) -> str:
        return {"STOP": self.stop, "FIX": self.fix, "ASK": self.ask, "NOTE": self.note}[word]


DAYLIGHT = Theme(
    "daylight",
    page="#fbf9f3",
    side="#f0ecdf",
    wash="#e3eeec",
    field="#ffffff",
    ink="#1c2a33",
    faint="#57616a",
    rule="#cfc8b6",
    accent="#0a5f66",
    head="#22313b",
    head_ink="#f7f3e8",
    stop="#9c1c28",
    fix="#9a4208",
    ask="#6b5400",
    note="#3f5a66",
    badge_ink="#ffffff",
)
BASEMENT = Theme(
    "basement",
    page="#151b20",
    side="#1c2429",
    wash="#22383c",
    field="#10161a",
    ink="#ece6d8",
    faint="#a9b0b3",
    rule="#3b464d",
    accent="#7fd0cb",
    head="#0c1114",
    head_ink="#ece6d8",
    stop="#ff9a94",
    fix="#ffb27a",
    ask="#e6cf6a",
    note="#a9c8d6",
    badge_ink="#10161a",
)
THEMES = {theme.name: theme for theme in (DAYLIGHT, BASEMENT)}


class Look:
    """The look in force; painted widgets read it at every paint."""

    def __init__(self) -> None:
        self.theme = DAYLIGHT
        self.scale = 1.0
        self.room_px = 0  # width that a page has; the window tells it
        self._fonts: dict[tuple[int, bool], QFont] = {}
        self._colors: dict[tuple[str, str], QColor] = {}

    @property
    def large(self) -> bool:
        """Text so large that pages leave out what is only there to look at."""
        return self.scale >= LARGE_FROM

    def px(self, size: float) -> int:
        """A length at the current text size [pixels]."""
        return max(1, round(size * self.scale))

    def font(self, size: float, bold: bool = False) -> QFont:
        """The shipped face at a pixel size; its figures are all of one width."""
        key = (self.px(size), bold)
        if key not in self._fonts:
            font = QFont("B612")
            font.setPixelSize(key[0])
            font.setBold(bold)
            self._fonts[key] = font
        return self._fonts[key]

    def color(self, name: str) -> QColor:
        """A color of the theme in force; painters ask thousands of times."""
        key = (self.theme.name, name)
        if key not in self._colors:
            self._colors[key] = QColor(getattr(self.theme, name))
        return self._colors[key]


LOOK = Look()


def load_fonts() -> None:
    """Make the fonts that ship with the program known to Qt."""
    for path in sorted((ASSETS / "fonts").glob("*.ttf")):
        QFontDatabase.addApplicationFont(str(path))


def apply_look(app: QApplication, theme: Theme, scale: float) -> None:
    """Put a theme and a text scale in force for the whole application. Done anew it costs every widget there is, so not where it holds."""
    LOOK.theme, LOOK.scale = theme, scale
    sheet = style_sheet(theme)
    if app.styleSheet() == sheet and app.font() == LOOK.font(13):
        return
    palette = QPalette()
    for role, color in (
        (QPalette.ColorRole.Window, theme.page),
        (QPalette.ColorRole.Base, theme.field),
        (QPalette.ColorRole.Text, theme.ink),
        (QPalette.ColorRole.WindowText, theme.ink),
        (QPalette.ColorRole.Button, theme.side),
        (QPalette.ColorRole.ButtonText, theme.ink),
        (QPalette.ColorRole.Highlight, theme.accent),
        (QPalette.ColorRole.HighlightedText, theme.page),
        (QPalette.ColorRole.PlaceholderText, theme.faint),
        (QPalette.ColorRole.Link, theme.accent),
        (QPalette.ColorRole.ToolTipBase, theme.side),
        (QPalette.ColorRole.ToolTipText, theme.ink),
    ):
        palette.setColor(role, QColor(color))
    app.setPalette(palette)
    app.setFont(LOOK.font(13))
    app.setStyleSheet(sheet)


def style_sheet(theme: Theme) -> str:
    """The style sheet of a theme at the size of text that is chosen."""
    px = LOOK.px
    t = theme
    return f"""
    QWidget {{ font-family: "B612"; font-size: {px(13)}px; color: {t.ink}; }}
    QMainWindow, QStackedWidget, QScrollArea, #page {{ background: {t.page}; border: 0; }}
    QScrollArea > QWidget > QWidget {{ background: {t.page}; }}
    #head, #head QLabel, #head QMenuBar {{ background: {t.head}; color: {t.head_ink}; }}
    #head QMenuBar::item {{ background: transparent; padding: {px(5)}px {px(9)}px; color: {t.head_ink}; }}
    #head QMenuBar::item:selected {{ background: {t.accent}; color: {t.page}; }}
    #title {{ font-size: {px(15)}px; font-weight: bold; }}
    #spine, #bottom, #margin {{ background: {t.side}; }}
    #margin {{ background: {t.page}; border-left: 1px solid {t.rule}; }}
    #bottom {{ border-top: 2px solid {t.ink}; }}
    #notice {{ background: {t.wash}; border-top: 1px solid {t.rule}; }}
    #notice[serious="true"] QLabel {{ color: {t.stop}; font-weight: bold; }}
    QLabel {{ background: transparent; }}
    QLabel[role="heading"] {{ font-size: {px(15)}px; font-weight: bold; }}
    QLabel[role="section"] {{ font-size: {px(12)}px; font-weight: bold; }}
    QLabel[role="faint"] {{ color: {t.faint}; font-size: {px(12)}px; }}
    QLabel[role="fault"] {{ color: {t.stop}; font-size: {px(12)}px; }}
    QLabel[role="alarm"] {{ color: {t.stop}; font-size: {px(17)}px; font-weight: bold; }}
    QLabel[role="verdict"] {{ font-size: {px(17)}px; font-weight: bold; }}
    QLabel[role="live"] {{ color: {t.accent}; }}
    QMenu {{ background: {t.page}; border: 1px solid {t.rule}; }}
    QMenu::item {{ padding: {px(5)}px {px(22)}px; }}
    QMenu::item:selected {{ background: {t.accent}; color: {t.page}; }}
    QMenu::item:disabled {{ color: {t.faint}; }}
    QMenu::separator {{ height: 1px; background: {t.rule}; margin: 3px 8px; }}
    QLineEdit, QComboBox, QPlainTextEdit {{ background: {t.field}; border: 1px solid {t.faint}; border-radius: 3px;
        padding: {px(3)}px {px(6)}px; selection-background-color: {t.accent}; selection-color: {t.page}; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {t.accent}; padding: {px(2)}px {px(5)}px; }}
    QLineEdit[fault="true"] {{ border: 2px solid {t.stop}; }}
    QComboBox::drop-down {{ border: 0; width: {px(18)}px; }}
    QComboBox::down-arrow {{ image: url({(ASSETS / f"icons/down-{t.name}.svg").as_posix()}); width: {px(10)}px; height: {px(10)}px; }}
    QComboBox QAbstractItemView {{ background: {t.field}; border: 1px solid {t.rule}; selection-background-color: {t.accent};
        selection-color: {t.page}; }}
    #callout {{ font-family: "B612 Mono"; font-size: {px(18)}px; padding: {px(9)}px {px(12)}px; border: 2px solid {t.accent}; }}
    #sayline {{ font-family: "B612 Mono"; padding: {px(3)}px {px(8)}px; }}
    #floating {{ background: {t.page}; border-top: 1px solid {t.rule}; padding: {px(3)}px 0; }}
    QPushButton {{ background: {t.field}; border: 1px solid {t.faint}; border-radius: 3px; padding: {px(4)}px {px(12)}px; }}
    QPushButton:hover {{ background: {t.wash}; }}
    QPushButton:focus {{ border: 2px solid {t.accent}; padding: {px(3)}px {px(11)}px; }}
    QPushButton:checked {{ background: {t.accent}; color: {t.page}; border-color: {t.accent}; }}
    QPushButton:disabled {{ color: {t.faint}; border-color: {t.rule}; }}
    QPushButton[role="quiet"] {{ background: transparent; border: none; color: {t.accent}; padding: 0; text-align: left; }}
    QPushButton[role="main"] {{ background: {t.accent}; color: {t.page}; border-color: {t.accent}; font-weight: bold; }}
    QPushButton[role="quiet"] {{ background: transparent; border: none; color: {t.accent}; padding: 0; text-align: left; }}
    QPushButton[role="main"]:disabled {{ background: {t.field}; color: {t.faint}; border-color: {t.rule}; font-weight: normal; }}
    QProgressBar {{ border: 1px solid {t.faint}; border-radius: 3px; background: {t.field}; text-align: center; }}
    QProgressBar::chunk {{ background: {t.wash}; }}
    QSpinBox {{ background: {t.field}; border: 1px solid {t.faint}; border-radius: 3px; padding: {px(3)}px {px(6)}px; }}
    QSpinBox:focus {{ border: 2px solid {t.accent}; padding: {px(2)}px {px(5)}px; }}
    QListView::indicator {{ width: {px(14)}px; height: {px(14)}px; border: 1px solid {t.faint}; background: {t.field}; border-radius: 2px; }}
    QListView::indicator:checked {{ background: {t.accent}; border: 1px solid {t.accent};
        image: url({(ASSETS / f"icons/check-{t.name}.svg").as_posix()}); }}
    QCheckBox, QRadioButton {{ spacing: {px(7)}px; background: transparent; }}
    QCheckBox::indicator {{ width: {px(14)}px; height: {px(14)}px; border: 1px solid {t.faint}; background: {t.field}; border-radius: 2px; }}
    QCheckBox::indicator:checked {{ background: {t.accent}; border: 1px solid {t.accent};
        image: url({(ASSETS / f"icons/check-{t.name}.svg").as_posix()}); }}
    QRadioButton::indicator {{ width: {px(13)}px; height: {px(13)}px; border: 1px solid {t.faint}; background: {t.field};
        border-radius: {px(7)}px; }}
    QRadioButton::indicator:checked {{ border: {px(4)}px solid {t.accent}; width: {px(7)}px; height: {px(7)}px; }}
    QRadioButton:checked {{ font-weight: bold; color: {t.accent}; }}
    QRadioButton:focus {{ color: {t.accent}; }}
    QCheckBox:focus {{ color: {t.accent}; }}
    QTableView {{ background: {t.page}; border: 0; gridline-color: transparent; outline: 0;
        selection-background-color: {t.wash}; selection-color: {t.ink}; }}
    QTableView::item {{ padding: 0 {px(5)}px; }}
    QHeaderView {{ background: {t.page}; }}
    QHeaderView::section {{ background: {t.page}; color: {t.faint}; font-size: {px(12)}px; border: 0;
        border-bottom: 1px solid {t.ink}; padding: {px(3)}px {px(5)}px; }}
    QTextBrowser {{ background: {t.page}; border: 0; }}
    QListView[role="photos"] {{ border: 1px dashed {t.rule}; }}
    QListView {{ background: {t.page}; border: 0; outline: 0; }}
    QListView::item {{ padding: {px(4)}px; border-bottom: 1px solid {t.rule}; }}
    QListView::item:selected {{ background: {t.wash}; color: {t.ink}; }}
    QToolTip {{ background: {t.side}; color: {t.ink}; border: 1px solid {t.rule}; padding: 4px; }}
    QScrollBar:vertical {{ background: transparent; width: {px(10)}px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: {px(10)}px; margin: 0; }}
    QScrollBar::handle {{ background: {t.rule}; border-radius: {px(4)}px; min-height: {px(28)}px; min-width: {px(28)}px; }}
    QScrollBar::handle:hover {{ background: {t.faint}; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; width: 0; height: 0; }}
    QPdfView {{ border: 1px solid {t.rule}; }}
    """
