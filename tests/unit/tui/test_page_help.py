"""Each page explains itself, and only by keys that there are."""

import re
from pathlib import Path

import pytest

from tenaz.tui.base.commands import BY_ACTION
from tenaz.tui.base.menus import MENUS, PATH
from tenaz.tui.pages.page import Page
from tenaz.tui.pages.pages_text import pages_text
from tenaz.tui.pages.strip import ALL, BY_NAME


@pytest.mark.parametrize("page", ALL, ids=lambda page: page.name)
def test_a_page_tells_what_it_shows_by_which_marks_and_keys(page: type[Page]) -> None:
    told = page.help
    assert BY_NAME[page.name] is page
    assert told.shows.endswith(".")
    assert told.sums.endswith(".")
    assert told.marks
    assert told.keys
    assert set(told.keys) <= set(BY_ACTION)


def test_the_guide_and_what_is_said_name_paths_that_there_are() -> None:
    root = Path(__file__).parents[3]
    assert (root / "docs/guide/pages.md").read_text("utf-8") == pages_text(), "write it anew: tui/pages/pages_text.py"
    there = {f"{menu.letter}{PATH}{letter}" for menu in MENUS for letter, _ in menu.commands}
    texts = [*(root / "src/tenaz").rglob("*.py"), *(root / "docs/guide").glob("*.md"), root / "README.md"]
    for path in texts:
        named = set(re.findall(rf"\b[a-z]{PATH}[a-z]\b", path.read_text("utf-8")))
        assert named <= there, path
