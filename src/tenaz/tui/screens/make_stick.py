"""Making a stick from the workbench: where to, what will be erased, how far it is, and a key that stops it."""

import threading
import time
from pathlib import Path

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.catalogues.outside import typed_path
from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.plain_text import plain
from tenaz.tui.screens.modal import Modal
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt

BAR = 60


def stick_prompt() -> Prompt:
    """A file to write an image to, or one of the removable devices."""
    from tenaz.stick.devices import removable  # noqa: PLC0415 - the workbench does not wait for it

    picks = [Pick(f"{one.path} {one.name}", one.show()) for one in removable()]
    hint = (
        "a file ending in .img; or a removable device and its name: all that is on it is erased"
        if picks
        else "a file ending in .img (no removable device is there); write it to a medium with tenaz stick make DEVICE"
    )
    return Prompt("make a stick that boots into Tenaz", hint, "tenaz-stick.img", target_of, picks=picks)


def target_of(text: str) -> "tuple[Path, str]":
    """The image file, or the device with its name typed.

    Raises:
        Refused: neither.
    """
    path, _, name = text.strip().partition(" ")
    if path.startswith("/dev/"):
        from tenaz.stick.devices import device  # noqa: PLC0415

        found = device(Path(path))
        if name.strip() != found.name:
            raise Refused(f"{found.show()} would be erased: type its name, {found.name}, after {path}.")
        return found.path, found.name
    if not text.strip().endswith(".img"):
        raise Refused("An image of a stick is a file ending in .img.")
    return typed_path(text), ""


class MakeStick(Modal[str]):
    """Makes it in a thread of its own; dismissed with what came of it."""

    DEFAULT_CSS = """
    MakeStick { align: center middle; background: $background 60%; }
    MakeStick > Vertical { width: 76; height: auto; padding: 1 2; background: $background; border: solid $primary; }
    MakeStick Static { width: 1fr; height: auto; }
    MakeStick .title { color: $primary; text-style: bold; margin-bottom: 1; }
    """

    def __init__(self, text: str) -> None:
        super().__init__()
        self._text = text
        self._stop = threading.Event()
        self._done: str | None = None
        self._doing, self._part, self._left_s = "beginning", 0.0, None
        self._began_s = time.monotonic()

    def compose(self) -> ComposeResult:
        """What is made, and how far it is."""
        with Vertical():
            yield Static(f"a stick: {plain(self._text)}", classes="title", markup=False)
            yield Static("", id="far", markup=False)

    def on_mount(self) -> None:
        """Begin."""
        threading.Thread(target=self._make, name="stick", daemon=True).start()
        self.set_interval(0.2, self._tell)

    def _make(self) -> None:
        from tenaz.stick.cache import Cancelled  # noqa: PLC0415
        from tenaz.stick.making import StickMaker  # noqa: PLC0415
        from tenaz.stick.writing import write_device  # noqa: PLC0415

        maker = StickMaker(on_step=self._step)
        self._stop = maker.stop
        try:
            path, name = target_of(self._text)
            if name:
                write_device(maker, path, name, self._step)
                self._done = f"{path} is a stick now: take it out, and start a machine from it."
            else:
                size = maker.image(path)
                self._done = f"written: {path}, {size >> 20} MiB"
        except Cancelled:
            self._done = "Stopped; nothing half done is left."
        except TenazError as error:
            self._done = str(error)

    def _step(self, step: object) -> None:
        self._doing, self._part = getattr(step, "doing", ""), getattr(step, "part", 0.0)
        self._left_s = getattr(step, "left_s", None)

    def _tell(self) -> None:
        if self._done is not None:
            words = f"{self._done}\n\nany key"
        else:
            filled = round(BAR * self._part)
            left = f", about {show_duration(self._left_s)} left" if self._left_s else ""
            words = f"{'━' * filled}{'┄' * (BAR - filled)}\n{self._doing}{left}\n\ns  stop"
        self.query_one("#far", Static).update(words)

    def on_key(self, event: events.Key) -> None:
        """Stop it; once it is done, any key leaves."""
        event.stop()
        if self._done is not None:
            self.leave(self._done)
        elif event.key == "s":
            self._stop.set()
