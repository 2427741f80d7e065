"""What comes next, as a value: the step, why, and the order that does it; always a suggestion, never a command."""

from dataclasses import dataclass
from typing import Any

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.orders import Begins, StartRoutine


@dataclass(frozen=True, slots=True)
class Coming:
    """``step`` and ``reason`` in words, for whoever reads them; ``order`` does the step (None: it is for people, or
    takes so long that Enter does not begin it). ``key`` is the workbench's for it, ``hint`` what else its keys offer.
    """

    step: str
    reason: str
    order: Begins[Any] | None = None
    key: str = ""
    hint: str = ""

    @property
    def headline(self) -> str:
        """The step, with the key that does it before it."""
        key = "⏎" if self.order is not None else self.key
        return f"{key}   {self.step}" if key else self.step

    @property
    def why(self) -> str:
        """The reason, and what else keys offer."""
        return f"{self.reason}{self.hint}"

    @property
    def stand(self) -> Setpoint | None:
        """The values at which to stand and to run what is ``owed`` there, where that is the step."""
        return self.order.setpoint if isinstance(self.order, StartRoutine) else None

    @property
    def owed(self) -> tuple[LoadPlan, ...]:
        """What is owed at :attr:`stand`."""
        return self.order.loads if isinstance(self.order, StartRoutine) else ()


NOTHING_YET = Coming("", "")
