import itertools

import pytest

from tenaz.loads.march import (
    ALL_ONES,
    BACKGROUNDS,
    MARCH_C_MINUS,
    Element,
    Pass,
    lap_passes,
    last_word,
    parse_march,
)

ELEMENTS = parse_march(MARCH_C_MINUS)


def test_notation() -> None:
    assert ELEMENTS[:2] == (Element(True, None, 0), Element(True, 0, 1))
    assert [element.ascending for element in ELEMENTS] == [True, True, True, False, False, True]
    for wrong in ("{⇑(w0); up(r0)}", "{⇑()}", "{⇑(r2)}", ""):
        with pytest.raises(ValueError, match="is not of the form"):
            parse_march(wrong)


def test_backgrounds_tell_any_two_bits_of_a_word_apart() -> None:
    for one, other in itertools.combinations(range(64), 2):
        assert any((word >> one & 1) != (word >> other & 1) for word in BACKGROUNDS)


@pytest.mark.parametrize("holds", [None, last_word(ELEMENTS)])
def test_every_pass_after_the_first_checks_what_the_one_before_left(holds: int | None) -> None:
    passes = list(lap_passes(ELEMENTS, holds=holds))
    content = holds
    for number, one in enumerate(passes):
        if number or holds is not None:
            assert one.expected == content, "nothing is written over unseen"
        content = one.written if one.written is not None else content
    assert content == last_word(ELEMENTS)
    assert passes[-1].written is None, "the lap ends by looking"
    assert len(passes) == 36
    assert sum(one.traffic for one in passes) == (70 if holds is None else 71)


def test_each_background_is_marched_up_and_down_with_both_values() -> None:
    passes = list(lap_passes(ELEMENTS))
    for word in BACKGROUNDS:
        for ascending, (expected, written) in itertools.product(
            (True, False), ((word, word ^ ALL_ONES), (word ^ ALL_ONES, word))
        ):
            assert Pass(ascending, expected, written) in passes
    assert passes[1].show() == "⇑(r0000000000000000,wffffffffffffffff)"
