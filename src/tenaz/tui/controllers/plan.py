"""Keys of the plan: trials put on it, moved, skipped, and made while nobody is there."""

from tenaz.core.searches.plans import Planned, parse_rule
from tenaz.orders import AddPlanned, MovePlanned, RunPlan, SkipPlanned
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.plan import PlanPage
from tenaz.tui.prompts.plan import rule_prompt
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace


class PlanController:
    """The queue of the rig at work."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting

    @property
    def _plan(self) -> PlanPage:
        return self._work.pages.of(PlanPage)

    def put_on_plan(self) -> None:
        """The climb under way as a whole, where nothing else is dialled; else the dialled values with the next load."""
        view, dial = self._work.view, self._work.dial
        search = view.searches.going
        self._show()
        if search is not None and dial.setpoint == view.in_force:
            planned = tuple(one for one in view.kept.planned if one.search_id == search.id)
            if planned:
                self._hands.complain("The climb under way is on the plan already; dial something else, or run it: N.")
                return
            self._hands.give(AddPlanned((Planned(0, search.base, search.load, search.reason, search_id=search.id),)))
            return
        setpoint, plan = dial.setpoint, self._work.plan

        def put(reason: str) -> None:
            self._hands.give(AddPlanned((Planned(0, setpoint, plan, reason),)))

        self._starting.known_first(lambda: self._starting.with_reason(put))

    def move_planned(self, step: int) -> None:
        """The planned trial pointed at, earlier or later."""
        planned = self._plan.pointed_at(self._work)
        if planned is not None:
            self._hands.give(MovePlanned(planned.id, step))
            self._plan.moved(step)
        self._show()

    def skip_planned(self) -> None:
        """The planned trial pointed at is not made."""
        planned = self._plan.pointed_at(self._work)
        if planned is not None:
            self._hands.give(SkipPlanned(planned.id))
        self._show()

    def run_plan(self) -> None:
        """All of the plan, by itself."""

        def take(text: str | None) -> None:
            if text is not None:
                self._starting.start(RunPlan(parse_rule(text)), priced=True)
                self._show()

        self._hands.ask(rule_prompt(self._work.view, self._work.settings.work.plan_rule), take)

    def _show(self) -> None:
        self._work.pages.show(PlanPage)
        self._hands.bring_page_forward()
        self._hands.show()
