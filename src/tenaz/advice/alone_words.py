"""What comes next on the stick, for whoever reads it from a metre away."""

from tenaz.advice.alone import Next, RecordUnseen, RunLoad, StartAnew, TakeUpTrial, Wait
from tenaz.core.parts.isolation import Isolation


def in_words(coming: Next) -> str:
    """What comes next."""
    match coming:
        case RecordUnseen(trial=trial, outcome=outcome):
            return f"record trial {trial.number} as {outcome}, nobody saw it, and go on by the standing order"
        case TakeUpTrial(trial=trial):
            return f"go on with trial {trial.number}, which was being typed in: {trial.plan.show()}"
        case RunLoad(plan=plan):
            return plan.show()
        case StartAnew(which=which):
            return f"restart with the {which} range of memory kept from the kernel"
        case Wait(why=why):
            return f"nothing: {why}"


def rung_in_words(rungs: Isolation) -> str:
    """What to do for the next rung; at the end, what came of it."""
    if rungs.next is not None:
        return f"switch off, leave {rungs.next.words}, and start from the stick again"
    told = "; ".join(f"{one.kind} {one.place} {one.state} ({one.why})" for one in rungs.verdicts)
    return f"the ladder is at its end: {told or 'nothing was found'}"
