"""Sound files as a kit carries them: WAV, OGG and FLAC in, 16-bit WAV out."""

from __future__ import annotations

import io
import math
from pathlib import Path

import numpy as np

from mektel.core.errors import MektelError
from mektel.core.kit.own_sounds import HIGHEST_RATE, LONGEST, SoundError, check_wav
from mektel.formats.kitfile import read_limited

LARGEST_FILE = 8 * 2**20
# By these names alone the library reads; more it could, nobody needs.
KINDS = ("WAV", "WAVEX", "OGG", "FLAC")
SUFFIXES = (".wav", ".ogg", ".oga", ".flac")


class SoundFileError(MektelError):
    """A sound file that cannot be read; says which and why."""


def read_sound(path: Path) -> bytes:
    """A sound file as a WAV file of 16 bit: its first two channels, at 48 kHz at most.

    Raises :class:`SoundFileError` and what :func:`read_limited` raises.
    """
    return sound_from_bytes(read_limited(path, LARGEST_FILE), path.name)


def sound_from_bytes(content: bytes, source: str) -> bytes:
    """The same for the content of a file; ``source`` names it in errors."""
    import soundfile

    try:
        with soundfile.SoundFile(io.BytesIO(content)) as file:
            if file.format not in KINDS:
                raise SoundError("this is not a WAV, OGG or FLAC file")
            if file.samplerate < 1 or file.frames > LONGEST * file.samplerate:
                raise SoundError(f"it is longer than {LONGEST:g} s")
            rate = file.samplerate
            frames = int(LONGEST * rate)
            samples = file.read(frames, dtype="float32", always_2d=True)[:, :2]
    except SoundError as error:
        raise SoundFileError(f"{source}: {error}. Choose a short sound file.") from None
    except Exception:
        raise SoundFileError(
            f"{source}: not read as a sound: it breaks off or is not a WAV, OGG or FLAC file. "
            "Choose another, or save it anew as WAV.") from None
    if rate > HIGHEST_RATE:
        from scipy.signal import resample_poly

        shared = math.gcd(rate, HIGHEST_RATE)
        samples = resample_poly(samples, HIGHEST_RATE // shared, rate // shared, axis=0)
        rate = HIGHEST_RATE
    made = io.BytesIO()
    plain = np.nan_to_num(np.clip(samples, -1.0, 1.0))
    soundfile.write(made, plain, rate, subtype="PCM_16", format="WAV")
    try:
        check_wav(made.getvalue())
    except SoundError as error:
        raise SoundFileError(f"{source}: {error}.") from None
    return made.getvalue()
