"""Loads as lines: what is picked is read back as what was meant."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import CacheLevel, DataKind, LoadKind, LoadPlan, MarchMode
from tenaz.core.loads.programs import parse_program
from tenaz.core.loads.routines import ROUTINES, parse_routine
from tenaz.core.loads.text import load_text, routine_text

WORDS = st.text("abcxyz-=. é'\"", min_size=1, max_size=12).filter(str.strip)


@st.composite
def plans(draw: st.DrawFn, beside: bool = False) -> LoadPlan:
    """A load that can be typed: fields that its kind does not use are as usual."""
    kind = draw(st.sampled_from([kind for kind in LoadKind if kind is not LoadKind.PROGRAM]))
    length = (
        {}
        if beside
        else draw(st.sampled_from([{"duration_s": 90.0}, {"duration_s": 7200.0}, {"laps": 3}, {"duration_s": None}]))
    )
    possible: dict[str, st.SearchStrategy[object]] = {
        "share": st.integers(1, 100).map(lambda percent: percent / 100),
        "size_bytes": st.none() | st.just(512 * 2**20),
        "test": st.sampled_from(["C-", "SS", "{up(w0); down(r0)}"]),
        "data": st.sampled_from(DataKind),
        "mode": st.sampled_from(MarchMode),
        "level": st.sampled_from(CacheLevel),
        "wait_s": st.sampled_from([60.0, 300.0]),
        "pulse_hz": st.sampled_from([10.0, 50.0]),
        "side_px": st.sampled_from([None, 1024]),
        "cards": st.sampled_from([(), (0,), (1, 2)]),
    }
    fields = {name: draw(possible[name]) for name in kind.declared.fields if name in possible}
    if fields.get("size_bytes"):
        del fields["share"]
    common = {
        "workers": draw(st.none() | st.integers(1, 9)),
        "cores": draw(st.sampled_from([(), (0, 2)])),
        "siblings": draw(st.booleans()),
        "stop_at_first_error": draw(st.booleans()),
        "step_hz": draw(st.sampled_from([None, 0.5, 2.0])),
    }
    common = {name: value for name, value in common.items() if kind.declared.uses(name)}
    others = () if beside else tuple(draw(st.lists(plans(beside=True), max_size=1)))
    return LoadPlan(kind, **length, **fields, **common, beside=others)  # type: ignore[arg-type]


def _as_shown(plan: LoadPlan) -> LoadPlan:
    return replace(plan, stop_at_first_error=True)


@given(plans())
def test_a_load_is_read_back_from_its_line(plan: LoadPlan) -> None:
    read = parse_load(load_text(plan))
    assert read == plan
    # What stands on the screen can be typed off it; that it goes on after an error is not shown there.
    shown = replace(_as_shown(plan), beside=tuple(_as_shown(other) for other in plan.beside))
    assert parse_load(shown.show()) == shown


@given(st.lists(WORDS, min_size=1, max_size=4), st.text("abc", max_size=4))
def test_a_program_is_read_back_from_its_line(command: list[str], bad: str) -> None:
    plan = LoadPlan(LoadKind.PROGRAM, duration_s=3600.0, command=tuple(command), bad_words=bad)
    assert parse_load(load_text(plan)) == plan


@pytest.mark.parametrize("name", ROUTINES)
def test_a_routine_is_read_back_from_its_line(name: str) -> None:
    assert parse_routine(routine_text(ROUTINES[name].plans)).plans == ROUTINES[name].plans


@pytest.mark.parametrize("text", ["program", "program 1h", "program soon: render", "program: 'open", "program 1h: "])
def test_what_is_no_program_is_told(text: str) -> None:
    with pytest.raises(Refused, match=r"like|no duration"):
        parse_program(text)
