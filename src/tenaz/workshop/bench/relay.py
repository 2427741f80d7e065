"""A technician at the other end of a queue."""

import queue
import threading
from contextlib import suppress

from tenaz.core.base.errors import Interrupted
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.ports.asking import Answer, Reply
from tenaz.core.ports.bench import HowLong, Publish, Question, Ran
from tenaz.core.ports.events import Asked


class Relay:
    """A technician who is asked through events, and answers from another thread."""

    def __init__(self, publish: Publish) -> None:
        self._publish = publish
        self._answers: queue.Queue[Answer] = queue.Queue()
        self._stopped = threading.Event()
        self.asking: Question | HowLong | None = None
        """What it waits for an answer to."""

    def ask(self, question: Question) -> Move | Outcome:
        """Publish the question and wait; Interrupted when stopped instead."""
        while not isinstance(answer := self._wait_for(question), Move | Outcome):
            pass
        return answer

    def how_long(self, question: HowLong) -> Ran | None:
        """Publish the question and wait; None when the answer before was a slip."""
        while not isinstance(answer := self._wait_for(question), Ran):
            if answer is Reply.A_SLIP:
                return None
        return answer

    def _wait_for(self, question: Question | HowLong) -> Answer:
        if self._stopped.is_set():
            raise Interrupted("stopped by hand")
        with suppress(queue.Empty):
            while True:
                self._answers.get_nowait()
        self.asking = question
        self._publish(Asked(question))
        answer = self._answers.get()
        self.asking = None
        self._publish(Asked(None))
        if answer is Reply.STOP:
            raise Interrupted("stopped by hand")
        return answer

    def answer(self, answer: Answer, to: Question | HowLong | None = None) -> None:
        """Give the answer; one that is meant for another question than is open now is none."""
        if to is None or to == self.asking:
            self._answers.put(answer)

    def stop(self) -> None:
        """Take the question back, and refuse all further ones."""
        self._stopped.set()
        self._answers.put(Reply.STOP)
