"""What counts as held and as failed for a search: under its own load, for as long and at no less reach."""

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.owing import still_owed
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import SearchGround, TrialFacts
from tenaz.core.trials.facts import planned_fact


class Tally:
    """How often each strain held, and the easiest that failed (one past the limit while none did)."""

    def __init__(self, ground: SearchGround) -> None:
        self._ground = ground
        self.top = ground.knob.strain(ground.limits[0])
        self.first = ground.knob.strain(ground.base.number(ground.knob.name))
        self.easiest = ground.knob.ends[0]
        self.failed = self.top + 1
        self.holds: dict[int, int] = {}

    def take(self, seen: TrialFacts) -> None:
        """Count one more trial."""
        tried = self._ground.knob.strain(seen.setpoint.number(self._ground.knob.name))
        if holds(seen, self._ground.load):
            self.holds[tried] = self.holds.get(tried, 0) + 1
        elif fails(seen, self._ground.load):
            self.failed = min(self.failed, tried)

    @property
    def held(self) -> int | None:
        """The hardest that held, easier than every failure."""
        return max((k for k in self.holds if k < self.failed), default=None)

    def show(self, strain: int) -> str:
        """A strain's value in words."""
        return self._ground.knob.show(self._ground.knob.at_strain(strain))


def holds(seen: TrialFacts, load: LoadPlan) -> bool:
    """Whether it passed under the climb's load, for as long and at no less reach."""
    if seen.verdict is not Verdict.PASS or load.kind not in seen.kinds:
        return False
    if load.duration_s is not None and still_owed(load.duration_s, seen.elapsed_s):
        return False
    fact = seen.facts.of(load.kind)
    if load.laps is not None and load.duration_s is None and fact is not None and still_owed(load.laps, fact.laps):
        return False
    plans = (one for one in (seen.plan, *seen.plan.beside) if one.kind is load.kind)
    ran = fact or next((planned_fact(one, 0.0) for one in plans), None)
    if ran is None:
        return True
    asked = planned_fact(load, 0.0).reach
    if fact is not None and fact.covered < 1:
        # The climb's own load may be shorter than a lap: it then asks for no more than that.
        ran = planned_fact(seen.plan, 0.0) if seen.plan == load else fact
    return not ran.reach.short_of(asked)


def fails(seen: TrialFacts, load: LoadPlan) -> bool:
    """Whether it failed under the climb's load, or did not boot: that does not depend on what was to be run."""
    return seen.verdict is Verdict.FAIL and (not seen.booted or load.kind in seen.kinds)
