"""The next step and why; or the question that the loop waits for; or what went wrong."""

from textual import events
from textual.message import Message

from tenaz.charts.cells import Cells, wrapped
from tenaz.charts.marks import NEXT, Role
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import Question
from tenaz.tui.widgets.sheet import Sheet


class NextStep(Sheet, can_focus=True):
    """Says what to do next. While a question is open it takes the keys of its choices."""

    DEFAULT_CSS = "NextStep { height: 6; padding: 0 1; }"

    class Answered(Message):
        """A choice was made."""

        def __init__(self, question: Question, answer: Move | Outcome) -> None:
            super().__init__()
            self.question = question
            self.answer = answer

    def __init__(self) -> None:
        super().__init__(id="next")
        self._question: Question | None = None
        self._headline, self._reason, self._trouble = "", "", ""

    @property
    def question(self) -> Question | None:
        """The open question."""
        return self._question

    def ask(self, question: Question | None) -> None:
        """Open a question, or take it back."""
        self._question = question
        if question is not None:
            self._trouble = ""
            self.focus()
        self.changed()

    def suggest(self, headline: str, reason: str) -> None:
        """Say the next step and why."""
        self._headline, self._reason = headline, reason
        self.changed()

    def complain(self, trouble: str) -> None:
        """Say what went wrong and what to do; it stays until the next order."""
        self._trouble = trouble
        self.changed()

    def on_key(self, event: events.Key) -> None:
        """Give the answer whose key was pressed."""
        question = self._question
        for choice in question.choices if question else ():
            if event.key == choice.key and question is not None:
                event.stop()
                event.prevent_default()
                self.post_message(self.Answered(question, choice.answer))
                return

    def draw(self, width: int, height: int) -> Cells:
        """Draw whichever of the three matters most."""
        cells = Cells(width - 2, height)
        if self._question is not None:
            self._draw_question(cells, self._question)
            return cells
        row = 0
        if self._trouble:
            for line in wrapped(f"✗ {self._trouble}", cells.width):
                cells.put(0, row, line, Role.FAILED)
                row += 1
            row += 1
        cells.put(0, row, f"{NEXT.sign} next", Role.LIT)
        cells.put(8, row, self._headline, Role.TEXT)
        for line in wrapped(self._reason, cells.width - 8):
            row += 1
            cells.put(8, row, line, Role.FAINT)
        return cells

    @staticmethod
    def _draw_question(cells: Cells, question: Question) -> None:
        cells.put(0, 0, f"{question.station}: {question.prompt}", Role.LIT)
        room = cells.height - 3
        lines = question.lines
        half = (len(lines) + 1) // 2 if len(lines) > room else len(lines)
        longest = max((len(line) for line in lines), default=0)
        for number, line in enumerate(lines):
            # A long sheet goes on in a second column beside the first.
            column = 2 if number < half else longest + 8
            changed = line.startswith(("▸", "≠"))
            cells.put(column, 1 + number % max(1, half), line, Role.LIT if changed else Role.TEXT)
        column = 0
        for choice in question.choices:
            cells.put(column, cells.height - 2, f" {choice.key} ", Role.LIT)
            cells.put(column + 4, cells.height - 2, choice.label, Role.TEXT)
            column += len(choice.label) + 7
