"""The palette of the kit, with who uses what; and the finish that the whole kit is drawn with."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QAbstractButton,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.dialogs import PICTURES, ask_open
from mektel.app.notices import Notice
from mektel.app.pictures import Wanted
from mektel.app.reuse.palette_values import PaletteValues
from mektel.app.reuse.swatch_rows import SwatchRow, SwatchRows
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_4, paint_focus, paint_selected
from mektel.app.widgets.argument_dials import small
from mektel.app.widgets.colour_swatch import Swatch
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.harmony import colours_of_picture, goes_with
from mektel.core.kit import Kit, palette_edits
from mektel.core.kit.edit import identifier
from mektel.core.look import resolve, shared_margins
from mektel.core.look.finishes import AS_DRAWN, finish_problem, finish_text, finishes
from mektel.formats.kitfile import read_limited

LARGEST_PICTURE = 16 * 1024 * 1024


class FinishTile(ShowsPictures, QAbstractButton):
    """The selected control as a finish draws it."""

    def __init__(self, finish: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.finish, self.bench = finish, bench
        self.watch(bench.pictures)
        self.setText(finish or "as drawn")
        self.setAccessibleName(f"Finish {self.text()}")
        tip(self, finish_text(finish) if finish else "Every control as it is designed")
        self.setFixedSize(80, 56)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(self._take)

    def _take(self) -> None:
        self.bench.edit(
            f"finish {self.text()}", lambda kit: kit.model_copy(update={"finish": self.finish})
        )

    def paintEvent(self, _event: object) -> None:
        control = self.bench.control
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        area = QRectF(self.rect())
        if control is not None:
            kit = self.bench.drawn.model_copy(update={"finish": self.finish})
            look = resolve(kit, control)
            margins = shared_margins(kit, control)
            share = min(1.0, 68 / look.width, 26 / look.height)
            ratio = self.devicePixelRatioF()
            image = self.picture(Wanted(look, share * ratio, margins))
            if image is not None:
                spot = QPointF(
                    area.center().x() - (margins.left + look.width / 2) * share,
                    20 - (margins.top + look.height / 2) * share,
                )
                painter.drawImage(
                    QRectF(spot.x(), spot.y(), image.width() / ratio, image.height() / ratio), image
                )
        box = QRectF(0, 37, area.width(), 18)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.text())
        if self.bench.kit.finish == self.finish:
            paint_selected(painter, area.adjusted(2, 2, -2, -2))
        if self.hasFocus():
            paint_focus(painter, area.adjusted(1, 1, -1, -1))


class PaletteSide(QScrollArea):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("panel")
        self.bench = bench
        self.chosen = ""
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setMinimumWidth(292)
        self.finish_tiles: dict[str, FinishTile] = {}
        self._build()

    @property
    def rows(self) -> dict[str, SwatchRow]:
        return self.colours.by_name

    def choose(self, name: str) -> None:
        self.chosen = name
        self._show_family()

    def refresh(self) -> None:
        kit = self.bench.kit
        self.schemes.setText(self._scheme_text(kit))
        self.colours.refresh(kit)
        self.values.refresh()
        if tuple(self.finish_tiles) != (AS_DRAWN, *finishes()):
            self._make_finish_tiles()
        for tile in self.finish_tiles.values():
            tile.update()
        self.finish_problem.setText(finish_problem(kit))
        self.finish_problem.setVisible(bool(finish_problem(kit)))
        self._show_family()

    def _build(self) -> None:
        self.inside = QWidget(self)
        self.inside.setObjectName("panel")
        column = QVBoxLayout(self.inside)
        column.setContentsMargins(GAP_4, GAP_3, GAP_4, GAP_4)
        column.setSpacing(GAP_2)
        head = QHBoxLayout()
        head.addWidget(self._heading("Palette of the kit"))
        head.addStretch(1)
        self.schemes = QPushButton(self.inside)
        self.schemes.setObjectName("quiet")
        self.schemes.setAccessibleName("Schemes")
        tip(self.schemes, "Other values for the same names, such as for night")
        self.schemes.clicked.connect(self._show_schemes)
        head.addWidget(self.schemes)
        column.addLayout(head)
        self.colours = SwatchRows(self.bench, self.inside)
        self.colours.opened.connect(self.choose)
        column.addWidget(self.colours)
        add = QHBoxLayout()
        self.add_button = QPushButton("+ colour", self.inside)
        self.add_button.setObjectName("quiet")
        self.add_button.clicked.connect(lambda: self._add_colour("#2F8C93"))
        self.picture_button = QPushButton("From a picture…", self.inside)
        self.picture_button.setObjectName("quiet")
        self.picture_button.clicked.connect(self._ask_picture)
        add.addWidget(self.add_button)
        add.addWidget(self.picture_button)
        add.addStretch(1)
        column.addLayout(add)
        self.family_heading = self._heading("")
        column.addWidget(self.family_heading)
        self.family = QHBoxLayout()
        self.family.setSpacing(GAP_1)
        column.addLayout(self.family)
        self.family_note = small(
            "each reaches 4.5 with ink or with white; press one to add it", self.inside
        )
        self.family_note.setWordWrap(True)
        column.addWidget(self.family_note)
        column.addSpacing(GAP_2)
        column.addWidget(self._heading("Lengths, times, timings, text styles"))
        self.values = PaletteValues(self.bench, self.inside)
        column.addWidget(self.values)
        column.addSpacing(GAP_2)
        column.addWidget(self._heading("Finish of the whole kit"))
        self.tiles = QGridLayout()
        self.tiles.setSpacing(GAP_1)
        self.tiles.setColumnStretch(3, 1)
        column.addLayout(self.tiles)
        self.finish_problem = PlainLabel("", self.inside)
        self.finish_problem.setProperty("role", "bad")
        self.finish_problem.setWordWrap(True)
        column.addWidget(self.finish_problem)
        column.addStretch(1)
        self.setWidget(self.inside)

    def _make_finish_tiles(self) -> None:
        empty(self.tiles)
        self.finish_tiles = {}
        for at, finish in enumerate((AS_DRAWN, *finishes())):
            tile = FinishTile(finish, self.bench, self.inside)
            self.tiles.addWidget(tile, at // 3, at % 3)
            self.finish_tiles[finish] = tile

    def _heading(self, text: str) -> QLabel:
        heading = PlainLabel(text, self.inside)
        heading.setProperty("role", "heading")
        heading.setWordWrap(True)
        return heading

    # Colours that go together

    def _show_family(self) -> None:
        kit = self.bench.drawn
        names = [swatch.name for swatch in kit.palette]
        if self.chosen not in names:
            self.chosen = names[0] if names else ""
        self.family_heading.setText(f"Goes with {self.chosen}" if self.chosen else "")
        self.family_note.setVisible(bool(self.chosen))
        empty(self.family)
        if not self.chosen:
            return
        for what, colour in goes_with(kit.colour(self.chosen)[:7]):
            chip = Swatch(f"{what} {colour}", self.inside, 36)
            chip.show_colour(colour)
            tip(chip, f"{what}, {colour}: press to add it to the palette")
            chip.clicked.connect(
                lambda _=False, colour=colour, what=what: self._add_colour(
                    colour, f"{self.chosen}-{what}"
                )
            )
            self.family.addWidget(chip)
        self.family.addStretch(1)

    def _add_colour(self, colour: str, name: str = "colour") -> None:
        taken = [swatch.name for swatch in self.bench.kit.palette]
        taken += [entry.name for entry in self.bench.kit.values]
        new = identifier(name, taken, "colour")
        if self.bench.edit(
            f"new colour {new}", lambda kit: palette_edits.set_swatch(kit, new, colour)
        ):
            self.choose(new)

    def _ask_picture(self) -> None:
        ask_open(self, "Colours of a picture", PICTURES, self.bench.folder(), self.take_picture)

    def take_picture(self, path: Path) -> None:
        """Adds the colours that a picture is mostly made of."""
        try:
            colours = colours_of_picture(read_limited(path, LARGEST_PICTURE))
        except (OSError, ValueError) as error:
            self.bench.noticed.emit(
                Notice(f"{path.name}: not read as a picture: {error}", bad=True)
            )
            return

        def make(kit: Kit) -> Kit:
            for colour in colours:
                taken = [swatch.name for swatch in (*kit.palette,)] + [f.name for f in kit.values]
                name = identifier(f"{path.stem} 1", taken, "colour")
                kit = palette_edits.set_swatch(kit, name, colour)
            return kit

        self.bench.edit(f"colours of {path.stem}", make)

    # Schemes

    def _scheme_text(self, kit: Kit) -> str:
        if len(kit.schemes) < 2:
            return "one scheme"
        return f"{self.bench.selection.scheme or kit.schemes[0]} ▾"

    def _show_schemes(self) -> None:
        kit, menu = self.bench.kit, QMenu(self.schemes)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for at, scheme in enumerate(kit.schemes):
            title = f"{scheme}: plain values" if at == 0 else scheme
            add_action(menu, f"Show {title}", lambda scheme=scheme: self.bench.view(scheme=scheme))
        menu.addSeparator()
        if len(kit.schemes) < 2:
            add_action(menu, "Add a night scheme", self._set_schemes, ("day", "night"))
        else:
            add_action(
                menu,
                "Add a scheme",
                self._set_schemes,
                (*kit.schemes, identifier("scheme", list(kit.schemes), "scheme")),
            )
            add_action(
                menu,
                f"Remove {kit.schemes[-1]}",
                self._set_schemes,
                kit.schemes[:-1] if len(kit.schemes) > 2 else (),
            )
        menu.popup(self.schemes.mapToGlobal(self.schemes.rect().bottomLeft()))

    def _set_schemes(self, schemes: tuple[str, ...]) -> None:
        if self.bench.edit("palette schemes", lambda kit: palette_edits.set_schemes(kit, schemes)):
            self.bench.view(scheme=schemes[-1] if schemes else "")
