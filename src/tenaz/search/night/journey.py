"""A night on its way: leg after leg, each from where the one before it ended, by the trials in their order."""

from dataclasses import dataclass, field, replace

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.manners import Strains
from tenaz.core.searches.search import Advice, Proposal, TrialFacts
from tenaz.search.night.check_leg import CheckLeg
from tenaz.search.night.ground import NightGround
from tenaz.search.night.legs import Ended, Leg, spent_h
from tenaz.search.night.moving import step_back
from tenaz.search.night.proof_leg import ProofLeg
from tenaz.search.night.rounding import RoundedByFirmware
from tenaz.search.night.route import AGAIN, Part, left_out, route_of
from tenaz.search.night.worths import worth_of_speed

MOST_TAUGHT = 12
"""So often a leg begins anew with what was learnt of the firmware."""
MOST_STRAYS = 5
"""A leg whose values are not taken is left after so many trials at which others were in force."""

GIVEN_BACK, LEAST_GIVEN_BACK = "given back", 0.001

MOST_PART = 0.3
"""Of the hours that are left a leg may take this part, or its share where that is more; what it leaves goes on."""


@dataclass(slots=True)
class LegStory:
    """What became of one leg: where it began and ended (None: it goes on), what it cost, what it is expected to have
    gained of the score (a part), why it ended.
    """

    key: str
    name: str
    before: Setpoint
    budget_h: float
    after: Setpoint | None = None
    hours: float = 0.0
    gained: float = 0.0
    why: str = ""
    places: list[int] = field(default_factory=list)
    """Of its trials, their places among all that were seen."""


class Journey:
    """Goes on with each trial that it takes."""

    def __init__(self, night: NightGround) -> None:
        # What is learnt on the way belongs to this journey: the same ground played anew knows nothing of it.
        self._night, self._seen = replace(night, seen_rates={}, rounding=RoundedByFirmware()), list[TrialFacts]()
        self._to_come: list[Part] = list(route_of(night))
        self._route = tuple(part.key for part in self._to_come)
        self._left_out = set[str]()
        self.stories: list[LegStory] = []
        self._leg: Leg | None = None
        self._part: Part | None = None
        """The part of the route that the leg is; None under proof."""
        self._taught = 0
        self._strays, self._left_h = 0, night.search_h
        self._last: Ended | None = None
        """Where the night ended; None while it goes on."""
        self._at = night.ground.base
        self._stands: Proposal | Advice = self._settled()

    @property
    def at(self) -> Setpoint:
        """Where it has come to; under proof, what is being proven."""
        return self._leg.proving if isinstance(self._leg, ProofLeg) else self._at

    @property
    def gained(self) -> float:
        """The part of the score, or of the heat, that is expected to have been gained."""
        return sum(story.gained for story in self.stories)

    @property
    def to_come(self) -> tuple[str, ...]:
        """Keys of the legs that have not begun."""
        return tuple(part.key for part in self._to_come)

    @property
    def left_out(self) -> tuple[str, ...]:
        """Keys of the legs that there were no hours for."""
        return tuple(key for key in self._route if key in self._left_out)

    @property
    def proven(self) -> bool:
        """Whether it is over, and what it ended at was proven."""
        return self._last is not None and not self._last.lost

    @property
    def stands(self) -> Proposal | Advice:
        """The next trial; the advice when the night is over."""
        return self._stands

    def take(self, one: TrialFacts) -> None:
        """Go on by one more trial."""
        self._seen.append(one)
        if self._leg is None:
            return
        leg, proposal, belongs = self._leg, self._stands, self._leg.belongs(one)
        asked = proposal.setpoint if isinstance(proposal, Proposal) and one.plan == proposal.plan else None
        if belongs or asked is not None:
            self._count(one)
        if belongs:
            leg.take(one)
        if asked is not None and one.setpoint != asked:
            # It ran what was proposed, at other values: the rig makes those of what was asked.
            self._not_taken(leg, asked, one.setpoint, belongs)
        elif one.verdict is not Verdict.VOID:
            self._night.rounding.took(one.setpoint, one.told)
        self._stands = self._settled()

    def _not_taken(self, leg: Leg, asked: Setpoint, got: Setpoint, belongs: bool) -> None:
        """What it makes of it is learnt, and the leg begun anew with what it takes; else the leg does without."""
        new = self._night.rounding.learn(asked, got) and self._night.asked(asked) != asked
        if new and self._part is not None and self._taught < MOST_TAUGHT:
            self._taught += 1
            # It is told again what it has spent.
            again = self._part.begin(self._night, leg.base, self.stories[-1].budget_h)
            if again is not None:
                self._leg = again
                self._tell_before(again)
                return
        self._strays += not belongs
        leg.not_taken(asked, got)

    def _count(self, one: TrialFacts) -> None:
        if one.beside:
            return
        story = self.stories[-1]
        story.places.append(len(self._seen) - 1)
        story.hours += spent_h(one)

    # -- from leg to leg ----------------------------------------

    def _settled(self) -> Proposal | Advice:
        while self._last is None:
            leg = self._leg or self._begin_next()
            stands = leg.standing()
            if isinstance(stands, Proposal):
                if self._strays < MOST_STRAYS or isinstance(leg, ProofLeg):
                    return stands
                stands = Ended(leg.base, "its values were not taken: others were set each time")
            self._end(leg, stands)
        return self._over(self._last)

    def _begin_next(self) -> Leg:
        """Begin the next leg that has anything to do; after the last of the route the proof."""
        while self._to_come:
            out = left_out(self._to_come, self._left_h, self._night, self._at)
            self._left_out |= {one.key for one in out}
            self._to_come = [one for one in self._to_come if one not in out]
            if not self._to_come:
                break
            part = self._to_come.pop(0)
            if part.key == AGAIN:
                # It asks where all will stand; what it takes back is taken back for good.
                self._give_back()
            budget = self._budget_h(part)
            leg = part.begin(self._night, self._at, budget)
            if leg is not None:
                self._part = part
                return self._begin(part.key, leg, budget)
        self._part = None
        if all(story.key != AGAIN for story in self.stories):
            self._give_back()
        purpose = self._night.purpose
        proof = ProofLeg(self._at, purpose, self._back, self._seen)
        return self._begin("proof", proof, purpose.proof_h)

    def _budget_h(self, part: Part) -> float:
        if not part.weight:
            return 0.0
        share = part.weight / (part.weight + sum(one.weight for one in self._to_come))
        return min(self._left_h, max(self._left_h * max(share, MOST_PART), part.least_h))

    def _give_back(self) -> None:
        """Stand where most was gained: what a leg gave up for what comes must have been worth it."""
        best, most, gained = self._night.ground.base, 0.0, 0.0
        for story in self.stories:
            gained += story.gained
            if gained > most + LEAST_GIVEN_BACK:
                best, most = story.after or best, gained
        if most > gained + LEAST_GIVEN_BACK:
            why = "what came after it gained less than it gave up"
            self.stories.append(LegStory(GIVEN_BACK, GIVEN_BACK, self._at, 0.0, best, gained=most - gained, why=why))
            self._at = best

    def _begin(self, key: str, leg: Leg, budget_h: float) -> Leg:
        self._leg, self._strays, self._taught = leg, 0, 0
        self.stories.append(LegStory(key, leg.name, self._at, budget_h))
        if not isinstance(leg, ProofLeg):
            self._tell_before(leg)
        return leg

    def _tell_before(self, leg: Leg) -> None:
        """What was shown on its line before counts, and costs nothing now; but what it made itself."""
        own = set(self.stories[-1].places)
        for place, one in enumerate(self._seen):
            if leg.belongs(one):
                leg.take(one if place in own else replace(one, beside=True))

    def _end(self, leg: Leg, ended: Ended) -> None:
        story = self.stories[-1]
        story.after, story.why = ended.setpoint, ended.why
        story.gained = self._night.worth(self._at, ended.setpoint) + worth_of_speed(ended.faster)
        self._left_h -= story.hours if not isinstance(leg, ProofLeg) else 0.0
        if isinstance(leg, CheckLeg):
            self._night.seen_rates.update(leg.rates)
        self._at, self._leg = ended.setpoint, None
        if ended.lost or isinstance(leg, ProofLeg):
            self._to_come, self._last = [], ended

    def _back(self, at: Setpoint, strains: Strains, times: int) -> Setpoint | None:
        return step_back(self._night, self._night.ground.base, at, strains, times)

    def _over(self, last: Ended) -> Advice:
        if last.lost:
            return Advice(None, f"{self.stories[-1].name}: {last.why}; leave it as it came")
        return Advice(self._at, f"proven: about {self._night.aim.gained(self.gained)} expected; {last.why}")
