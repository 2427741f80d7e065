"""A technician at the other end of a queue."""

import queue
import threading
from contextlib import suppress

from tenaz.core.errors import Interrupted
from tenaz.core.events import Asked
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import Publish, Question


class Relay:
    """A technician who is asked through events, and answers from another thread."""

    def __init__(self, publish: Publish) -> None:
        self._publish = publish
        self._answers: queue.Queue[Move | Outcome | None] = queue.Queue()
        self._stopped = threading.Event()

    def ask(self, question: Question) -> Move | Outcome:
        """Publish the question and wait; Interrupted when stopped instead."""
        if self._stopped.is_set():
            raise Interrupted("stopped by hand")
        with suppress(queue.Empty):
            while True:
                self._answers.get_nowait()
        self._publish(Asked(question))
        answer = self._answers.get()
        self._publish(Asked(None))
        if answer is None:
            raise Interrupted("stopped by hand")
        return answer

    def answer(self, answer: Move | Outcome) -> None:
        """Give the answer."""
        self._answers.put(answer)

    def stop(self) -> None:
        """Take the question back, and refuse all further ones."""
        self._stopped.set()
        self._answers.put(None)
