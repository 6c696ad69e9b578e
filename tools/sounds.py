"""Synthesises the short sounds that are shipped: sums of fading partials and noise, our own.

Run: .venv/bin/python tools/sounds.py
"""

from __future__ import annotations

import wave
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

RATE = 24_000
PEAK = 0.8
FOLDER = Path(__file__).resolve().parents[1] / "src" / "mektel" / "sounds"
Floats = NDArray[np.float64]


def tone(seconds: float, start: float, end: float | None = None, fade: float = 12.0,
         rise: float = 0.002) -> Floats:
    """A sine that glides from ``start`` to ``end`` Hz, rises in ``rise`` s and fades (1/s)."""
    t = np.arange(int(seconds * RATE)) / RATE
    frequency = start * ((end or start) / start) ** (t / seconds)
    turns = 2 * np.pi * np.cumsum(frequency) / RATE
    return np.sin(turns) * np.exp(-fade * t) * np.minimum(1, t / rise)


def noise(seconds: float, fade: float, smooth: int, seed: int) -> Floats:
    """Noise without what is faster than ``smooth`` samples, fading."""
    t = np.arange(int(seconds * RATE)) / RATE
    rough = np.random.default_rng(seed).standard_normal(t.size + smooth)
    soft = np.convolve(rough, np.ones(smooth) / smooth, "valid")[: t.size]
    return soft * np.exp(-fade * t)


def mixed(*parts: tuple[float, float, Floats]) -> Floats:
    """Parts, each with its gain and the second at which it begins."""
    length = max(int(at * RATE) + part.size for _, at, part in parts)
    total = np.zeros(length)
    for gain, at, part in parts:
        begin = int(at * RATE)
        total[begin : begin + part.size] += gain * part
    return total


SOUNDS = {
    "tap": mixed((1, 0, tone(0.07, 420, 260, 60)), (0.5, 0, noise(0.03, 160, 6, 1))),
    "tick": mixed((1, 0, tone(0.04, 2400, 1900, 140)), (0.4, 0, noise(0.02, 260, 2, 2))),
    "click": mixed((1, 0, noise(0.03, 190, 3, 3)), (0.6, 0.028, noise(0.04, 170, 5, 4)),
                   (0.5, 0.028, tone(0.05, 900, 700, 90))),
    "knock": mixed((1, 0, tone(0.14, 190, 120, 34)), (0.4, 0, noise(0.05, 120, 12, 5))),
    "pop": mixed((1, 0, tone(0.09, 280, 860, 34))),
    "drop": mixed((1, 0, tone(0.16, 980, 320, 24)), (0.3, 0.05, tone(0.1, 1500, 600, 40))),
    "chime": mixed((1, 0, tone(0.55, 1046.5, None, 7)), (0.5, 0.07, tone(0.5, 1568, None, 8)),
                   (0.25, 0.07, tone(0.4, 3136, None, 14))),
    "bell": mixed((1, 0, tone(0.7, 660, None, 5)), (0.6, 0, tone(0.6, 660 * 2.76, None, 9)),
                  (0.3, 0, tone(0.4, 660 * 5.4, None, 16))),
    "horn": mixed((1, 0, tone(0.6, 174.6, None, 3, 0.05)),
                  (0.7, 0, tone(0.6, 220, None, 3, 0.05)),
                  (0.5, 0, tone(0.6, 349.2, None, 4, 0.05)),
                  (0.3, 0, tone(0.6, 523.9, None, 5, 0.05)),
                  (0.2, 0, tone(0.5, 698.5, None, 6, 0.06))),
    "switch-on": mixed((0.6, 0, noise(0.02, 200, 4, 6)), (1, 0.01, tone(0.09, 620, 1040, 36))),
    "switch-off": mixed((0.6, 0, noise(0.02, 200, 4, 7)), (1, 0.01, tone(0.09, 1040, 560, 36))),
    "deny": mixed((1, 0, tone(0.09, 210, None, 18)), (0.4, 0, tone(0.09, 420, None, 24)),
                  (1, 0.12, tone(0.14, 180, None, 16)), (0.4, 0.12, tone(0.14, 360, None, 22))),
    "whoosh": mixed((1, 0, noise(0.3, 9, 14, 8)
                     * np.minimum(1, np.arange(int(0.3 * RATE)) / 2400))),
}


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name, sound in SOUNDS.items():
        fading = min(240, sound.size)
        sound[-fading:] *= np.linspace(1, 0, fading)  # no click at the end
        samples = np.round(sound / np.abs(sound).max() * PEAK * 32767).astype("<i2")
        with wave.open(str(FOLDER / f"{name}.wav"), "wb") as file:
            file.setparams((1, 2, RATE, 0, "NONE", ""))
            file.writeframes(samples.tobytes())
        print(f"{name:12} {samples.size / RATE * 1000:5.0f} ms {samples.nbytes / 1024:5.1f} kB")


if __name__ == "__main__":
    main()
