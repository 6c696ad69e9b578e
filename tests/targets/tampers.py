"""Shipped controls made to misbehave, a fault each: code that is added to a control's file."""

from __future__ import annotations

# The control each is tried on, and what is added; C is its class.
QT = {
    "click never fires": ("board", """
def _released(self, event):
    self.blockSignals(True)
    super(C, self).mouseReleaseEvent(event)
    self.blockSignals(False)
C.mouseReleaseEvent = _released"""),
    "no press is taken": ("board", "C.mousePressEvent = lambda self, event: event.ignore()"),
    "fires though released outside": ("board", """
def _released(self, event):
    was = self.isDown() or self.underMouse() or True
    super(C, self).mouseReleaseEvent(event)
    if not self.covers(event.position().toPoint()):
        self.click()
C.mouseReleaseEvent = _released"""),
    "right button clicks": ("board", """
def _pressed(self, event):
    super(C, self).mousePressEvent(event)
    if event.button().name == "RightButton":
        self.click()
C.mousePressEvent = _pressed"""),
    "middle button clicks": ("board", """
def _pressed(self, event):
    super(C, self).mousePressEvent(event)
    if event.button().name == "MiddleButton":
        self.click()
C.mousePressEvent = _pressed"""),
    "clicked twice": ("board", """
def _released(self, event):
    super(C, self).mouseReleaseEvent(event)
    if self.covers(event.position().toPoint()):
        self.click()
C.mouseReleaseEvent = _released"""),
    "toggled twice": ("ramp", """
def _next(self):
    super(C, self).nextCheckState()
    self.toggled.emit(self.isChecked())
C.nextCheckState = _next"""),
    "never toggled": ("ramp", "C.nextCheckState = lambda self: None"),
    "busy can be clicked": ("cast-off", "C.hitButton = lambda self, at: self.covers(at)"),
    "busy by keys": ("cast-off", """
C.keyPressEvent = lambda self, event: type(self).__mro__[2].keyPressEvent(self, event)"""),
    "Space dead": ("board", """
def _key(self, event):
    if event.key() != 32:
        super(C, self).keyPressEvent(event)
C.keyPressEvent = _key"""),
    "Enter dead": ("board", """
def _key(self, event):
    if event.key() == 32:
        super(C, self).keyPressEvent(event)
C.keyPressEvent = _key"""),
    "Enter repeats": ("board", """
def _key(self, event):
    if event.key() == 32:
        super(C, self).keyPressEvent(event)
    else:
        self.click()
C.keyPressEvent = _key"""),
    "pressed stuck": ("board", """
def _released(self, event):
    super(C, self).mouseReleaseEvent(event)
    self.setDown(True)
C.mouseReleaseEvent = _released"""),
    "hover stuck": ("board", "C.leaveEvent = lambda self, event: None"),
    "setText dead": ("board", "C.setText = lambda self, text: None"),
    "text is not shown": ("board", "C.shown_text = lambda self: text_of_('Board', True)\n"
                          "from .runtime.labels import text_of as text_of_"),
    "wrong accessible name": ("board", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    self.setAccessibleName("Button")
C.__init__ = _init"""),
    "no accessible name": ("horn", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    self.setAccessibleName("")
C.__init__ = _init"""),
    "wrong tool tip": ("board", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    self.setToolTip("Press me")
C.__init__ = _init"""),
    "no tool tip without room": ("board", "C._mark_dotted = lambda self: None"),
    "no hand": ("board", "C.setCursor = lambda self, cursor: None"),
    "hand while disabled": ("board", "C.unsetCursor = lambda self: None"),
    "no ellipsis": ("board", """
from PySide6.QtWidgets import QPushButton as _Q
C.sizeHint_ = C.sizeHint
C.width = lambda self: max(_Q.width(self), self.sizeHint().width())
C.box = lambda self: __import__("PySide6.QtCore").QtCore.QRectF(
    0, 0, max(_Q.width(self), self.sizeHint().width()), self.height())"""),
    "fixed size policy": ("board", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    from PySide6.QtWidgets import QSizePolicy
    self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
C.__init__ = _init"""),
    "takes no focus": ("board", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    from PySide6.QtCore import Qt
    self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
C.__init__ = _init"""),
    "scheme ignored": ("schemed", "C.setScheme = lambda self, scheme: None"),
    "size hint 4 px too small": ("board", """
from PySide6.QtCore import QSize
C.sizeHint = lambda self: super(C, self).sizeHint() - QSize(4, 0)"""),
    "disabled answers": ("board", """
def _changed(self, event):
    super(C, self).changeEvent(event)
    if not self.isEnabled():
        self.setEnabled(True)
C.changeEvent = _changed"""),
    "can be checked": ("board", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    self.setCheckable(True)
C.__init__ = _init"""),
    "cannot be checked": ("ramp", """
_begin = C.__init__
def _init(self, *a, **k):
    _begin(self, *a, **k)
    self.setCheckable(False)
C.__init__ = _init"""),
    "focus not told": ("board", "C.focusInEvent = lambda self, event: None"),
    "hit area of the whole picture": ("board", "C.covers = lambda self, position: True"),
}
# Of these methods each is made to do nothing, whatever it is for.
QT_METHODS = ("mousePressEvent", "mouseReleaseEvent", "keyPressEvent", "keyReleaseEvent",
              "enterEvent", "leaveEvent", "mouseMoveEvent", "focusInEvent", "changeEvent",
              "hitButton", "nextCheckState", "setText", "setChecked", "setEnabled", "setScheme",
              "setCursor", "_point_at", "_changed", "_mark_dotted", "click")
for _name in QT_METHODS:
    QT[f"{_name} does nothing"] = (
        "ramp" if _name in ("nextCheckState", "setChecked") else
        "schemed" if _name in ("setScheme", "_changed") else "board",
        f"C.{_name} = lambda self, *a, **k: None")

# Added to an element's style sheet.
WEB_STYLES = {
    "no press is taken": "button{pointer-events:none !important}",
    "no hand": "button{cursor:default}",
    "hand while disabled": "button:disabled{cursor:pointer}",
    "another cursor": "button{cursor:crosshair}",
    "no touch action": "button{touch-action:none}",
    "forced colours off": "@media (forced-colors: active){button{outline:none}}",
    "forced colours taken": "@media (forced-colors: active){button{forced-color-adjust:auto}}",
    "hidden from readers": "button{visibility:hidden}",
    "not shown": "button{display:none}",
    "no focus ring for keys": ":host{visibility:hidden}",
}
# Lines of script that run when the element is made; e is the element, b its button.
WEB_SCRIPTS = {
    "click never fires": "e.addEventListener('click', x => x.stopImmediatePropagation(), true);",
    "clicked twice": "b.addEventListener('click', () => e.dispatchEvent(new Event('click')));",
    "fires though released outside":
        "b.addEventListener('pointerdown', () => addEventListener('pointerup', x => "
        "x.composedPath().includes(b) || e.dispatchEvent(new Event('click')), {once: true}));",
    "right button clicks": "b.addEventListener('contextmenu', () => "
                           "e.dispatchEvent(new Event('click')));",
    "middle button clicks": "b.addEventListener('auxclick', x => x.button === 1 && "
                            "e.dispatchEvent(new Event('click')));",
    "fires when pressed": "b.addEventListener('pointerdown', x => x.button === 0 && "
                          "e.dispatchEvent(new Event('click')));",
    "Space dead": "b.addEventListener('keydown', x => x.key === ' ' && x.preventDefault());"
                  "b.addEventListener('keyup', x => x.key === ' ' && x.preventDefault());",
    "Enter dead": "b.addEventListener('keydown', x => x.key === 'Enter' && x.preventDefault());",
    "takes no focus": "b.tabIndex = -1;",
    "focus lost": "b.addEventListener('focus', () => b.blur());",
    "wrong accessible name": "b.setAttribute('aria-label', 'Button');",
    "wrong role": "b.setAttribute('role', 'link');",
    "always disabled": "b.disabled = true;",
    "never disabled": "new MutationObserver(() => { b.disabled = false; })"
                      ".observe(b, {attributes: true});",
    "disabled untold": "new MutationObserver(() => { b.disabled && (b.disabled = false, "
                       "b.style.pointerEvents = 'none'); }).observe(b, {attributes: true});",
    "label dead": "Object.defineProperty(e, 'label', {get() {}, set() {}});",
    "scheme dead": "Object.defineProperty(e, 'scheme', {get() {}, set() {}});",
}
WEB_SWITCH = {
    "never toggled": "b.addEventListener('click', x => x.stopImmediatePropagation(), true);",
    "toggled twice": "b.addEventListener('click', () => e.dispatchEvent(new Event('change')));",
    "checked untold": "new MutationObserver(() => b.removeAttribute('aria-checked'))"
                      ".observe(b, {attributeFilter: ['aria-checked']});",
    "a button only": "b.setAttribute('role', 'button');",
}
WEB_BUSY = {
    "busy can be clicked": "b.addEventListener('pointerup', () => e.busy && "
                           "e.dispatchEvent(new Event('click')));",
    "busy untold": "new MutationObserver(() => b.removeAttribute('aria-busy'))"
                   ".observe(b, {attributeFilter: ['aria-busy']});",
}
WEB = ({name: ("board", f"style {style}") for name, style in WEB_STYLES.items()}
       | {name: ("schemed" if "scheme" in name else "board", script)
          for name, script in WEB_SCRIPTS.items()}
       | {name: ("ramp", script) for name, script in WEB_SWITCH.items()}
       | {name: ("cast-off", script) for name, script in WEB_BUSY.items()})
WHEN_MADE = """
document.addEventListener("DOMContentLoaded", () => {
  for (const e of document.querySelectorAll("TAG")) {
    const b = e.shadowRoot.querySelector("button");
    FAULT
  }
});
"""


def tampered(target: str, fault: str, source: str, name: str) -> str:
    """The file of a control with a fault; ``name`` is its class or tag."""
    if target == "qtwidgets":
        return f"{source}\nC = {name}\n{QT[fault][1]}\n"
    change = WEB[fault][1]
    if change.startswith("style "):
        assert "`,\n  });" in source
        return source.replace("`,\n  });", f"{change.removeprefix('style ')}`,\n  }});")
    return source + WHEN_MADE.replace("TAG", name).replace("FAULT", change)
