"""The Plan page: trials to come, and the account of the newest run."""

from datetime import UTC, datetime
from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.searches.plans import Planned
from tenaz.pictures.plan.build import plan_picture
from tenaz.pictures.plan.cells import draw_plan
from tenaz.tui.pages.page import OUTCOMES, Drawing, Page, PageHelp
from tenaz.workshop.looking.session_paper import plan_ground

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class PlanPage(Page):
    """With one of the trials to come pointed at."""

    name = "plan"
    help = PageHelp(
        "Trials to come, each as long as its load; under it the account of the newest run for whoever "
        "comes back to it, and what was noted to come back to.",
        (("▸", "pointed at"), ("━", "how long its load runs"), ("┈", "a whole climb"), *OUTCOMES[:4]),
        ("put_on_plan", "run_plan"),
        "A run ends after so many failures in a row, within its time, when anything gets too hot, or by s.",
    )

    def __init__(self) -> None:
        self._at = 0

    def drawing(self, work: "AtHand") -> Drawing:
        """A way through the hours."""
        view = work.view
        ground = plan_ground(view.stands, view.kept, view.searches)
        return partial(draw_plan, plan_picture(ground, datetime.now(UTC), self._at))

    def pointed_at(self, work: "AtHand") -> Planned | None:
        """The planned trial pointed at."""
        planned = work.view.kept.planned
        return planned[min(self._at, len(planned) - 1)] if planned else None

    def points(self, work: "AtHand") -> bool:
        """Trials to come."""
        return bool(work.view.kept.planned) or super().points(work)

    def point(self, work: "AtHand", step: int) -> None:
        """At another trial to come."""
        self._at = max(0, min(len(work.view.kept.planned) - 1, self._at + step))

    def moved(self, step: int) -> None:
        """The trial pointed at was moved: it stays the one pointed at."""
        self._at = max(0, self._at + step)

    def click(self, work: "AtHand", hands: "Hands", kind: str, which: int | str) -> None:
        """A trial to come."""
        if kind == "planned":
            self._at = int(which)
        super().click(work, hands, kind, which)
