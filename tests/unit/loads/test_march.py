"""March notation, and the passes that a lap is made of."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.loads.march import (
    BACKGROUNDS,
    MARCH_TESTS,
    Element,
    Operation,
    lap_passes,
    last_word,
    named_march,
    operations_a_cell,
    paired,
    parse_march,
    show_march,
)
from tenaz.loads.patterns import ALL_ONES


@pytest.mark.parametrize(("name", "length"), [("MATS+", 5), ("C-", 10), ("LR", 14), ("SS", 22)])
def test_the_built_in_tests_have_their_published_length_and_notation_comes_back(name: str, length: int) -> None:
    elements = parse_march(MARCH_TESTS[name])
    assert operations_a_cell(elements) == length
    assert show_march(elements) == MARCH_TESTS[name]
    assert named_march(f"march {name.replace('-', '−').lower()}") == MARCH_TESTS[name]


@st.composite
def marches(draw: st.DrawFn) -> tuple[Element, ...]:
    """Any march test that good memory passes."""
    holds = draw(st.integers(0, 1))
    elements = [Element(None, (Operation(False, holds),))]
    for _ in range(draw(st.integers(1, 5))):
        operations = []
        for reads in draw(st.lists(st.booleans(), min_size=1, max_size=6)):
            holds = holds if reads else draw(st.integers(0, 1))
            operations.append(Operation(reads, holds))
        elements.append(Element(draw(st.sampled_from([True, False, None])), tuple(operations)))
    return tuple(elements)


@given(marches())
def test_any_notation_comes_back_and_words_may_stand_for_arrows(elements: tuple[Element, ...]) -> None:
    notation = show_march(elements)
    assert parse_march(notation) == elements
    typed = notation.replace("⇑", "up").replace("⇓", " down ").replace("⇕", "any")
    assert parse_march(typed) == elements


@given(marches(), st.booleans())
def test_nothing_is_ever_written_over_unseen_and_good_memory_passes(elements: tuple[Element, ...], later: bool) -> None:
    holds = last_word(elements) if later else None
    content, number = holds, 0
    for number, one in enumerate(lap_passes(elements, holds=holds)):
        assert one.operations[0].reads or (number == 0 and not later)
        for operation in one.operations:
            word = one.words[operation.value]
            assert not operation.reads or word == content
            content = word
    assert content == last_word(elements)
    assert number >= len(BACKGROUNDS) - 1


@pytest.mark.parametrize(
    ("notation", "told"),
    [
        ("{⇑(w0); over(r0)}", "'over.r0.' is not of the form"),
        ("{⇑(w0); ⇑()}", "is not of the form"),
        ("{⇑(w2)}", "is not of the form"),
        ("", "is not of the form"),
        ("{⇑(r0,w1)}", "reads 0 where memory holds nothing known"),
        ("{⇑(w0); ⇓(r1)}", "reads 1 where memory holds 0"),
        ("{⇑(w0,w1,w0,w1,w0,w1,w0,w1,w0)}", "more than 8 operations"),
    ],
)
def test_a_test_that_is_none_is_told_by_its_element(notation: str, told: str) -> None:
    with pytest.raises(Refused, match=told):
        parse_march(notation)


def test_backgrounds_tell_any_two_bits_of_a_word_apart() -> None:
    for one, other in itertools.combinations(range(64), 2):
        assert any((word >> one & 1) != (word >> other & 1) for word in BACKGROUNDS)


def test_a_lap_of_c_minus_is_what_it_was_measured_with() -> None:
    elements = parse_march(MARCH_TESTS["C-"])
    passes = list(lap_passes(elements))
    assert (len(passes), sum(one.traffic for one in passes)) == (36, 70)
    assert passes[1].show() == "⇑(r0000000000000000,wffffffffffffffff)"
    for word in BACKGROUNDS:
        for ascending, (read, written) in itertools.product(
            (True, False), ((word, word ^ ALL_ONES), (word ^ ALL_ONES, word))
        ):
            assert any(
                (one.ascending, [one.words[o.value] for o in one.operations]) == (ascending, [read, written])
                for one in passes
            )


def test_flushed_blocks_take_at_most_one_read_and_one_write_between_flushes() -> None:
    element = parse_march(MARCH_TESTS["SS"])[1]
    assert ["".join(o.show() for o in part) for part in paired(element.operations)] == ["r0", "r0w0", "r0w1"]
