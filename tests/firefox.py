"""Firefox in the tests, driven by the protocol that every Firefox speaks itself (Marionette)."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import time
from base64 import b64decode
from pathlib import Path
from typing import Any

SETTLED = """const done = arguments[0];
(async () => {
  const fonts = [...document.fonts];
  await Promise.all(fonts.map((font) => font.load()));
  requestAnimationFrame(() => requestAnimationFrame(() => done(fonts.length)));
})().catch((error) => done(String(error)));"""


class Firefox:
    """A headless Firefox with a profile of its own, ended with the block that it is used in."""

    def __init__(self, profile: Path) -> None:
        profile.mkdir()
        (profile / "user.js").write_text(
            'user_pref("marionette.port", 0);\nuser_pref("ui.prefersReducedMotion", 1);')
        self.program = subprocess.Popen(
            ["firefox-esr", "--headless", "--no-remote", "--marionette", "--profile", str(profile)],
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
            env=os.environ | {"HOME": str(profile)})
        port, latest = profile / "MarionetteActivePort", time.monotonic() + 60
        while not (port.exists() and port.read_text().strip()):
            assert time.monotonic() < latest, "Firefox did not start"
            time.sleep(0.05)
        self.socket = socket.create_connection(("127.0.0.1", int(port.read_text())), timeout=60)
        self.stream = self.socket.makefile("rb")
        self.read()
        self.call("NewSession")

    def __enter__(self) -> Firefox:
        return self

    def __exit__(self, *_: object) -> None:
        self.socket.close()
        self.program.terminate()
        self.program.wait(30)

    def read(self) -> Any:
        length = b""
        while (digit := self.stream.read(1)) != b":":
            assert digit, "Firefox has ended"
            length += digit
        return json.loads(self.stream.read(int(length)))

    def call(self, command: str, **parameters: Any) -> Any:
        text = json.dumps([0, 1, f"WebDriver:{command}", parameters]).encode()
        self.socket.sendall(b"%d:%s" % (len(text), text))
        _, _, error, result = self.read()
        assert not error, error
        return result

    def picture(self, page: Path, width: int, height: int) -> bytes:
        """PNG of a page in a window of that size, when its fonts are there and it has settled."""
        self.call("SetWindowRect", width=width, height=height + 200)
        self.call("Navigate", url=page.as_uri())
        fonts = self.call("ExecuteAsyncScript", script=SETTLED, args=[])["value"]
        assert isinstance(fonts, int), f"a font did not load: {fonts}"
        return b64decode(self.call("TakeScreenshot", full=True)["value"])
