"""An instance: a control of the kit where it is used, with what is set there."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from mektel.core.kit.forms import Brief
from mektel.core.kit.parameters import Argument
from mektel.core.kit.value_types import Text


class Instance(Brief):
    """A control by its id; empty for none yet.

    ``variation`` names a set of that control's arguments, ``arguments`` go over them, ``text`` is
    shown instead of its own.
    """

    control: Annotated[str, Field(max_length=64)] = ""
    variation: Annotated[str, Field(max_length=80)] = ""
    arguments: Annotated[dict[str, Argument], Field(max_length=64)] = Field(default_factory=dict)
    text: Text | None = None
