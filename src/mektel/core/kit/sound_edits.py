"""Edits of the sounds that a kit carries."""

from __future__ import annotations

import base64

from mektel.core.errors import DocumentError
from mektel.core.kit.answers import SHIPPED_SOUNDS, Sound
from mektel.core.kit.control import Control
from mektel.core.kit.document import Kit
from mektel.core.kit.edit import identifier
from mektel.core.kit.own_sounds import MOST_SOUNDS, OwnSound, SoundError, check_wav


def add_sound(kit: Kit, name: str, content: bytes) -> tuple[Kit, str]:
    """Takes a WAV file into the kit; the same sound is not taken twice. Its id comes with it.

    Raises :class:`DocumentError` for what is no such file, or one too many.
    """
    try:
        check_wav(content)
    except SoundError as error:
        raise DocumentError("", str(error)) from None
    wav = base64.b64encode(content).decode()
    for sound in kit.sounds:
        if sound.wav == wav:
            return kit, sound.id
    if len(kit.sounds) >= MOST_SOUNDS:
        raise DocumentError("", f"a kit carries at most {MOST_SOUNDS} sounds; remove some")
    taken = [*SHIPPED_SOUNDS, *(sound.id for sound in kit.sounds)]
    title = " ".join(name.split())[:80] or "Sound"
    new = OwnSound(id=identifier(name, taken, "sound"), name=title, wav=wav)
    return kit.model_copy(update={"sounds": (*kit.sounds, new)}), new.id


def sound_users(kit: Kit, sound_id: str) -> list[Control]:
    """The controls that play a sound."""
    return [control for control in kit.controls
            if any(isinstance(answer, Sound) and answer.sound == sound_id
                   for answer in control.answers)]


def unused_sounds(kit: Kit) -> tuple[OwnSound, ...]:
    """The kit's sounds that no control plays."""
    return tuple(sound for sound in kit.sounds if not sound_users(kit, sound.id))


def remove_sound(kit: Kit, sound_id: str) -> Kit:
    """Takes a sound out of the kit. Raises :class:`DocumentError` while controls play it."""
    gone = kit.sound(sound_id)
    users = sound_users(kit, sound_id)
    if users:
        names = ", ".join(control.name for control in users[:3])
        raise DocumentError(
            "", f"“{gone.name}” is played by {names}; give them another sound first")
    return kit.model_copy(
        update={"sounds": tuple(sound for sound in kit.sounds if sound is not gone)})
