import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.catalogues.reading import knobs_of
from tenaz.core.knobs.knob import AboveCeiling, Grid, Harder, Knob, NeedsReason, NotANumber, OffGrid
from tenaz.demo.ridge import ridge

RATE, T_CL, VDD = map(ridge().knob, ("data_rate_mts", "t_cl_nck", "memory_vdd_mv"))
BASE, (QUARTERS,) = next(one for one in knobs_of("processor") if one.name == "base_clock_khz"), knobs_of("quarters")


@pytest.mark.parametrize(
    ("knob", "value", "error", "words"),
    [
        (RATE, 6050, NeedsReason, ("data rate 6050 MT/s", "4000 to 8000 in steps of 200", "6000 and 6200", "as it is")),
        (RATE, 3000, OffGrid, ("nearest: 4000", "board's file")),
        (RATE, 8200, AboveCeiling, ("hard ceiling of 8000 MT/s", "up to 8000")),
        (VDD, 1440, AboveCeiling, ("memory VDD 1440 mV", "1430")),
        (VDD, 1400, NeedsReason, ("advised ceiling of 1350 mV", "type a reason")),
        (T_CL, 39, NeedsReason, ("38 and 40",)),
    ],
)
def test_what_may_not_be_set_is_refused_with_thing_and_remedy(
    knob: Knob, value: int, error: type[Exception], words: tuple[str, ...]
) -> None:
    with pytest.raises(error) as refused:
        knob.check(value)
    for word in words:
        assert word in str(refused.value)


def test_a_reason_lifts_the_advised_ceiling_and_not_the_hard_one() -> None:
    VDD.check(1400, "short cold test, fan on the modules")
    with pytest.raises(NeedsReason):
        VDD.check(1400, "   ")
    with pytest.raises(AboveCeiling):
        VDD.check(1440, "because")


@pytest.mark.parametrize(
    ("knob", "text", "value"),
    [
        (RATE, "6000", 6000),
        (RATE, " 6000 MT/s ", 6000),
        (VDD, "1250mV", 1250),
        (VDD, "1.25 V", 1250),
        (VDD, "1,25 v", 1250),
        (VDD, "1.25", 1250),
        (VDD, "1.2", 1200),
        (BASE, "100.25", 100250),
        (BASE, "101 MHz", 101000),
        (QUARTERS, "45.25", 181),
        (QUARTERS, "52", 208),
    ],
)
def test_typed_values(knob: Knob, text: str, value: int) -> None:
    assert knob.parse(text) == value


@pytest.mark.parametrize("text", ["", "fast", "60 00", "6000 mV", "12.5", "-40", "1e3"])
def test_typed_nonsense_names_the_knob_and_an_example(text: str) -> None:
    with pytest.raises(NotANumber, match=r"data rate.*like 4000"):
        RATE.parse(text)


def test_a_value_of_parts_is_shown_as_it_is_typed() -> None:
    assert QUARTERS.show(181) == "45.25 ×"
    with pytest.raises(NotANumber):
        QUARTERS.parse("45.3")


@given(
    first=st.integers(0, 2000),
    step=st.integers(1, 200),
    count=st.integers(1, 60),
    harder=st.sampled_from(Harder),
    steps=st.integers(-70, 70),
)
def test_strain_orders_values_by_how_much_they_ask(
    first: int, step: int, count: int, harder: Harder, steps: int
) -> None:
    knob = Knob("x_mv", "x", "mV", "test", Grid(first, first + (count - 1) * step, step), harder)
    values = list(knob.grid.values())
    assert len(values) == len(knob.grid) == count
    assert [knob.at_strain(knob.strain(value)) for value in values] == values
    in_order = values if harder is Harder.UP else values[::-1]
    assert sorted(values, key=knob.strain) == in_order
    moved = knob.harder_by(in_order[0], steps)
    assert (moved is None) == (not 0 <= steps < count)
    if moved is not None:
        assert knob.strain(moved) - knob.strain(in_order[0]) == steps


def test_a_grid_that_cannot_be_walked_is_no_grid() -> None:
    with pytest.raises(ValueError, match="cannot be walked"):
        Grid(0, 10, 3)
