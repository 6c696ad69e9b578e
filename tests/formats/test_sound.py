"""Sound files on their way into a kit, and out with shipped code."""

from __future__ import annotations

import io
import json
import wave
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.errors import DocumentError, MektelError
from mektel.core.kit import Kit
from mektel.core.kit.answers import Sound
from mektel.core.kit.checking import checked
from mektel.core.kit.own_sounds import LONGEST, MOST_SOUNDS, check_wav
from mektel.core.kit.sound_edits import add_sound, remove_sound
from mektel.core.kit.timing_edits import set_answers
from mektel.formats.kitfile import kit_from_text, kit_to_text
from mektel.formats.sound import SoundFileError, read_sound, sound_from_bytes
from mektel.targets import ship, target_named, write_files

FORMS = {"WAV": ("PCM_24", 96_000), "OGG": ("VORBIS", 44_100), "FLAC": ("PCM_16", 22_050)}


def tone(kind: str = "WAV", seconds: float = 0.2, channels: int = 2) -> bytes:
    subtype, rate = FORMS[kind]
    time = np.arange(int(seconds * rate)) / rate
    made = io.BytesIO()
    soundfile.write(made, np.stack([0.5 * np.sin(2 * np.pi * 440 * time)] * channels, 1), rate,
                    format=kind, subtype=subtype)
    return made.getvalue()


@pytest.mark.parametrize("kind", FORMS)
def test_a_sound_file_becomes_plain_samples_of_the_same_pitch(kind: str, tmp_path: Path) -> None:
    (tmp_path / f"gull.{kind.lower()}").write_bytes(tone(kind, channels=3 if kind != "OGG" else 2))
    content = read_sound(tmp_path / f"gull.{kind.lower()}")
    check_wav(content)
    with wave.open(io.BytesIO(content)) as file:
        rate, channels = file.getframerate(), file.getnchannels()
        samples = np.frombuffer(file.readframes(file.getnframes()), np.int16)[::channels]
    assert channels == 2 and rate <= 48_000 and abs(len(samples) / rate - 0.2) < 0.01
    loudest = np.argmax(np.abs(np.fft.rfft(samples))) * rate / len(samples)
    assert abs(loudest - 440) < 6 and 0.45 < np.abs(samples).max() / 32768 < 0.55


def test_what_is_no_short_sound_is_refused_with_its_reason(tmp_path: Path) -> None:
    for content, reason in ((tone(seconds=LONGEST + 1), "longer than 10 s"),
                            (b"RIFFnothing", "not a WAV, OGG or FLAC"), (b"", "breaks off")):
        with pytest.raises(SoundFileError, match=reason):
            sound_from_bytes(content, "gull.wav")
    with pytest.raises(MektelError):
        read_sound(tmp_path / "none.ogg")


@settings(max_examples=150, deadline=None)
@given(st.sampled_from(list(FORMS)), st.data())
def test_no_file_gives_anything_but_a_sound_or_an_error(kind: str, data: st.DataObject) -> None:
    content = bytearray(tone(kind, 0.02, 1))
    for _ in range(data.draw(st.integers(1, 6))):
        content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
    try:
        check_wav(sound_from_bytes(bytes(content[:data.draw(st.integers(0, len(content)))]), "x"))
    except SoundFileError as error:
        assert str(error).startswith("x: ")


def test_a_kit_carries_its_sounds_to_shipped_code(demo_kit: Kit, tmp_path: Path) -> None:
    content = sound_from_bytes(tone(), "gull.wav")
    kit, gull = add_sound(demo_kit, "Gull `${cry}` Tap", content)
    assert add_sound(kit, "Again", content) == (kit, gull) and gull == "gull-cry-tap"
    kit, other = add_sound(kit, "tap", sound_from_bytes(tone("FLAC"), "tap"))
    assert other == "tap-2", "a shipped sound keeps its name"
    kit = set_answers(kit, "board", (Sound(sound=gull), Sound(sound="tap", cause="release")))
    kit = checked(kit, demo_kit)
    assert kit_from_text(kit_to_text(kit)) == kit
    with pytest.raises(DocumentError, match="played by Board"):
        remove_sound(kit, gull)
    assert [sound.id for sound in remove_sound(kit, other).sounds] == [gull]
    for name in ("qtwidgets", "web"):
        folder = tmp_path / name
        write_files(ship(target_named(name), kit, [kit.control("board")]), folder)
        wavs = {path.name: path.read_bytes() for path in folder.rglob("*.wav")}
        assert wavs.keys() == {"gull-cry-tap.wav", "tap.wav"} and content in wavs.values()

    data = json.loads(kit_to_text(kit))
    for change, reason in (
        (lambda d: d["sounds"].pop(0), "There is no sound"),
        (lambda d: d["sounds"][0].update(id="tap"), "twice"),
        (lambda d: d["sounds"][0].update(wav="UklGRg=="), "WAV"),
        (lambda d: d.update(sounds=d["sounds"][:1] * (MOST_SOUNDS + 1)), "sounds"),
    ):
        broken = json.loads(json.dumps(data))
        change(broken)
        with pytest.raises(MektelError, match=reason):
            kit_from_text(json.dumps(broken))
