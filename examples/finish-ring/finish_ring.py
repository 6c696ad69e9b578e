"""A finish for Mektel: every control as a ring in its own colour."""

from mektel.core.kit import Control, Fill, Kit, Line


def ring(kit: Kit, control: Control) -> Control:
    """Only an outline, in the colour that the face had."""
    layers = []
    for layer in control.layers:
        if isinstance(layer, Fill):
            colour = layer.colour if layer.style == "solid" else layer.stops[0].colour
            layers.append(Line(id=layer.id, name=layer.name, visible=layer.visible,
                               width=2.0, colour=colour))
        elif layer.kind == "label":
            fills = [one for one in control.layers if isinstance(one, Fill)]
            colour = layer.colour
            if fills:
                colour = fills[0].colour if fills[0].style == "solid" else fills[0].stops[0].colour
            layers.append(layer.model_copy(update={"colour": colour}))
        elif layer.kind in ("line", "icon", "symbol", "look"):
            layers.append(layer)
    # A state keeps what it changes in the layers that are still there, as far as they have it.
    kinds = {layer.id: type(layer).model_fields for layer in layers}
    states = {
        condition: {
            part: {name: value for name, value in values.items()
                   if part == "outline" or name in kinds[part]}
            for part, values in parts.items() if part == "outline" or part in kinds}
        for condition, parts in control.states.items()}
    return control.model_copy(update={"layers": tuple(layers), "states": states})
