"""A card opened for work: buffers, programs, and submissions of which some are always under way."""

import time
from collections import deque
from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.loads.graphics.library import library
from tenaz.loads.graphics.listing import adapters, card_of

UNDER_WAY = 2
"""Submissions that the card has at a time: while one's answer is read it already works at the next, and never has more
before it than a desktop would notice.
"""


class OpenCard:
    """One card.

    Raises:
        Refused: there is no such card, or it cannot be opened.
    """

    def __init__(self, index: int) -> None:
        self.gpu = library()
        found = adapters(self.gpu)
        if index >= len(found):
            raise Refused(f"There is no card {index} here any more.")
        adapter = found[index]
        self.card = card_of(index, adapter)
        wanted = ("max-storage-buffer-binding-size", "max-buffer-size")
        limits = {name: adapter.limits[name] for name in wanted}
        features = [name for name in ("timestamp-query",) if name in adapter.features]
        try:
            self.device = adapter.request_device_sync(required_limits=limits, required_features=features)
        except Exception as error:  # the library has no narrower one
            raise Refused(f"{self.card.name} cannot be opened: {str(error)[:200]}") from error
        self.waited: Callable[[float], None] = lambda _: None
        """Told for how long an answer was waited for, in s: the card worked meanwhile."""
        self.window_bytes = min(limits["max-storage-buffer-binding-size"], limits["max-buffer-size"]) & ~0xFFFF

    def storage(self, size: int) -> Any:
        """A buffer of the card's memory.

        Raises:
            NoRoom: it has none left.
        """
        use = self.gpu.BufferUsage
        try:
            return self.device.create_buffer(size=size, usage=use.STORAGE | use.COPY_SRC | use.COPY_DST)
        except Exception as error:
            if "memory" in str(error).lower():
                raise NoRoom(str(error)[:200]) from error
            raise

    def uniform(self, size: int) -> Any:
        """A buffer for what a program is asked."""
        use = self.gpu.BufferUsage
        return self.device.create_buffer(size=size, usage=use.UNIFORM | use.COPY_DST)

    def staging(self, size: int) -> Any:
        """A buffer that answers are read from."""
        use = self.gpu.BufferUsage
        return self.device.create_buffer(size=size, usage=use.MAP_READ | use.COPY_DST)

    def program(self, code: str) -> Any:
        """A compute program of it."""
        module = self.device.create_shader_module(code=code)
        stage = {"module": module, "entry_point": "main"}
        return self.device.create_compute_pipeline(layout="auto", compute=stage)

    def bound(self, program: Any, resources: Sequence[Any]) -> Any:
        """What a program works on, in the order of its bindings; None where it has none."""
        entries = [
            {"binding": place, "resource": {"buffer": one} if hasattr(one, "map_sync") else one}
            for place, one in enumerate(resources)
            if one is not None
        ]
        return self.device.create_bind_group(layout=program.get_bind_group_layout(0), entries=entries)

    def answers(self) -> bool:
        """Whether it still does what it is asked: a few bytes there and back."""
        with suppress(Exception):
            buffer = self.storage(256)
            self.device.queue.write_buffer(buffer, 0, b"\x5a" * 256)
            return bytes(self.device.queue.read_buffer(buffer)) == b"\x5a" * 256
        return False


class NoRoom(Exception):
    """The card has no memory left for what was asked."""


class Submissions:
    """Submissions in their order, with the answers of each. ``size`` is what an answer holds, in bytes."""

    def __init__(self, card: OpenCard, size: int) -> None:
        self._card, self._size = card, size
        self._answers = [card.storage(size) for _ in range(UNDER_WAY + 1)]
        self._stagings = [card.staging(size) for _ in range(UNDER_WAY + 1)]
        self._waiting: deque[tuple[int, Any, Callable[[bytes], None]]] = deque()
        self._next = 0

    @property
    def answers(self) -> list[Any]:
        """The buffers that programs write their answers to, by the slot of a submission."""
        return self._answers

    def slot(self) -> int:
        """Where the next submission's answer goes; waits for the one before it there."""
        if len(self._waiting) > UNDER_WAY - 1:
            self.take()
        return self._next

    def submit(self, encode: Callable[[Any], None], then: Callable[[bytes], None]) -> None:
        """Hand the card what ``encode`` writes down; ``then`` is told the answer, later and in order."""
        slot, encoder = self.slot(), self._card.device.create_command_encoder()
        encoder.clear_buffer(self._answers[slot])
        encode(encoder)
        staging = self._stagings[slot]
        encoder.copy_buffer_to_buffer(self._answers[slot], 0, staging, 0, self._size)
        self._card.device.queue.submit([encoder.finish()])
        self._waiting.append((slot, staging.map_async(self._card.gpu.MapMode.READ), then))
        self._next = (slot + 1) % (UNDER_WAY + 1)

    def take(self) -> None:
        """Wait for the oldest answer and have it told."""
        slot, promise, then = self._waiting.popleft()
        began_s = time.monotonic()
        promise.sync_wait()
        self._card.waited(time.monotonic() - began_s)
        staging = self._stagings[slot]
        answer = bytes(staging.read_mapped(copy=True))
        staging.unmap()
        then(answer)

    def drain(self) -> None:
        """Wait for all."""
        while self._waiting:
            self.take()
