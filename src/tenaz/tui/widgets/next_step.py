"""The panel of the next step; it takes the keys of an open question's answers, once it can have been read."""

from dataclasses import replace
from functools import partial
from typing import TYPE_CHECKING

from textual.message import Message

from tenaz.pictures.status.next_step import NextPicture, draw_next, rows_needed
from tenaz.tui.base.sight import DOUBLE_S, Sight
from tenaz.tui.widgets.panel import Panel

if TYPE_CHECKING:
    from textual.timer import Timer

    from tenaz.core.base.loop import Move
    from tenaz.core.base.outcomes import Outcome
    from tenaz.core.ports.bench import Question

LEAST_ROWS, MOST_ROWS = 3, 14
LOWERED_AFTER_S = 1.2
SEEN_S = 40.0
"""By then it was read, or nobody is there; the log has what matters."""
LEAST_WIDTH = 78
"""Taken before the panel has been laid out."""


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
        self._high = 0
        self._lowering: Timer | None = None
        self._sight = Sight()
        """Of the question, or of what is suggested."""
        self.suggest("opening the book …", "")

    @property
    def asks(self) -> bool:
        """Whether a question stands open."""
        return self._picture.question is not None

    @property
    def complains(self) -> bool:
        """Whether something that went wrong is said."""
        return bool(self._picture.trouble)

    def was_read(self, pressed_s: float) -> bool:
        """Whether what stands here can have been read before a key was pressed that may be a double one."""
        return self._sight.was_read(pressed_s, DOUBLE_S)

    def ask(self, question: "Question | None") -> None:
        """Open a question, or take it back."""
        self._change(replace(self._picture, question=question))
        if question is not None:
            self.focus()

    def suggest(self, headline: str, reason: str) -> None:
        """Say the next step and why."""
        self._change(replace(self._picture, headline=headline, reason=reason))

    def came_into_sight(self) -> None:
        """What covered it is gone."""
        self._sight.lost()
        self.call_after_refresh(self._sight.stands)

    def complain(self, trouble: str) -> None:
        """Say what went wrong and what to do; it stays until the next order, or for a while."""
        if self._going is not None:
            self._going.stop()
        self._going = self.set_timer(SEEN_S, lambda: self.complain("")) if trouble else None
        self._change(replace(self._picture, trouble=trouble))

    def _change(self, picture: NextPicture) -> None:
        before, self._picture = self._picture, picture
        if (before.question, before.headline) != (picture.question, picture.headline) and self.is_mounted:
            self.came_into_sight()
        self._fit()
        self.show(lambda width, height: draw_next(picture, width, height))

    def _fit(self) -> None:
        """As high as its words need, at once; lower only after a while: whoever dials through values of which
        some have more to say would see everything jump at each key, and wait for it.
        """
        wanted = rows_needed(self._picture, self.size.width or LEAST_WIDTH) + 1
        rows = max(LEAST_ROWS, min(MOST_ROWS, wanted))
        if self._lowering is not None:
            self._lowering.stop()
            self._lowering = None
        if self._high <= rows or not self.is_mounted:
            self._high = rows
            self.styles.height = rows
        else:
            self._lowering = self.set_timer(LOWERED_AFTER_S, partial(self._lower, rows))

    def _lower(self, rows: int) -> None:
        self._high, self._lowering = rows, None
        self.styles.height = rows

    def takes(self, key: str, pressed_s: float) -> bool:
        """Give the answer whose key was pressed; False: it is none of an open question. One that was pressed before the
        question can have been read was meant for something else, and does nothing.
        """
        question = self._picture.question
        if question is None or key not in [choice.key for choice in question.choices]:
            return False
        return self._answer(key) if self._sight.was_read(pressed_s) else True

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
