"""A routine being composed: steps picked, ordered, repeated, set beside each other or in turn."""

from dataclasses import dataclass, replace

from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import LoadPlan, Strains, endless_before_last, lasts_s
from tenaz.core.loads.text import routine_text

MOST_STEPS = 60


@dataclass(frozen=True, slots=True)
class Draft:
    """Steps in turn, and the one in hand. Each change gives a new draft: the one before is still there."""

    steps: tuple[LoadPlan, ...] = ()
    at: int = 0

    @property
    def step(self) -> LoadPlan | None:
        """The step in hand."""
        return self.steps[self.at] if self.steps else None

    def walk(self, by: int) -> "Draft":
        """Take another step in hand."""
        return replace(self, at=max(0, min(len(self.steps) - 1, self.at + by)))

    def add(self, plans: tuple[LoadPlan, ...]) -> "Draft":
        """Loads behind the step in hand.

        Raises:
            Refused: more than anybody would read.
        """
        if len(self.steps) + len(plans) > MOST_STEPS:
            raise Refused(f"a routine has at most {MOST_STEPS} loads; make two of it.")
        here = self.at + 1 if self.steps else 0
        return Draft((*self.steps[:here], *plans, *self.steps[here:]), here + len(plans) - 1)

    def change(self, plan: LoadPlan) -> "Draft":
        """Another load in place of the step in hand."""
        return replace(self, steps=(*self.steps[: self.at], plan, *self.steps[self.at + 1 :])) if self.steps else self

    def drop(self) -> "Draft":
        """Without the step in hand."""
        left = (*self.steps[: self.at], *self.steps[self.at + 1 :])
        return Draft(left, max(0, min(self.at, len(left) - 1)))

    def move(self, by: int) -> "Draft":
        """The step in hand earlier or later."""
        to = self.at + by
        if not self.steps or not 0 <= to < len(self.steps):
            return self
        steps = list(self.steps)
        steps[self.at], steps[to] = steps[to], steps[self.at]
        return Draft(tuple(steps), to)

    def repeat(self) -> "Draft":
        """The step in hand once more, behind itself."""
        return self.add((self.steps[self.at],)) if self.steps else self

    def beside(self) -> "Draft":
        """The step in hand beside the one before it, at the same time; one with others beside it apart again.

        Raises:
            Refused: there is none before it.
        """
        step = self.step
        if step is None:
            return self
        if step.beside:
            apart = tuple(replace(one, duration_s=step.duration_s, laps=step.laps) for one in step.beside)
            return replace(self.change(replace(step, beside=())).add(apart), at=self.at)
        if self.at == 0:
            raise Refused("there is no load before it that it could run beside; move it down first.")
        above = self.steps[self.at - 1]
        if any(kind in above.kinds for kind in step.kinds):
            raise Refused(f"{step.kind} runs there already; two loads beside each other are of two kinds.")
        both = replace(above, beside=(*above.beside, replace(step, duration_s=None, laps=None)))
        return Draft((*self.steps[: self.at - 1], both, *self.steps[self.at + 1 :]), self.at - 1)

    def check(self) -> None:
        """Refuse what cannot run in turn.

        Raises:
            Refused: no load at all, or one that would never let the next one begin.
        """
        if not self.steps:
            raise Refused("there is no load in it yet: a adds one.")
        endless = endless_before_last(self.steps)
        if endless is not None:
            raise Refused(f"load {endless} runs until it is stopped, so what follows would never begin.")

    @property
    def length_s(self) -> float | None:
        """How long all takes; None when a load goes by laps or until stopped."""
        return lasts_s(self.steps)

    @property
    def most_share(self) -> float:
        """The largest share of memory that it takes at once."""
        return max((sum(_share(one) for one in (step, *step.beside)) for step in self.steps), default=0.0)

    @property
    def mixed(self) -> tuple[int, ...]:
        """The steps, counted from 1, in which several parts are strained at the same time: a failure has no culprit."""
        return tuple(
            number
            for number, step in enumerate(self.steps, 1)
            if len({kind.strains for kind in step.kinds} - {Strains.ANYTHING}) > 1
        )

    @property
    def text(self) -> str:
        """The line that means the same."""
        return routine_text(self.steps)


def _share(plan: LoadPlan) -> float:
    """The share of memory that one load takes; of one given in bytes it is not known here."""
    return plan.share if plan.kind.strains is Strains.MEMORY and plan.size_bytes is None else 0.0
