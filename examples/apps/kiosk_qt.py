"""A ticket kiosk with three shipped controls.

First:  ./start export KIT passage ramp board --target qtwidgets --out examples/apps/controls
"""

import sys

from controls.board_button import BoardButton
from controls.passage_button import PassageButton
from controls.ramp_button import RampButton
from PySide6.QtWidgets import QApplication, QLabel, QVBoxLayout, QWidget

application = QApplication(sys.argv)
window, sold = QWidget(), []
told = QLabel("No ticket yet")


def sell(what: str, tone: str) -> None:
    sold.append(what)
    told.setText(f"{len(sold)} sold, the last one: {what}")
    board.setEnabled(True)
    single.face = tone  # a parameter, changed while it runs


single = PassageButton("One way", on_press=lambda: sell("One way", "#CB622A"))
bicycle = PassageButton("With a bicycle", face="#274C77", roundness=0.3, thickness=2,
                       on_press=lambda: sell("With a bicycle", "#237A82"))
ramp = RampButton()
board = BoardButton("Board")
board.setEnabled(False)  # until a ticket is sold; it says nothing before
board.clicked.connect(
    lambda: told.setText(f"On board, ramp {'down' if ramp.isChecked() else 'up'}"))
column = QVBoxLayout(window)
for widget in (single, bicycle, ramp, board, told):
    column.addWidget(widget)
if __name__ == "__main__":
    window.show()
    sys.exit(application.exec())
