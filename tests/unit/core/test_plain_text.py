from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.plain_text import plain, plain_lines


@given(st.text())
def test_nothing_is_left_that_a_terminal_obeys_and_nothing_else_is_changed(text: str) -> None:
    shown = plain(text)
    assert len(shown) == len(text)
    assert plain(shown) == shown
    assert all(sign.isprintable() or sign.isspace() for sign in shown)
    assert not any(sign in shown for sign in "\x1b\x9b\x07\r\n\u202e\x00")
    assert all(was == now for was, now in zip(text, shown, strict=True) if was.isprintable())


def test_lines_stay_lines() -> None:
    assert plain_lines("a\x1b[2Jb\nc\td") == "a\N{REPLACEMENT CHARACTER}[2Jb\nc d"
