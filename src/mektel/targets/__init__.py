"""One folder per target: what it can draw, its templates, how its output is run and looked at."""

from mektel.core.errors import NotFoundError
from mektel.targets.base import (
    CancelledError,
    LayerPlan,
    OutFile,
    Progress,
    Target,
    TargetError,
)
from mektel.targets.naming import NamingError
from mektel.targets.qtwidgets.target import QtWidgets
from mektel.targets.shipping import ship
from mektel.targets.sprites.target import SpriteTarget
from mektel.targets.svg.target import SvgTarget
from mektel.targets.web.target import Web
from mektel.targets.writing import ForeignFilesError, write_files

TARGETS: dict[str, Target] = {target.id: target for target in (
    QtWidgets(), Web(), SpriteTarget(), SvgTarget())}


def target_named(name: str) -> Target:
    if name not in TARGETS:
        raise NotFoundError("target", name, list(TARGETS))
    return TARGETS[name]


__all__ = [
    "TARGETS", "CancelledError", "ForeignFilesError", "LayerPlan", "NamingError", "OutFile",
    "Progress", "Target", "TargetError", "ship", "target_named", "write_files",
]
