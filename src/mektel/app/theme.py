"""Colours, type and spacing of the application itself, in two themes."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QPainter, QPalette, QPen
from PySide6.QtWidgets import QApplication

from mektel.core.text.fonts import FONTS

STYLE = Path(__file__).parent / "style.qss"
# The one spacing scale.
GAP_1, GAP_2, GAP_3, GAP_4, GAP_5 = 4, 8, 12, 16, 20
UI, CODE = "Hanken Grotesk", "Spline Sans Mono"


@dataclass(frozen=True)
class Theme:
    name: str
    ground: str
    panel: str
    raised: str
    well: str
    ink: str
    dim: str
    hairline: str
    accent: str
    on_accent: str
    second: str
    good: str
    warn: str
    bad: str
    checker: tuple[str, str]


SAILCLOTH = Theme(
    "Sailcloth", "#EFEAE0", "#F8F5EE", "#FFFFFF", "#E9E2D3", "#22302F", "#5A6663", "#D5CDBD",
    "#B8472A", "#FFFFFF", "#1F6F78", "#35703F", "#8A5A10", "#A1342A", ("#E2DBCB", "#F2EEE4"),
)
NIGHT = Theme(
    "Night crossing", "#14201F", "#1B2A29", "#223534", "#101A19", "#E9E4D8", "#9DAAA4", "#31474A",
    "#F0805A", "#1A1210", "#5FB7B5", "#7CC08A", "#E0B04C", "#F08A7C", ("#22312F", "#2C3D3B"),
)
_current = SAILCLOTH


def theme() -> Theme:
    return _current


def load_fonts() -> None:
    for file in sorted(FONTS.glob("*/*.ttf")):
        QFontDatabase.addApplicationFont(str(file))


def apply_theme(choice: str) -> None:
    """``choice`` is ``light``, ``dark`` or ``desktop``."""
    global _current
    application = QApplication.instance()
    assert isinstance(application, QApplication)
    if choice == "desktop":
        dark = application.styleHints().colorScheme() == Qt.ColorScheme.Dark
    else:
        dark = choice == "dark"
    _current = NIGHT if dark else SAILCLOTH
    style = STYLE.read_text(encoding="utf-8")
    for field, value in vars(_current).items():
        if isinstance(value, str):
            style = style.replace(f"@{field};", f"{value};")
    if application.styleSheet() == style:
        return  # every window that is open would be styled anew
    application.setFont(ui_font(13))
    palette = QPalette()
    for role, value in (
        (QPalette.ColorRole.Window, _current.ground), (QPalette.ColorRole.Base, _current.raised),
        (QPalette.ColorRole.AlternateBase, _current.panel),
        (QPalette.ColorRole.Text, _current.ink), (QPalette.ColorRole.WindowText, _current.ink),
        (QPalette.ColorRole.ButtonText, _current.ink), (QPalette.ColorRole.Button, _current.panel),
        (QPalette.ColorRole.Highlight, _current.accent),
        (QPalette.ColorRole.HighlightedText, _current.on_accent),
        (QPalette.ColorRole.PlaceholderText, _current.dim),
        (QPalette.ColorRole.ToolTipBase, _current.ink),
        (QPalette.ColorRole.ToolTipText, _current.panel),
    ):
        palette.setColor(role, QColor(value))
    application.setPalette(palette)
    application.setStyleSheet(style)


def ui_font(size: int, weight: int = 400) -> QFont:
    font = QFont(UI)
    font.setPixelSize(size)
    font.setWeight(QFont.Weight(weight))
    font.setFeature(QFont.Tag("tnum"), 1)
    return font


def code_font(size: int) -> QFont:
    font = QFont(CODE)
    font.setPixelSize(size)
    return font


def paint_selected(painter: QPainter, box: QRectF) -> None:
    """The bracket corners that mark what is selected; never taken for part of the design."""
    arm = 13.0
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = QPen(QColor(_current.accent), 2.5)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    painter.setPen(pen)
    for x, step in ((box.left(), 1), (box.right(), -1)):
        for y, down in ((box.top(), 1), (box.bottom(), -1)):
            painter.drawPolyline([
                QPointF(x + step * arm, y), QPointF(x, y), QPointF(x, y + down * arm),
            ])
    painter.restore()




def paint_warning(painter: QPainter, box: QRectF) -> None:
    """A mark beside what something is wrong with."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(_current.raised), 1.5))
    painter.setBrush(QColor(_current.bad))
    painter.drawEllipse(box)
    painter.setPen(QColor(_current.raised))
    painter.setFont(ui_font(11, 700))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "!")
    painter.restore()


def paint_focus(painter: QPainter, box: QRectF, radius: float = 5.0) -> None:
    """The keyboard focus of the application's own widgets."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(_current.second), 2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box, radius, radius)
    painter.restore()
