"""Keys of the field: begun over two knobs, a cell taken in hand."""

from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import FIELD, search_limit
from tenaz.orders import BeginSearch, GoOn, Steps
from tenaz.orders.fields import read_field
from tenaz.search.registry import strategy_of
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.field import FieldPage
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace

USUAL_STEPS = 11
MOST_PICKS = 8


class FieldController:
    """On the Field page."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting

    def begin_field(self) -> None:
        """Go on with the field under way, or ask over which two knobs."""
        view = self._work.view
        steps = Steps(one=view.bench.real)
        if view.searches.going is not None:
            if strategy_of(view.searches.going.strategy).maps:
                self._show()
                self._starting.start(GoOn(steps))
            else:
                self._hands.complain("A climb is under way: a›e ends it, its trials stay.")
            return
        rig, base = self._work.dial.rig, self._work.dial.setpoint
        picks = [Pick(text, "") for text in self._pairs(rig, base)]
        hint = "name=from..to of two knobs; window behind it: the second fails on both sides, as voltages do"

        def take(text: str | None) -> None:
            if text is not None:
                knobs, parameters = read_field(rig, text)
                plan = self._work.load_for_knob
                self._show()
                self._starting.start(BeginSearch(knobs, base, plan, "", FIELD, parameters, steps), priced=True)

        first = picks[0].text if picks else ""
        prompt = Prompt("a field over two knobs", hint, first, lambda text: read_field(rig, text), picks=picks)
        self._hands.ask(prompt, take)

    def _pairs(self, rig: Rig, base: Setpoint) -> list[str]:
        """The knob in hand with others, each from what is dialled to some steps harder."""
        mine = self._stretch(rig, self._work.dial.knob.name, base)
        others = [knob.name for knob in rig.knobs if knob.domain == self._work.dial.knob.domain and not knob.locked]
        found = []
        for name in others:
            other = self._stretch(rig, name, base)
            if mine and other and name != self._work.dial.knob.name:
                found.append(f"{mine} {other}")
        return found[:MOST_PICKS]

    def _stretch(self, rig: Rig, name: str, base: Setpoint) -> str:
        knob, value = rig.knob(name), base[name]
        if isinstance(value, Auto) or value not in knob.grid:
            return ""
        end = min(knob.ends[1], knob.strain(value) + USUAL_STEPS, knob.strain(search_limit(knob, "")))
        return f"{name}={value}..{knob.at_strain(end)}" if end - knob.strain(value) > 1 else ""

    def _show(self) -> None:
        self._work.pages.show(FieldPage)
        self._hands.bring_page_forward()
