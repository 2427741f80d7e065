"""The panel of the next step; it takes the keys of an open question's answers."""

from dataclasses import replace
from typing import TYPE_CHECKING

from textual.message import Message

from tenaz.pictures.status.next_step import NextPicture, draw_next, rows_needed
from tenaz.tui.widgets.panel import Panel

if TYPE_CHECKING:
    from textual.timer import Timer

    from tenaz.core.base.loop import Move
    from tenaz.core.base.outcomes import Outcome
    from tenaz.core.ports.bench import Question

LEAST_ROWS, MOST_ROWS = 3, 14
SEEN_S = 40.0
"""By then it was read, or nobody is there; the log has what matters."""
LEAST_WIDTH = 78
"""Taken before the panel has been laid out."""


YES_AND_NO = ("y", "n")


class NextStep(Panel, can_focus=True):
    """Says what to do next. While a question is open it takes the keys of its choices."""

    class Answered(Message):
        """A choice was made."""

        def __init__(self, answer: "Move | Outcome", question: "Question") -> None:
            super().__init__()
            self.answer, self.question = answer, question

    def __init__(self) -> None:
        super().__init__(id="next")
        self._picture = NextPicture()
        self._going: Timer | None = None
        self.suggest("opening the book …", "")

    def ask(self, question: "Question | None") -> None:
        """Open a question, or take it back."""
        self._change(replace(self._picture, question=question))
        if question is not None:
            self.focus()

    def suggest(self, headline: str, reason: str) -> None:
        """Say the next step and why."""
        self._change(replace(self._picture, headline=headline, reason=reason))

    def complain(self, trouble: str) -> None:
        """Say what went wrong and what to do; it stays until the next order, or for a while."""
        if self._going is not None:
            self._going.stop()
        self._going = self.set_timer(SEEN_S, lambda: self.complain("")) if trouble else None
        self._change(replace(self._picture, trouble=trouble))

    def _change(self, picture: NextPicture) -> None:
        self._picture = picture
        wanted = rows_needed(picture, self.size.width or LEAST_WIDTH) + 1
        self.styles.height = max(LEAST_ROWS, min(MOST_ROWS, wanted))
        self.show(lambda width, height: draw_next(picture, width, height))

    def takes(self, key: str) -> bool:
        """Give the answer whose key was pressed; False: it is none of an open question. Yes and no are answers only, as
        long as any question stands: typed for the one before, they do nothing else.
        """
        return self._answer(key) or (self._picture.question is not None and key in YES_AND_NO)

    def on_panel_picked(self, message: Panel.Picked) -> None:
        """Give the answer that was clicked."""
        kind, key = message.target
        if kind == "answer":
            message.stop()
            self._answer(str(key))

    def _answer(self, key: str) -> bool:
        question = self._picture.question
        for choice in question.choices if question else ():
            if key == choice.key and question is not None:
                # Once: whatever is typed after it is meant for something else.
                self._change(replace(self._picture, question=None))
                self.post_message(self.Answered(choice.answer, question))
                return True
        return False
