"""Labels that are hard to read: named, gone to, and mended."""

from __future__ import annotations

from mektel.core.colour import contrast_of, to_oklch


def test_a_label_that_cannot_be_read_gets_the_nearest_colour_that_can(demo) -> None:
    window, hand = demo
    bench, pad = window.bench, window.try_pad
    for state, colour in (("hover", "#5FB7B5"), ("pressed", "#8A4420")):
        bench.select(state=state)
        bench.set_value("label", "colour", colour, "label colour")
    bench.select(state="rest", part_id="face")
    hand.until(lambda: pad.verdict.text() == "fails AA in 2 states")
    hand.click(pad.mend)
    popover = pad._mending
    # The worst is gone to; another is chosen.
    assert (bench.state, bench.part_id) == ("pressed", "label")
    hand.click(popover.states["hover"])
    assert bench.state == "hover" and popover.offers
    for offer in popover.offers:
        worst = min(contrast_of(offer.ink, ground) for ground in popover.measured["hover"].grounds)
        assert worst >= 4.5
    light = next(offer for offer in popover.offers if offer.name.startswith("#"))
    (_, _, before), _ = to_oklch("#5FB7B5")
    (_, _, after), _ = to_oklch(light.name)
    assert abs(before - after) < 12  # the same hue, as far as sRGB has it so light
    hand.click(next(offer for offer in popover.offers if offer.name == "sail"))
    assert "label" not in bench.control.states["hover"]  # as at rest again
    hand.until(lambda: pad.verdict.text() == "fails AA in pressed")
    assert popover.measured["hover"].passes and not popover.offers
    popover.close()
    hand.keys("Ctrl+Z")
    hand.until(lambda: pad.verdict.text() == "fails AA in 2 states")
