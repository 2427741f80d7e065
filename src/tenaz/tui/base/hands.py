"""What controllers need of the interface, so that they can be tried without one."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, Protocol, TypeVar

if TYPE_CHECKING:
    from textual.screen import ModalScreen

    from tenaz.orders import Brings, Order
    from tenaz.settings.model import Settings

Answer = TypeVar("Answer")


class Hands(Protocol):
    """Asks, tells, gives orders to the workshop, shows what changed."""

    def ask(self, screen: "ModalScreen[Answer]", take: Callable[[Answer | None], Any]) -> None:
        """Put a question over the workbench; ``take`` gets the answer, or None where it was left."""
        ...

    def complain(self, trouble: str) -> None:
        """Say what went wrong and what to do; empty: nothing is wrong any more."""
        ...

    def complaint_read(self) -> bool:
        """Whether something was complained of; it is taken away."""
        ...

    def tell(self, text: str, title: str = "") -> None:
        """Say something in passing."""
        ...

    def give(self, order: "Order[Any]") -> None:
        """Give an order to the workshop; it is carried out on a thread of its own."""
        ...

    def work_on(self, rig: str) -> None:
        """Work on another rig; what runs on this one goes on, and what was left running there is joined."""
        ...

    def bring(self, order: "Brings[Answer]", take: Callable[[Answer], None]) -> None:
        """Give an order whose answer comes to ``take``, a moment later."""
        ...

    def wait_for(self, order: "Brings[Answer]", take: Callable[[Answer], None]) -> None:
        """The same, where the answer opens a dialog: what is typed until then is meant for that."""
        ...

    def hold_typed(self) -> None:
        """A command waits for the run's end: what is typed behind it is meant for what it will open."""
        ...

    def let_typed_go(self) -> None:
        """What waited was carried out."""
        ...

    def act(self, action: str) -> None:
        """Have the application itself do something, by the name of its action."""
        ...

    def leave(self) -> None:
        """Leave the workbench once what was ordered is done."""
        ...

    def look(self) -> None:
        """Have a fresh view taken soon."""
        ...

    def show(self) -> None:
        """Bring every panel up to date."""
        ...

    def show_load(self) -> None:
        """Bring the page of a load up to date, where it is the one in sight."""
        ...

    def bring_page_forward(self) -> None:
        """On a small screen: show the panel of the pages."""
        ...

    def scroll(self, step: int) -> None:
        """Show what lies above or below on the page in sight."""
        ...

    def show_question(self, question: object) -> None:
        """Show a question whose choices are keys; None takes it back."""
        ...

    def show_trial(self, trial: object) -> None:
        """Light a trial's station on the rail; None: nothing is under way."""
        ...

    def show_progress(self, event: object) -> None:
        """Show a load under way on the rail."""
        ...

    def title(self, text: str) -> None:
        """Put a line into the title of the terminal's window."""
        ...

    def ring(self) -> None:
        """Ring the bell, where that is wanted."""
        ...

    def refused_keys(self) -> tuple[str, ...]:
        """What was set as a key and cannot be one, in words."""
        ...

    def apply_settings(self, settings: "Settings") -> None:
        """Look and answer as was set."""
        ...
