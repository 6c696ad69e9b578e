"""The colours of the palette, a row each."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QLineEdit, QMenu, QPushButton, QScrollArea, QWidget

from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.colour_popover import ColourPopover
from mektel.app.widgets.colour_swatch import Swatch
from mektel.app.widgets.layouts import remove_later
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import tip
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit, palette_edits
from mektel.core.kit import Swatch as PaletteColour

ROW, MOST_HEIGHT = 30, 284


class SwatchRow:
    """A palette colour: its value in the scheme that is looked at, its name, who uses it."""

    def __init__(self, rows: SwatchRows, at: int) -> None:
        self.rows, self.bench, self.name = rows, rows.bench, ""
        self.swatch = Swatch("", rows.inside)
        self.swatch.clicked.connect(self._open)
        self.entry = QLineEdit(rows.inside)
        self.entry.setProperty("flat", True)
        tip(self.entry, "Renaming it updates everything that uses it")
        self.entry.editingFinished.connect(self._rename)
        self.used = QPushButton(rows.inside)
        self.used.setObjectName("quiet")
        self.used.clicked.connect(self._show_menu)
        rows.grid.addWidget(self.swatch, at, 0)
        rows.grid.addWidget(self.entry, at, 1)
        rows.grid.addWidget(self.used, at, 2, Qt.AlignmentFlag.AlignRight)

    def remove(self) -> None:
        for widget in (self.swatch, self.entry, self.used):
            remove_later(widget)

    def show_swatch(self, swatch: PaletteColour) -> None:
        if swatch.name != self.name:
            self.name = swatch.name
            self.entry.setText(swatch.name)
            self.entry.setAccessibleName(f"Name of colour {swatch.name}")
            self.swatch.setAccessibleName(f"Colour {swatch.name}")
        self.swatch.show_colour(self.bench.drawn.colour(self.name))
        users = palette_edits.users_of(self.bench.kit, self.name)
        count = len(users)
        text = f"= {swatch.formula}" if swatch.formula else (
            "not used" if not count else "1 use" if count == 1 else f"{count} uses")
        self.used.setText(text if len(text) < 22 else f"{text[:20]}…")
        tip(self.used, "Used by " + ", ".join(users) if users else "Nothing uses it")

    def _open(self) -> None:
        name, bench = self.name, self.bench
        if name not in {swatch.name for swatch in bench.drawn.palette}:
            return  # undone a moment ago, and this row is about to go
        self.rows.opened.emit(name)
        popover = ColourPopover(bench.drawn, bench.drawn.colour(name), "", self.swatch)

        def take(value: str, drag: bool) -> None:
            colour = bench.drawn.colour(value)
            scheme = bench.selection.scheme
            bench.edit(f"colour {name}",
                       lambda kit: palette_edits.set_swatch(kit, name, colour, scheme),
                       ("swatch", name, scheme) if drag else None)

        popover.changed.connect(take)
        popover.drag_ended.connect(bench.end_drag)
        popover.open_below(self.swatch)

    def _rename(self) -> None:
        new = self.entry.text().strip()
        if new and new != self.name and self.entry.isModified():
            old = self.name
            self.entry.setModified(False)
            self.bench.edit(f"rename colour {old}",
                            lambda kit: palette_edits.rename(kit, old, new))
            self.entry.setText(self.name)  # refused, or as it was once made a name

    def _show_menu(self) -> None:
        menu = QMenu(self.used)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        name, bench = self.name, self.bench
        for user in palette_edits.users_of(bench.kit, name):
            known = next(
                (control.id for control in bench.kit.controls if control.name == user), None)
            if known:
                add_action(menu, f"Select {user}", bench.select, known)
        menu.addSeparator()
        other = menu.addMenu("Replace it by")
        for swatch in bench.kit.palette:
            if swatch.name != name:
                add_action(
                    other,
                    swatch.name,
                    bench.edit,
                    f"replace {name} by {swatch.name}",
                    lambda kit, by=swatch.name: palette_edits.replace(kit, name, by),
                )
        follow = menu.addMenu("Follow another colour")
        for swatch in bench.kit.palette:
            for how in ("darken", "lighten"):
                word = swatch.name.replace("-", "_")
                if swatch.name != name:
                    add_action(
                        follow,
                        f"{how} {swatch.name}",
                        bench.edit,
                        f"{name} follows {swatch.name}",
                        lambda kit, text=f"{how}({word}, 0.15)": palette_edits.set_swatch_formula(
                            kit, name, text
                        ),
                    )
        add_action(
            menu,
            "Remove; what uses it keeps the colour",
            bench.edit,
            f"remove colour {name}",
            lambda kit: palette_edits.remove(kit, name),
        )
        menu.popup(self.used.mapToGlobal(self.used.rect().bottomLeft()))


class SwatchRows(QScrollArea):
    """All of them; a row stands for a place in the palette and is kept while names change, since a
    name is taken over in the middle of a press on another row.
    """

    opened = Signal(str)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        # A long palette scrolls by itself, so that what is below it stays in sight.
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.inside = QWidget(self)
        self.inside.setObjectName("panel")
        self.grid = QGridLayout(self.inside)
        self.grid.setContentsMargins(0, 0, GAP_2, 0)
        self.grid.setHorizontalSpacing(GAP_3)
        self.grid.setVerticalSpacing(2)
        self.grid.setColumnStretch(1, 1)
        self.setWidget(self.inside)
        self._rows: list[SwatchRow] = []

    @property
    def by_name(self) -> dict[str, SwatchRow]:
        return {row.name: row for row in self._rows}

    def refresh(self, kit: Kit) -> None:
        count = len(kit.palette)
        if len(self._rows) != count:
            self.grid.setRowStretch(len(self._rows), 0)
            while len(self._rows) > count:
                self._rows.pop().remove()
            while len(self._rows) < count:
                self._rows.append(SwatchRow(self, len(self._rows)))
            self.grid.setRowStretch(count, 1)
            self.setFixedHeight(min(MOST_HEIGHT, ROW * count + 4))
        for row, swatch in zip(self._rows, kit.palette, strict=True):
            row.show_swatch(swatch)
