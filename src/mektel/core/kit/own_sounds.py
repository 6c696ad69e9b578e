"""Sounds that a kit carries: WAV files of 16 bit, whose headers are checked when they are read."""

from __future__ import annotations

import base64
import binascii
import io
import wave
from typing import Annotated

from pydantic import AfterValidator, Field

from mektel.core.errors import MektelError
from mektel.core.kit.value_types import Frozen, Identifier, Title

# Seconds, frames a second and bytes of one sound: it answers a touch, it is not music.
LONGEST, HIGHEST_RATE, LARGEST_SOUND = 10.0, 48_000, 2 * 2**20
MOST_SOUNDS, MOST_CHANNELS = 64, 2


class SoundError(MektelError):
    """A sound that cannot be taken; says why."""


def check_wav(content: bytes) -> None:
    """That these are the bytes of a WAV file a kit can carry: PCM, 16 bit, one or two channels, as
    long and as large as the limits say, and with as many frames as its header promises.

    Raises :class:`SoundError`.
    """
    if len(content) > LARGEST_SOUND:
        raise SoundError(f"a sound of {len(content) / 2**20:.1f} MB is larger than "
                         f"{LARGEST_SOUND // 2**20} MB")
    try:
        with wave.open(io.BytesIO(content)) as file:
            channels, width, rate, frames, *_ = file.getparams()
            held = len(file.readframes(frames))
    except (wave.Error, EOFError, ValueError, OverflowError, MemoryError):
        raise SoundError("this is not a WAV file of plain samples (PCM)") from None
    if width != 2 or not 1 <= channels <= MOST_CHANNELS or not 0 < rate <= HIGHEST_RATE:
        raise SoundError(f"sounds have 16 bit, one or two channels and at most {HIGHEST_RATE} "
                         f"frames a second; this has {8 * width} bit, {channels} channels, {rate}")
    if frames < 1 or held != frames * width * channels:
        raise SoundError("the sound is empty or breaks off")
    if frames > LONGEST * rate:
        raise SoundError(f"a sound of {frames / rate:.1f} s is longer than {LONGEST:g} s")


def wav_bytes(sound: OwnSound) -> bytes:
    """A kit's sound as a file."""
    return base64.b64decode(sound.wav)


def _checked(wav: str) -> str:
    try:
        check_wav(base64.b64decode(wav, validate=True))
    except (binascii.Error, ValueError):
        raise ValueError("a sound's content is not base64") from None
    except SoundError as error:
        raise ValueError(str(error)) from None
    return wav


WavData = Annotated[str, Field(max_length=LARGEST_SOUND * 3 // 2), AfterValidator(_checked)]


class OwnSound(Frozen):
    """A sound of the kit: a WAV file as base64."""

    id: Identifier
    name: Title
    wav: WavData
