"""What an open card shows below its pages: kept, since building it takes longer than a frame."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtWidgets import QLineEdit, QPushButton, QWidget

from mektel.app.build.arguments import Arguments
from mektel.app.build.differs import DiffersIn
from mektel.app.build.joins import Joins
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.gradient import GradientBar


@dataclass
class CardBody:
    """What a card shows of a part, with all that is set in it."""

    widget: QWidget
    dials: dict[str, Dial]
    pages: dict[str, QPushButton]
    gradient: GradientBar | None
    joins: Joins | None
    arguments: Arguments | None
    differs: DiffersIn
    name: QLineEdit | None
