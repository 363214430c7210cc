"""Colours and type: one light and one dark scheme, the same meaning in both."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication

from wattagon.record import record
from wattagon.study.findings.status import Status

FONTS = Path(__file__).resolve().parent.parent / "stock" / "fonts"
ICONS = FONTS.parent / "icons"
FAMILY = "Atkinson Hyperlegible Next"


@record(frozen=True, slots=True)
class Theme:
    """Colours by meaning.  Electrical, mechanical and heat are used for nothing else."""

    name: str
    paper: QColor
    panel: QColor
    ink: QColor
    soft: QColor  # second voice; still 4.5:1 on paper
    rule: QColor
    chosen: QColor
    electrical: QColor
    mechanical: QColor
    heat: QColor
    over: QColor
    tight: QColor
    clear: QColor

    def of(self, status: Status) -> QColor:
        """The colour of a finding's status."""
        return {Status.OVER: self.over, Status.TIGHT: self.tight, Status.CLEAR: self.clear}.get(status, self.soft)


def _theme(name: str, *codes: str) -> Theme:
    return Theme(name, *(QColor(code) for code in codes))


LIGHT = _theme(
    "light",
    "#F7F4EC",
    "#FFFDF7",
    "#26282B",
    "#5F605B",
    "#D9D3C4",
    "#E9E2D0",
    "#1F6390",
    "#5F6E22",
    "#B4481F",
    "#A3262A",
    "#8F5A00",
    "#2F6B50",
)
DARK = _theme(
    "dark",
    "#191B1D",
    "#212427",
    "#ECE8DE",
    "#A8A79F",
    "#3B3E41",
    "#34383B",
    "#74B6E2",
    "#B5C66C",
    "#F08D62",
    "#FF8085",
    "#E9B14C",
    "#82C9A8",
)
THEMES = {theme.name: theme for theme in (LIGHT, DARK)}


_SHADES: dict[tuple[int, float], QColor] = {}


def with_alpha(colour: QColor, alpha: float) -> QColor:
    """A colour made translucent, alpha 0 to 1; made once."""
    key = (colour.rgba(), alpha)
    made = _SHADES.get(key)
    if made is None:
        made = QColor(colour)
        made.setAlphaF(alpha)
        _SHADES[key] = made
    return made


def load_fonts() -> None:
    """Register the shipped faces."""
    for path in sorted(FONTS.glob("*.ttf")):
        QFontDatabase.addApplicationFont(str(path))


_FONTS: dict[tuple[int, int], QFont] = {}


def font(pixels: int = 13, weight: int = 400) -> QFont:
    """The program's face with tabular figures; 400 or 600 (or 700) of weight."""
    made = _FONTS.get((pixels, weight))
    if made is None:
        made = QFont(FAMILY)
        made.setPixelSize(pixels)
        made.setWeight(QFont.Weight(weight))
        made.setFeature(QFont.Tag("tnum"), 1)
        _FONTS[(pixels, weight)] = made
    return made


def apply(app: QApplication, theme: Theme) -> None:
    """Dress the whole application."""
    app.setFont(font())
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, theme.paper),
        (roles.Base, theme.panel),
        (roles.AlternateBase, theme.paper),
        (roles.Button, theme.panel),
        (roles.WindowText, theme.ink),
        (roles.Text, theme.ink),
        (roles.ButtonText, theme.ink),
        (roles.PlaceholderText, theme.soft),
        (roles.Highlight, theme.electrical),
        (roles.HighlightedText, theme.panel),
        (roles.ToolTipBase, theme.panel),
        (roles.ToolTipText, theme.ink),
        (roles.Link, theme.electrical),
        (roles.Mid, theme.rule),
        (roles.Light, theme.panel),
    ):
        palette.setColor(role, colour)
    for role in (roles.Text, roles.WindowText, roles.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, theme.soft)
    app.setStyleSheet("")  # a sheet put over another takes ten times as long as one put on bare widgets
    app.setPalette(palette)
    app.setStyleSheet(_sheet(theme))


def _sheet(t: Theme) -> str:
    ink, soft, rule, panel, paper = (c.name() for c in (t.ink, t.soft, t.rule, t.panel, t.paper))
    chosen, link = t.chosen.name(), t.electrical.name()
    chevron, check = ((ICONS / f"{what}-{t.name}.svg").as_posix() for what in ("chevron", "check"))
    return f"""
    QMainWindow, QDialog {{ background: {paper}; }}
    QMenuBar {{ background: {paper}; color: {ink}; padding: 1px 6px; border: 0; }}
    QMenuBar::item {{ padding: 3px 9px; border-radius: 4px; background: transparent; }}
    QMenuBar::item:selected {{ background: {chosen}; }}
    QMenu {{ background: {panel}; color: {ink}; border: 1px solid {rule}; padding: 4px; }}
    QMenu::item {{ padding: 5px 22px 5px 14px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {chosen}; }}
    QMenu::item:disabled {{ color: {soft}; }}
    QMenu::separator {{ height: 1px; background: {rule}; margin: 4px 8px; }}
    QToolTip {{ background: {panel}; color: {ink}; border: 1px solid {rule}; padding: 4px 6px; }}
    QPushButton {{ background: {panel}; color: {ink}; border: 1px solid {rule}; border-radius: 5px; padding: 4px 11px; }}
    QPushButton:hover {{ border-color: {soft}; }}
    QPushButton:focus {{ border: 1px solid {link}; }}
    QPushButton:checked {{ background: {chosen}; border-color: {soft}; }}
    QPushButton[size="small"] {{ padding: 2px 6px; }}
    QPushButton:disabled {{ color: {soft}; }}
    QPushButton[flat="true"] {{ background: transparent; border: 1px solid transparent; padding: 3px 8px; color: {link}; }}
    QPushButton[flat="true"]:hover {{ border-color: {rule}; }}
    QPushButton[flat="true"]:focus {{ border-color: {link}; }}
    QLineEdit, QComboBox, QSpinBox {{ background: {panel}; color: {ink}; border: 1px solid {rule}; border-radius: 4px; padding: 4px 7px; }}
    QLineEdit:focus, QComboBox:focus, QSpinBox:focus {{ border: 1px solid {link}; }}
    QLineEdit[refused="true"] {{ border: 1px solid {t.over.name()}; }}
    QComboBox::drop-down {{ border: 0; width: 18px; }}
    QComboBox::down-arrow {{ image: url({chevron}); width: 10px; height: 10px; }}
    QPushButton::menu-indicator {{ image: url({chevron}); width: 10px; height: 10px; subcontrol-position: right center; right: 4px; }}
    QCheckBox {{ color: {ink}; spacing: 6px; }}
    QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {soft}; border-radius: 3px; background: {panel}; }}
    QCheckBox::indicator:checked {{ image: url({check}); }}
    QCheckBox::indicator:focus {{ border-color: {link}; }}
    QToolButton {{ color: {soft}; border: 1px solid transparent; border-radius: 4px; padding: 0 4px; }}
    QToolButton:hover {{ border-color: {rule}; color: {ink}; }}
    QToolButton:focus {{ border-color: {link}; }}
    QTabBar {{ font-weight: 600; }}
    QTabBar::tab {{ background: transparent; color: {soft}; padding: 4px 10px 5px 2px; border: 0;
        border-bottom: 2px solid transparent; margin-right: 8px; }}
    QTabBar::tab:selected {{ color: {ink}; border-bottom: 2px solid {ink}; }}
    QTabBar::tab:focus {{ color: {link}; }}
    QTabWidget::pane {{ border: 0; }}
    QComboBox QAbstractItemView {{ background: {panel}; color: {ink}; selection-background-color: {chosen};
        selection-color: {ink}; border: 1px solid {rule}; }}
    QTreeWidget, QListWidget {{ background: {panel}; color: {ink}; border: 1px solid {rule}; border-radius: 5px;
        alternate-background-color: {paper}; }}
    QTreeWidget::item, QListWidget::item {{ padding: 4px 6px; }}
    QTreeWidget#measures::item {{ padding: 1px 3px; }}
    Limits QLineEdit {{ padding: 1px 6px; }}
    GoalCard QLineEdit, GoalCard QComboBox {{ padding: 2px 4px; }}
    QTreeWidget::item:selected, QListWidget::item:selected {{ background: {chosen}; color: {ink}; }}
    QHeaderView::section {{ background: {paper}; color: {soft}; border: 0; border-bottom: 1px solid {rule}; padding: 4px 6px; }}
    QScrollArea {{ border: 0; background: transparent; }}
    QScrollBar:vertical {{ background: transparent; width: 9px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {rule}; border-radius: 4px; min-height: 28px; }}
    QScrollBar:horizontal {{ background: transparent; height: 9px; }}
    QScrollBar::handle:horizontal {{ background: {rule}; border-radius: 4px; min-width: 28px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QLabel[voice="soft"] {{ color: {soft}; }}
    QLabel[voice="over"] {{ color: {t.over.name()}; }}
    QSplitter::handle {{ background: transparent; }}
    """
