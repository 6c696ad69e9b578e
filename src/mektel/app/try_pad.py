"""The try pad: the control, pressed for real; what is true now; what the application hears."""

from __future__ import annotations

import time
from collections import deque

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mektel.app.contrast_popover import ContrastPopover
from mektel.app.gesture_bar import GestureBar
from mektel.app.pad_area import PadArea
from mektel.app.pad_sounds import PadSounds
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_4, theme
from mektel.app.widgets.backdrop import MIDDLE
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit, states_of
from mektel.core.look import natural_size
from mektel.core.look.scene import rgba
from mektel.core.proof import LabelContrast, state_contrasts
from mektel.targets import target_named

FLAGS = ("pointer inside", "pressed", "focus", "disabled", "checked", "busy")


class Flag(PlainLabel):
    def __init__(self, text: str, parent: QWidget) -> None:
        super().__init__(text, parent)
        self.show_holds(False)

    def show_holds(self, holds: bool) -> None:
        colours = theme()
        self.holds = holds
        ground = colours.ink if holds else "transparent"
        ink = colours.panel if holds else colours.dim
        edge = colours.ink if holds else colours.hairline
        weight = 600 if holds else 400
        self.setStyleSheet(
            f"background: {ground}; color: {ink}; border: 1px solid {edge}; border-radius: 9px; "
            f"padding: 1px 8px; font-size: 12px; font-weight: {weight};"
        )


class TryPad(QWidget):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("tryPad")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.bench = bench
        self._signals: deque[tuple[str, float]] = deque(maxlen=6)
        self._shown_control = ""
        self._measured: dict[str, LabelContrast] = {}
        self._measured_for = ""
        self._mending: ContrastPopover | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_4, GAP_3, GAP_4, GAP_4)
        column.setSpacing(GAP_2)
        whole = QWidget(self)
        head = Flow(whole, 0, 0)
        title = self._heading("Try pad")
        title.setWordWrap(False)
        head.add(title)
        head.add_space()
        self.reset = QPushButton("Reset size", self)
        self.reset.setObjectName("quiet")
        tip(self.reset, "Back to the control’s own size")
        self.disable = QPushButton("Disable", self)
        self.disable.setObjectName("quiet")
        self.disable.setCheckable(True)
        self.disable.clicked.connect(self._set_disabled)
        self.busy = QPushButton("Busy", self)
        self.busy.setObjectName("quiet")
        self.busy.setCheckable(True)
        tip(self.busy, "Shows it as it is while work is under way")
        for button in (self.reset, self.busy, self.disable):
            head.add(button)
        column.addWidget(whole)
        self.area = PadArea(bench, self)
        self.reset.clicked.connect(self.area.reset_size)
        self.busy.clicked.connect(self._set_busy)
        column.addWidget(self.area, 1)
        self.gestures = GestureBar(bench, self.area.control, self)
        column.addWidget(self.gestures)
        flags = QGridLayout()
        flags.setSpacing(GAP_1)
        self.flags = {name: Flag(name, self) for name in FLAGS}
        for at, flag in enumerate(self.flags.values()):
            flags.addWidget(flag, at // 2, at % 2, Qt.AlignmentFlag.AlignLeft)
        flags.setColumnStretch(2, 1)
        column.addLayout(flags)
        column.addSpacing(GAP_1)
        column.addWidget(self._heading("Signals the application receives"))
        self._rows = QGridLayout()
        self._rows.setVerticalSpacing(2)
        self._rows.setColumnStretch(0, 1)
        self._lines: list[tuple[QLabel, QLabel]] = []
        for row in range(6):
            name, when = PlainLabel(self), PlainLabel(self)
            name.setWordWrap(True)
            when.setProperty("role", "dim")
            self._rows.addWidget(name, row, 0)
            self._rows.addWidget(when, row, 1, Qt.AlignmentFlag.AlignRight)
            self._rows.setRowMinimumHeight(row, 20)
            self._lines.append((name, when))
        column.addLayout(self._rows)
        column.addSpacing(GAP_1)
        column.addWidget(self._heading("Contrast of label on face"))
        contrast = QHBoxLayout()
        self.ratio, self.verdict = PlainLabel(self), PlainLabel(self)
        self.ratio.setProperty("role", "figure")
        contrast.addWidget(self.ratio)
        self.verdict.setWordWrap(True)
        contrast.addWidget(self.verdict, 1)
        self.mend = QPushButton("Mend…", self)
        self.mend.setObjectName("quiet")
        tip(self.mend, "Shows the states in which the label is hard to read, and the nearest "
                             "colours that pass")
        self.mend.clicked.connect(self._open_mending)
        self.mend.hide()
        contrast.addWidget(self.mend)
        column.addLayout(contrast)
        self.exempt = PlainLabel(self)
        self.exempt.setProperty("role", "small")
        self.exempt.setWordWrap(True)
        column.addWidget(self.exempt)
        self.area.control.signalled.connect(self._take_signal)
        self.area.control.flags_changed.connect(self._show_flags)
        self.sounds = PadSounds(bench, self)
        self.sounds.played.connect(lambda name: self._take_signal(f"sound: {name}"))
        self.area.control.caused.connect(self.sounds.take)
        self._clock = QTimer(self, interval=200)
        self._clock.timeout.connect(self._show_signals)
        self._show_signals()
        self._late = QTimer(self, singleShot=True, interval=120)
        self._late.timeout.connect(self._show_contrast)
        for signal in (bench.kit_changed, bench.selected_changed, bench.view_changed):
            signal.connect(lambda: bench.turns.refresh(self, self.refresh))

    def _heading(self, text: str) -> QLabel:
        label = PlainLabel(text, self)
        label.setProperty("role", "heading")
        label.setWordWrap(True)
        return label

    def sizeHint(self) -> QSize:
        return QSize(260, 600)

    def refresh(self) -> None:
        control = self.bench.control
        self.area.control.setVisible(control is not None)
        if control is None:
            return
        key = f"{control.id} {natural_size(control, kit=self.bench.drawn)}"
        if key != self._shown_control:
            self._shown_control = key
            self.area.reset_size()
        else:
            self.area.place()
        self._show_flags()
        self._late.start()

    def _set_busy(self, on: bool) -> None:
        self.area.control.set_busy(on)
        self.busy.setText("Done" if on else "Busy")
        self._show_flags()

    def _set_disabled(self, on: bool) -> None:
        live = self.area.control
        live.setEnabled(not on)
        self.disable.setText("Enable" if on else "Disable")
        self._show_flags()

    def _take_signal(self, signal: str) -> None:
        self._signals.appendleft((signal, time.monotonic()))
        self._show_signals()
        self._clock.start()

    def signal_names(self) -> list[str]:
        """What was sent, the latest first."""
        return [name for name, _ in self._signals]

    def _show_signals(self) -> None:
        now = time.monotonic()
        called = target_named(self.bench.selection.target).signals
        for at, (name, when) in enumerate(self._lines):
            if at >= len(self._signals):
                first = at == 0
                name.setText("none yet; press the control" if first else "")
                name.setStyleSheet(f"color: {theme().dim};")
                when.setText("")
                continue
            signal, sent = self._signals[at]
            ago = now - sent
            name.setText(called.get(signal, signal))
            name.setStyleSheet("font-weight: 600;" if at == 0 else "")
            when.setText("now" if ago < 0.2 else f"{ago:.1f} s ago" if ago < 60 else "over 1 min")

    def _show_flags(self) -> None:
        live = self.area.control
        flags = live.flags()
        holding = {
            "pointer inside": "hover" in flags, "pressed": "pressed" in flags,
            "focus": live.situation.focused, "disabled": not live.isEnabled(),
            "checked": live.isChecked(), "busy": live.busy,
        }
        control = self.bench.control
        can = states_of(control.behaviour) if control is not None else ()
        self.busy.setVisible("busy" in can)
        for name in ("checked", "busy"):
            self.flags[name].setVisible(name in can)
        for name, flag in self.flags.items():
            if flag.holds != holding[name]:
                flag.show_holds(holding[name])

    def retheme(self) -> None:
        for flag in self.flags.values():
            flag.show_holds(flag.holds)
        self._show_signals()

    def _show_contrast(self) -> None:
        control = self.bench.control
        if control is None:
            return
        ground = rgba(Kit(), MIDDLE.get(self.bench.backdrop, self.bench.backdrop))
        kit = self.bench.drawn
        if control.id != self._measured_for:
            self.mend.hide()  # until this control is measured
        self.bench.background.ask(
            "contrast", lambda: state_contrasts(kit, control, ground),
            lambda measured: self._show_measured(control.id, measured))

    def _show_measured(self, control_id: str, measured: dict[str, LabelContrast]) -> None:
        self._measured_for, self._measured = control_id, measured
        if self._mending is not None:
            self._mending.show_measured(measured)
        failing = [state for state, contrast in measured.items() if not contrast.passes]
        self.mend.setVisible(bool(failing))
        if not measured:
            self.ratio.setText("–")
            self.verdict.setText("no label to read")
            self.verdict.setProperty("role", "dim")
            self.exempt.setText("")
        else:
            state, worst = min(measured.items(), key=lambda item: item[1].ratio)
            self.ratio.setText(worst.shown)
            self.verdict.setText(
                f"fails AA in {', '.join(failing)}" if len(failing) == 1
                else f"fails AA in {len(failing)} states" if failing
                else f"AA in all {len(measured)} states")
            self.verdict.setProperty("role", "warn" if failing else "good")
            where = f"lowest in {state}, {worst.needed:g} needed; " if failing else ""
            self.exempt.setText(f"{where}disabled is exempt")
        self.verdict.style().polish(self.verdict)

    def _open_mending(self) -> None:
        if self._measured_for != self.bench.control_id or not self._measured:
            return
        self._mending = ContrastPopover(self.bench, self._measured, self)
        self._mending.destroyed.connect(self._forget_mending)
        self._mending.open_below(self.mend)

    def _forget_mending(self) -> None:
        self._mending = None
