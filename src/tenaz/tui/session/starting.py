"""What must be settled before something starts: values that nobody could read, and reasons for what is unusual."""

from collections.abc import Callable
from typing import Any

from tenaz.advice.leaps import leap_words
from tenaz.advice.prices import Price, price_of
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import NeedsReason
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.steps import step_between
from tenaz.core.searches.search import Proposal
from tenaz.orders import Begins, Know, SetPace, StartRoutine, StartTrial, TakeUp
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.load import LoadPage
from tenaz.tui.prompts.loads import reason_prompt, typed_or_unknown, unknown_prompt
from tenaz.tui.prompts.sheet import step_prompt
from tenaz.tui.screens.price import PriceScreen
from tenaz.tui.session.workspace import PACES, Workspace


class Starting:
    """Asks until all is settled, then goes on."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def known_first(self, go: Callable[[], None]) -> None:
        """Go on once everything that a trial's record must say is known: what nobody could read is asked for, once."""
        work = self._work
        unknown = [name for name in work.dial.setpoint.unknown() if name not in work.left_unknown]
        if not unknown:
            go()
            return
        knob = work.dial.rig.knob(unknown[0])

        def take(text: str | None) -> None:
            if text is None:
                return
            value = typed_or_unknown(knob, text)
            if value is None:
                work.left_unknown.add(knob.name)
            else:
                work.know(knob.name, value)
                self._hands.give(Know(knob.name, value))
            self.known_first(go)

        self._hands.ask(unknown_prompt(knob), take)

    def with_reason(self, go: Callable[[str], None]) -> None:
        """Go on with the dialled values, once what is above an advised ceiling or moves much at once is explained."""
        rig, setpoint = self._work.dial.rig, self._work.dial.setpoint
        step = step_between(rig, self._work.view.in_force, setpoint)
        try:
            rig.check(setpoint)
        except NeedsReason as needed:
            prompt = reason_prompt(rig, setpoint, needed)
        except Refused as refused:
            self._hands.complain(str(refused))
            return
        else:
            view = self._work.view
            leap = leap_words(rig, view.stands.bench, view.in_force, setpoint, view.index)
            if not (step.warning or leap):
                go("")
                return
            prompt = step_prompt(step, leap, self._carried_words(setpoint))
        self._hands.ask(prompt, lambda reason: go(reason) if reason is not None else None)

    def _carried_words(self, setpoint: Setpoint) -> str:
        """Where the sheet was carried from, as a reason for moving it all; empty when it was not."""
        before = self._work.carried_from
        if before is None or before[DATA_RATE] == setpoint[DATA_RATE]:
            return ""
        return f"carried from {before['data_rate_mts']} MT/s"

    def start(self, order: Begins[Any], priced: bool = False) -> None:
        """Give an order after which something runs. On a real rig it says first what that costs, unless that was said
        and agreed to.
        """
        view = self._work.view
        if priced:
            self._begin(order)
            return
        standing = view.searches.standing
        proposal = standing if isinstance(standing, Proposal) else None
        self.agreed(price_of(order, view.stands, proposal, view.now.unfinished), lambda: self._begin(order))

    def agreed(self, price: Price, go: Callable[[], None]) -> None:
        """Do what costs something on a real rig once that was said; elsewhere at once."""
        if self._work.view.bench.real:
            self._hands.ask(PriceScreen(price), lambda yes: go() if yes else None)
        else:
            go()

    def _begin(self, order: Begins[Any]) -> None:
        self._work.busy, self._work.winding_up, self._work.past, self._work.opened = True, False, None, None
        if isinstance(order, StartTrial | StartRoutine | TakeUp) and self._work.view.bench.traits.watches_load:
            self._work.pages.lend(LoadPage)
        self._hands.give(SetPace(PACES[self._work.pace][0]))
        self._hands.give(order)
        self._hands.show()
