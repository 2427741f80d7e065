"""What hands do to the parts of a simulated rig: the same acts as on any, felt by its machine."""

from dataclasses import dataclass, replace

from tenaz.core.fitting import Fitting, slots_of
from tenaz.core.part_acts import work
from tenaz.core.rigs import Rig
from tenaz.simulated.state import State


@dataclass(frozen=True, slots=True)
class Done:
    """The rig afterwards, what was done in words, and the minutes that it took."""

    rig: Rig
    told: str
    minutes: float


def work_on(rig: Rig, state: State, text: str) -> Done:
    """Carry out acts as they were typed; the state is changed.

    Raises:
        Refused: naming the word, and what there is.
    """
    done = work(fitting_now(rig, state), rig.cores or 1, text)
    follow(state, done.fitting)
    return Done(done.fitting.into(rig), done.told, done.minutes)


def fitting_now(rig: Rig, state: State) -> Fitting:
    """How the parts of a simulated machine stand."""
    care = state.care
    return Fitting(
        slots_of(rig), state.aside, tuple(sorted(care.reseated.items())), care.cores_off, care.cleanings,
        care.supplies, care.fan, care.spares, care.fresh_modules,
    )  # fmt: skip


def follow(state: State, fitting: Fitting) -> None:
    """The machine's parts stand like this from here on."""
    state.aside, state.unseen = fitting.aside, ()
    state.care = replace(
        state.care, reseated=dict(fitting.seatings), cores_off=fitting.cores_off, cleanings=fitting.cleanings,
        supplies=fitting.supplies, fan=fitting.fan, spares=fitting.spares, fresh_modules=fitting.fresh,
    )  # fmt: skip
