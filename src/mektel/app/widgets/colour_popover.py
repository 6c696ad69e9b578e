"""The popover in which a colour is made: palette, OKLCH, alpha, hex and names, eyedropper."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import (
    QCompleter,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mektel.app.theme import GAP_1, GAP_2, GAP_3
from mektel.app.widgets.colour_swatch import Swatch, Track
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.popover import Popover
from mektel.core.colour import (
    ColourError,
    colour_from_text,
    contrast_of,
    css_names,
    from_oklch,
    to_oklch,
)
from mektel.core.kit import Kit

MOST_CHROMA = 0.3


class ColourPopover(Popover):
    """Everything that makes a colour, live; closes by Escape or a click elsewhere."""

    changed = Signal(str, bool)
    drag_ended = Signal()

    def __init__(self, kit: Kit, value: str, beside: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._beside = beside
        self._picking: QImage | None = None
        self._kit = kit
        self._value = value
        (self._light, self._chroma, self._hue), self._alpha = to_oklch(kit.colour(value))
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        self.swatches: dict[str, Swatch] = {}
        if kit.palette:
            column.addWidget(self._heading("Palette"))
            column.addLayout(self._palette())
        column.addWidget(self._heading("Lightness, chroma, hue, opacity"))
        grid = QGridLayout()
        grid.setSpacing(GAP_1)
        self.tracks: dict[str, Track] = {}
        for row, (key, name, high) in enumerate((
            ("light", "Light", 1.0), ("chroma", "Chroma", MOST_CHROMA), ("hue", "Hue", 360.0),
            ("alpha", "Opacity", 1.0),
        )):
            label = PlainLabel(name, self)
            label.setProperty("role", "dim")
            track = Track(name, 0.0, high, self)
            track.moved.connect(lambda value, key=key: self._turn(key, value))
            track.released.connect(self.drag_ended)
            grid.addWidget(label, row, 0)
            grid.addWidget(track, row, 1)
            self.tracks[key] = track
        column.addLayout(grid)
        row_box = QHBoxLayout()
        self.preview = Swatch("The colour", self, 28)
        self.preview.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.entry = QLineEdit(self)
        self.entry.setAccessibleName("Colour as hex, a CSS name or a palette name")
        tip(self.entry, "#2F8C93, teal, oklch(0.6 0.1 200), or a palette name")
        names = QCompleter([*self.swatches, *css_names()], self.entry)
        names.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.entry.setCompleter(names)
        self.dropper = QPushButton("Pick", self)
        tip(self.dropper, "Take a colour from anywhere in this window")
        self.dropper.clicked.connect(self._start_picking)
        row_box.addWidget(self.preview)
        row_box.addWidget(self.entry, 1)
        row_box.addWidget(self.dropper)
        column.addLayout(row_box)
        self.contrast = PlainLabel(self)
        self.contrast.setProperty("role", "small")
        self.contrast.setVisible(bool(beside))
        column.addWidget(self.contrast)
        self.fault = PlainLabel(self)
        self.fault.setProperty("role", "bad")
        self.fault.setWordWrap(True)
        self.fault.hide()
        column.addWidget(self.fault)
        self.entry.returnPressed.connect(self._take_typed)
        self._show()

    def _heading(self, text: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setProperty("role", "heading")
        return label

    def _palette(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setSpacing(2)
        for at, entry in enumerate(self._kit.palette):
            swatch = Swatch(entry.name, self)
            tip(swatch, f"{entry.name}  {entry.colour}")
            swatch.setCheckable(True)
            swatch.show_colour(entry.colour)
            swatch.clicked.connect(lambda _=False, name=entry.name: self._take(name, False))
            grid.addWidget(swatch, at // 8, at % 8)
            self.swatches[entry.name] = swatch
        grid.setColumnStretch(8, 1)
        return grid

    def _turn(self, key: str, value: float) -> None:
        setattr(self, f"_{key}", value)
        self._value = from_oklch((self._light, self._chroma, self._hue), self._alpha)
        self._show()
        self.changed.emit(self._value, True)

    def _take(self, value: str, drag: bool) -> None:
        self._value = value
        (self._light, self._chroma, hue), self._alpha = to_oklch(self._kit.colour(value))
        self._hue = hue if self._chroma > 0.002 else self._hue
        self._show()
        self.changed.emit(value, drag)

    def _take_typed(self) -> None:
        typed = self.entry.text().strip()
        if typed in self.swatches:
            self._take(typed, False)
            return
        try:
            self._take(colour_from_text(typed), False)
        except ColourError as error:
            self.fault.setText(str(error))
            self.fault.show()
            self.adjustSize()

    def _show(self) -> None:
        light, chroma, hue, alpha = self._light, self._chroma, self._hue, self._alpha
        self.tracks["light"].show_value(light, lambda v: from_oklch((v, chroma, hue)))
        self.tracks["chroma"].show_value(
            min(chroma, MOST_CHROMA), lambda v: from_oklch((light, v, hue)))
        self.tracks["hue"].show_value(hue, lambda v: from_oklch((light, max(chroma, 0.08), v)))
        self.tracks["alpha"].show_value(alpha, lambda v: from_oklch((light, chroma, hue), v))
        self.preview.show_colour(self._kit.colour(self._value))
        self.entry.setText(self._value)
        self.fault.hide()
        for name, swatch in self.swatches.items():
            swatch.setChecked(name == self._value)

        if self._beside:
            ratio = contrast_of(self._kit.colour(self._value), self._beside)
            level = "AAA" if ratio >= 7 else "AA" if ratio >= 4.5 else (
                "AA for large text only" if ratio >= 3 else "too low to read")
            self.contrast.setText(f"Contrast {ratio:.1f} with what is beside it: {level}")

    # The eyedropper

    def _start_picking(self) -> None:
        """The next press anywhere in the window takes the colour there; Escape gives up."""
        window = self._window()
        self._picking = window.grab().toImage()
        self.dropper.setText("Press anywhere")
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setMouseTracking(True)
        self.grabMouse()

    def _window(self) -> QWidget:
        parent = self.parentWidget()
        assert parent is not None
        return parent.window()

    def _pixel(self, event: QMouseEvent) -> str:
        assert self._picking is not None
        window = self._window()
        spot = window.mapFromGlobal(event.globalPosition().toPoint())
        ratio = self._picking.devicePixelRatio()
        at = QPoint(round(spot.x() * ratio), round(spot.y() * ratio))
        if not self._picking.rect().contains(at):
            return ""
        return self._picking.pixelColor(at).name().upper()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._picking is not None:
            colour = self._pixel(event)
            if colour:
                self.preview.show_colour(colour)
                self.entry.setText(colour)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._picking is None:
            super().mousePressEvent(event)
            return
        colour = self._pixel(event)
        self._stop_picking()
        if colour:
            self._take(colour, False)

    def _stop_picking(self) -> None:
        self.releaseMouse()
        self._picking = None
        self.setMouseTracking(False)
        self.unsetCursor()
        self.dropper.setText("Pick")
        self._show()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self._picking is not None and event.key() == Qt.Key.Key_Escape:
            self._stop_picking()
        else:
            super().keyPressEvent(event)

    def open_below(self, widget: QWidget) -> None:
        super().open_below(widget)
        self.entry.setFocus()
        self.entry.selectAll()

    def closeEvent(self, event: object) -> None:
        self.drag_ended.emit()
        super().closeEvent(event)  # type: ignore[arg-type]
