"""Starting the application."""

from __future__ import annotations

import contextlib
import signal
import sys
import threading
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from mektel.app.crash_report import CrashReport
from mektel.app.faults import install
from mektel.app.garbage import GarbageCollection
from mektel.app.settings import Settings
from mektel.app.theme import apply_theme, load_fonts
from mektel.app.window import Window

# Milliseconds after the start at which is loaded what will be wanted.
AHEAD = 1500
# The name of a property.
DRESSED = "dressed"


def make_application() -> QApplication:
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    application.setApplicationName("mektel")
    application.setApplicationDisplayName("Mektel")
    if not application.property(DRESSED):  # once: a style that is set again restyles every widget
        application.setStyle("Fusion")
        load_fonts()
        application.setProperty(DRESSED, True)
    return application


def make_window(kit: Path | None = None, demo: bool = False) -> Window:
    """The window, showing a kit, the demo kit, or an empty shelf."""
    settings = Settings()
    install(settings.log_file)
    apply_theme(settings.theme)
    window = Window(settings)
    if kit is not None and window.bench.open(kit):
        pass
    elif demo:
        window.bench.open_demo()
    else:
        window.bench.start(window.bench.kit, None)
    return window


def load_ahead() -> None:
    """What takes long to load when it is first wanted, loaded beside the window's thread."""
    from pygments.lexers import get_lexer_by_name

    from mektel.core.colour import colour_from_text

    colour_from_text("oklch(0.6 0.1 200)")
    for name in ("python", "javascript", "json", "xml", "html", "css"):
        with contextlib.suppress(Exception):  # without it the code has one colour
            list(get_lexer_by_name(name).get_tokens("a"))


def run(kit: Path | None, demo: bool) -> int:
    application = make_application()
    window = make_window(kit, demo)
    application.styleHints().colorSchemeChanged.connect(lambda _: window.retheme())
    window.show()
    garbage = GarbageCollection(window)
    window.bench.kit_changed.connect(garbage.edited)
    # Where nothing can be written, there is no report.
    report = None
    with contextlib.suppress(OSError):
        report = CrashReport(window.bench.settings.crash_folder)
    window.bench.offer_recovery(report.take_last() if report else [],
                                report.last if report else None)
    if demo and not window.bench.settings.walked:
        window.start_walk()
    QTimer.singleShot(AHEAD, threading.Thread(target=load_ahead, daemon=True).start)
    # Ctrl+C in the terminal ends it; Python only sees the signal when it gets to run.
    signal.signal(signal.SIGINT, lambda *_: application.quit())
    pulse = QTimer(interval=300)
    pulse.timeout.connect(report.beat if report else lambda: None)
    pulse.start()
    status = application.exec()
    if report:
        report.end()
    return status
