"""Routines composed step by step."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.loads.composing import Draft
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.loads.routines import parse_routine

MARCH, SOLVE, OPEN = (parse_load(text) for text in ("march 10m 40%", "solve 5m", "copy until stopped"))


@given(st.lists(st.sampled_from("awdru<>b"), max_size=20))
def test_whatever_is_done_to_it_the_step_in_hand_is_one_of_it_and_its_line_means_the_same(keys: list[str]) -> None:
    draft = Draft((MARCH,))
    for key in keys:
        try:
            draft = {
                "a": lambda d: d.add((SOLVE,)),
                "w": lambda d: d.walk(1),
                "d": lambda d: d.drop(),
                "r": lambda d: d.repeat(),
                "u": lambda d: d.walk(-1),
                "<": lambda d: d.move(-1),
                ">": lambda d: d.move(1),
                "b": lambda d: d.beside(),
            }[key](draft)
        except Refused:
            continue
        assert (draft.step in draft.steps) if draft.steps else draft.step is None
        if draft.steps:
            assert parse_routine(draft.text).plans == draft.steps


def test_beside_puts_memory_and_processor_together_on_purpose_and_apart_again() -> None:
    apart = Draft((MARCH, SOLVE), 1)
    assert (apart.mixed, apart.length_s, apart.most_share) == ((), 900.0, 0.4)
    together = apart.beside()
    (step,) = together.steps
    assert (step.kinds, together.mixed, together.length_s) == ((LoadKind.MARCH, LoadKind.SOLVE), (1,), 600.0)
    assert together.beside().mixed == ()


@pytest.mark.parametrize(
    ("do", "why"),
    [
        (lambda: Draft().check(), "no load in it"),
        (lambda: Draft((OPEN, SOLVE)).check(), "would never begin"),
        (lambda: Draft((SOLVE,)).beside(), "no load before it"),
        (lambda: Draft((SOLVE, SOLVE), 1).beside(), "two kinds"),
        (lambda: Draft((SOLVE,)).add((LoadPlan(LoadKind.COPY),) * 60), "at most 60"),
    ],
)
def test_what_cannot_be_is_told(do: object, why: str) -> None:
    with pytest.raises(Refused, match=why):
        do()  # type: ignore[operator]
