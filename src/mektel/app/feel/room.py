"""The Feel room: how a control answers the hand."""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QFontMetrics
from PySide6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mektel.app.clock import SPEEDS
from mektel.app.feel.answers import Answers
from mektel.app.feel.film_strip import TOUCH, FilmStrip
from mektel.app.feel.own_timings import WHOLE, OwnTimings, Place, place_title
from mektel.app.feel.state_map import StateMap
from mektel.app.feel.swings import Swings
from mektel.app.feel.timing_panel import TimingPanel
from mektel.app.live_control import LiveControl
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_5, ui_font
from mektel.app.widgets.curve_view import CurveView
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel, markup_label, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import REST, STATES, Kit, parse_flags
from mektel.core.kit.busy_sequence import can_be_busy, lay_busy_sequence
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.palette import PaletteValue
from mektel.core.kit.palette_edits import set_palette_value
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_timing
from mektel.core.look.scene import rgba
from mektel.core.motion import change
from mektel.core.motion.arrivals import Arrival, lasts, overshoot, timing_at, way_lasts
from mektel.core.motion.trails import Trail, trails_of
from mektel.core.proof.motion import PROMPT, MotionFigures, motion_figures

SHORTEST, MOST = 0.3, 6.0
# Frames that a figure of their cost is taken from.
ENOUGH = 10
PAGES = ("Timings in this state", "Answers to touch", "Endless motion")


class FeelRoom(QWidget):
    def __init__(self, bench: Workbench, live: LiveControl, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("room")
        self.bench, self.live = bench, live
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5, GAP_3, GAP_5, GAP_3)
        column.setSpacing(GAP_2)
        self.empty = PlainLabel("Nothing to move yet. Put a control on the shelf first: choose a "
                            "starter, or drop a drawing.", self)
        self.empty.setProperty("role", "dim")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self.empty, 1)
        # A small window has no room for all of it at once.
        self.area = QScrollArea(self)
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.whole = QWidget(self)
        self.area.setWidget(self.whole)
        column.addWidget(self.area, 1)
        inner = QVBoxLayout(self.whole)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(GAP_2)
        inner.addWidget(self._header(self.whole))
        self.map = StateMap(bench, self.whole)
        inner.addWidget(self.map)
        row = QHBoxLayout()
        row.setSpacing(0)
        self.curve = CurveView(self.whole)
        self.panel = TimingPanel(bench, self.whole)
        row.addWidget(self.curve, 1)
        row.addWidget(self.panel)
        inner.addLayout(row, 1)
        self.strip = FilmStrip(bench, self.whole)
        inner.addWidget(self.strip)
        self.figures = markup_label(self.whole)
        self.figures.setWordWrap(True)
        inner.addWidget(self.figures)
        self.own = OwnTimings(bench, self.whole)
        self.answers = Answers(bench, self.whole)
        self.swings = Swings(bench, self.whole)
        self.pages = QStackedWidget(self.whole)
        self.pages.setFixedHeight(106)
        inner.addWidget(self._pages_header(self.whole))
        for page in (self.own, self.answers, self.swings):
            scroll = QScrollArea(self.whole)
            scroll.setWidgetResizable(True)
            scroll.setWidget(page)
            self.pages.addWidget(scroll)
        inner.addWidget(self.pages)
        self.map.chosen.connect(self._go)
        self.curve.changed.connect(self._set)
        self.curve.drag_ended.connect(bench.end_drag)
        self.curve.scrubbed.connect(self._scrub)
        self.panel.changed.connect(self._set)
        self.panel.drag_ended.connect(bench.end_drag)
        self.panel.shared.connect(self._share)
        self.panel.kept.connect(self._keep)
        self.strip.picked.connect(self.curve.scrub_to)
        self.own.chosen.connect(lambda _place: self.refresh())
        self.own.removed.connect(self._remove)
        self._late = QTimer(self, singleShot=True, interval=120)
        self._late.timeout.connect(self._measure)
        for signal in (bench.kit_changed, bench.selected_changed, bench.view_changed):
            signal.connect(self.refresh)

    def _header(self, parent: QWidget) -> QWidget:
        whole = QWidget(parent)
        row = Flow(whole, GAP_3, GAP_1)
        self.title = PlainLabel(parent)
        self.title.setProperty("role", "title")
        what = PlainLabel("how it answers", parent)
        what.setProperty("role", "dim")
        self.calm = QPushButton("Less motion", parent)
        self.calm.setProperty("small", True)
        self.calm.setCheckable(True)
        tip(self.calm, "As where the platform asks for less motion: states change, nothing "
                             "moves")
        self.calm.toggled.connect(self.live.set_calm)
        self.trails = QPushButton("Trails", parent)
        self.trails.setProperty("small", True)
        self.trails.setCheckable(True)
        tip(self.trails, "Draws the path of everything that moves, in the try pad; where the "
                               "dots are far apart it is fast")
        self.trails.toggled.connect(lambda _on: self._late.start())
        row.add(self.title)
        row.add(what)
        row.add_space()
        row.add(self.trails)
        row.add(self.calm)
        together = QWidget(whole)
        speeds = QHBoxLayout(together)
        speeds.setContentsMargins(0, 0, 0, 0)
        speeds.setSpacing(0)
        self.speeds = QButtonGroup(self)
        for name, speed in SPEEDS.items():
            button = QPushButton(name, parent)
            button.setProperty("small", True)
            button.setCheckable(True)
            button.setChecked(speed == 1.0)
            tip(button, "How fast time goes in the try pad")
            button.clicked.connect(lambda _=False, speed=speed: self._run_at(speed))
            self.speeds.addButton(button)
            speeds.addWidget(button)
        row.add(together)
        return whole

    def _pages_header(self, parent: QWidget) -> QWidget:
        whole = QWidget(parent)
        row = Flow(whole, 0, 0)
        self.turn = QButtonGroup(self)
        for at, name in enumerate(PAGES):
            button = QPushButton(name, parent)
            button.setObjectName("page")
            button.setCheckable(True)
            button.setChecked(at == 0)
            # As wide as its name is when it is chosen.
            bold = QFontMetrics(ui_font(13, 600))
            button.setMinimumWidth(bold.horizontalAdvance(name) + 2 * GAP_3)
            button.clicked.connect(lambda _=False, at=at: self.turn_to(at))
            self.turn.addButton(button, at)
            row.add(button)
        row.add_space()
        self.more = QPushButton("Give a part its own  ▾", parent)
        self.add = QPushButton("Add an answer  ▾", parent)
        self.more_motion = QPushButton("Add endless motion  ▾", parent)
        self.busy = QPushButton("Make it a busy sequence", parent)
        self.busy.setObjectName("quiet")
        tip(self.busy, "While busy it narrows to a circle and a spinner turns; then an iris "
                             "in its colour opens over the screen")
        self.busy.clicked.connect(self._make_busy)
        row.add(self.busy)
        for button, fill in ((self.more, self.own.fill), (self.add, self.answers.fill),
                             (self.more_motion, self.swings.fill)):
            button.setObjectName("quiet")
            menu = QMenu(button)
            menu.aboutToShow.connect(lambda menu=menu, fill=fill: fill(menu))
            button.setMenu(menu)
            row.add(button)
        self.by_page = (self.more, self.add, self.more_motion)
        self.turn_to(0)
        return whole

    def turn_to(self, page: int) -> None:
        """Shows the timings (0), the answers (1) or endless motion (2)."""
        self.pages.setCurrentIndex(page)
        self.turn.button(page).setChecked(True)
        for at, button in enumerate(self.by_page):
            button.setVisible(at == page)

    def _make_busy(self) -> None:
        name = self.bench.control_id
        self.bench.edit("busy sequence", lambda kit: lay_busy_sequence(kit, name))

    def _run_at(self, speed: float) -> None:
        self.live.clock.speed = speed

    # What is edited

    @property
    def goal(self) -> str:
        """The state whose timings are edited: the one arrived in."""
        return self.map.arrival.goal

    def _go(self, _way: Arrival) -> None:
        self.own.place = WHOLE
        self._scrub(None)
        self.refresh()

    def show_value(self, part: str, name: str) -> None:
        """Shows the timing of one value in the selected state."""
        flags = parse_flags(self.bench.state)
        goal = next((state for state in reversed(STATES) if state in flags), REST)
        way = next((way for way in self.map.ways() if way.goal == goal), None)
        if way is not None:
            self.map.arrival = way
        self.own.place = (part, name)
        self._scrub(None)
        self.refresh()

    def _timing(self) -> Timing | None:
        control = self.bench.control
        if control is None:
            return None
        part, name = self.own.place
        if self.own.place == WHOLE:
            return timing_at(control, self.goal)
        flags = self.map.arrival.flags[1]
        return control.timing_of(part, name, flags)

    def _set(self, timing: Timing | None, drag: bool) -> None:
        part, name = self.own.place
        wanted = timing or Timing(seconds=0)
        self.bench.edit(
            f"timing of {self.goal}",
            lambda kit: set_timing(kit, self.bench.control_id, self.goal, wanted, part, name),
            (self.bench.control_id, "timing", self.goal, part, name) if drag else None)

    def _keep(self, entry: PaletteValue) -> None:
        """Makes the timing an entry of the palette, and follows it."""
        part, name = self.own.place
        timing = entry.value.model_copy(update={"named": entry.name})
        self.bench.edit(f"new timing {entry.name}", lambda kit: set_timing(
            set_palette_value(kit, entry), self.bench.control_id, self.goal, timing, part, name))

    def _remove(self, place: Place) -> None:
        part, name = place
        if place == self.own.place:
            self.own.place = WHOLE
        self.bench.edit(
            f"remove a timing of {self.goal}",
            lambda kit: set_timing(kit, self.bench.control_id, self.goal, None, part, name))

    def _share(self) -> None:
        timing, goal = self._timing(), self.goal

        def make(kit: Kit) -> Kit:
            for control in kit.controls:
                kit = set_timing(kit, control.id, goal, timing, CONTROL, ALL)
            return kit

        self.bench.edit(f"timing of {goal} for every control", make)

    # What is shown

    def refresh(self) -> None:
        control = self.bench.control
        self.empty.setVisible(control is None)
        self.area.setVisible(control is not None)
        if control is None or not self.isVisible():
            return
        if self.map.arrival not in self.map.ways():
            self.map.arrival = self.map.ways()[1]
        part = self.own.place[0]
        if part != CONTROL and part not in ("outline", *(layer.id for layer in control.layers)):
            self.own.place = WHOLE
        self.title.setText(control.name)
        timing = self._timing()
        moves = timing is not None and lasts(timing) > 0
        shown = timing if moves else None
        span = self._span(shown)
        self.map.update()
        self.curve.show_timing(shown, span)
        way = self.map.arrival
        title = f"{way.start} → {way.goal}"
        if self.own.place != WHOLE:
            title = f"{way.goal}: {place_title(control, self.own.place)}"
        self.panel.show_timing(shown, title)
        self.own.refresh(self.goal, span)
        self.answers.refresh()
        self.swings.refresh()
        self.busy.setVisible(self.pages.currentIndex() == 0 and can_be_busy(control))
        self.strip.show_change(way, span)
        if self.curve.moment is not None:
            self._scrub(self.curve.moment)
        self._late.start()

    def _span(self, timing: Timing | None) -> float:
        """Seconds on the ruler: all that is edited on this way, and a little more."""
        more = 1.25 if timing is not None and timing.kind != "easing" else 1.1
        longest = lasts(timing) * more if timing is not None else 0.0
        if self.bench.control is not None:
            longest = max(longest, 1.05 * way_lasts(self.bench.control, self.goal))
        return min(MOST, max(SHORTEST, longest))

    def _scrub(self, moment: float | None) -> None:
        self.curve.show_moment(moment)
        self.strip.show_moment(moment)
        control = self.bench.control
        if moment is None or control is None:
            self.live.show_moment(None, 0.0)
            return
        motion = change(self.bench.drawn, control, *self.map.arrival.flags, self.live.box_size,
                        place=TOUCH)
        self.live.show_moment(motion, moment)

    def _measure(self) -> None:
        kit, control, way = self.bench.drawn, self.bench.control, self.map.arrival
        if control is None or not self.isVisible():
            return
        colour = self.bench.backdrop if self.bench.backdrop.startswith("#") else "#E9E2D3"
        ground = rgba(kit, colour)
        self._trace()
        self.bench.background.ask(
            "motion figures", lambda: motion_figures(kit, control, *way.flags, ground),
            self._show_figures)

    def _trace(self) -> None:
        """Has the paths of the way that is shown worked out, or takes them away."""
        control, way = self.bench.control, self.map.arrival
        if control is None or not self.isVisible() or not self.trails.isChecked():
            self.live.show_trails(())
            return
        kit, size, end = self.bench.drawn, self.live.box_size, self.curve.span

        def trace() -> tuple[Trail, ...]:
            return trails_of(change(kit, control, *way.flags, size, place=TOUCH), 0.0, end)

        self.bench.background.ask("trails", trace, self._show_trails)

    def _show_trails(self, trails: tuple[Trail, ...]) -> None:
        if self.trails.isChecked() and self.isVisible():
            self.live.show_trails(trails)

    def _show_figures(self, measured: MotionFigures) -> None:
        timing = self._timing()
        if measured.first_change is None:
            self.figures.setText("Nothing visible changes here.")
            return
        first = f"{measured.first_change * 1000:.0f} ms"
        parts = [f"First seen after <b>{first}</b>"]
        if measured.is_late:
            parts[0] += f" (late: over {PROMPT * 1000:.0f} ms feels slow)"
        parts.append(f"settled after <b>{(measured.settled or 0) * 1000:.0f} ms</b>")
        if timing is not None and lasts(timing) > 0:
            parts.append(f"overshoots by <b>{overshoot(timing) * 100:.0f} %</b>")
        many = measured.flashes_a_second
        flashes = f"<b>{many:.0f}</b> {'flash' if many == 1 else 'flashes'} a second"
        if measured.flashes_too_often:
            flashes += " (over three, WCAG 2.3.1)"
        parts.append(flashes)
        if len(self.live.frames.costs) >= ENOUGH:
            costs = sorted(self.live.frames.costs)
            parts.append(f"a frame takes <b>{costs[len(costs) // 2] * 1000:.0f} ms</b>")
        self.figures.setText("  ·  ".join(parts))

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def resizeEvent(self, event: object) -> None:
        super().resizeEvent(event)  # type: ignore[arg-type]
        self.refresh()

    def hideEvent(self, event: object) -> None:
        self._scrub(None)
        self.live.show_trails(())
        super().hideEvent(event)  # type: ignore[arg-type]
