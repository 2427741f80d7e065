"""The settings file: read, checked with its lines named, changed in place."""

from pathlib import Path

import pytest

from tenaz.core.base.errors import Refused
from tenaz.settings.files import change, read_settings, read_what_is_right
from tenaz.settings.glimpse import glimpse
from tenaz.settings.model import Settings
from tenaz.tui.base.commands import COMMANDS, rebind


def test_without_a_file_all_is_as_usual_and_one_is_made_by_a_change(tmp_path: Path) -> None:
    path = tmp_path / "deep" / "settings.toml"
    assert read_settings(path) == Settings()
    assert change("screen.theme", "chalk", path).screen.theme == "light", "what it was called before"
    assert read_settings(path).screen.theme == "light"


def test_a_change_leaves_comments_and_other_settings_alone(tmp_path: Path) -> None:
    path = tmp_path / "settings.toml"
    path.write_text('# mine\n[work]\nload = "march 30m"  # short\n', encoding="utf-8")
    change("work.strategy", "halve", path)
    change("keys.climb", "C", path)
    text = path.read_text(encoding="utf-8")
    assert "# mine" in text
    assert 'load = "march 30m"  # short' in text
    assert (read_settings(path).work.strategy, read_settings(path).keys) == ("halve", {"climb": "C"})
    change("work.strategy", None, path)
    assert read_settings(path).work.strategy == "adapt"


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ('[screen]\n\ntheme = "pink"\n', "line 3: .*dark"),
        ('[work]\nload = "stroll 5m"\n', "line 2: .*'stroll' is not understood"),
        ('[work]\nplan_rule = "never"\n', "line 2: .*is no rule"),
        ("[screen]\nupdates_hz = 99\n", "line 2"),
        ('[telling]\ncommand = "echo \'open"\n', "line 2: .*quotes"),
        ('[telling]\naddress = "gopher://x"\n', "line 2"),
        ("[shades]\na = 1\n", "line 1: .*not permitted"),
        ("[screen\n", "Mend that line"),
    ],
)
def test_what_cannot_stand_there_is_told_with_its_line(tmp_path: Path, text: str, why: str) -> None:
    path = tmp_path / "settings.toml"
    path.write_text(text, encoding="utf-8")
    with pytest.raises(Refused, match=why):
        read_settings(path)


def test_a_change_that_cannot_be_leaves_the_file_as_it_was(tmp_path: Path) -> None:
    path = tmp_path / "settings.toml"
    path.write_text('[screen]\ntheme = "chalk"\n', encoding="utf-8")
    for name, value in (("screen.theme", "pink"), ("screen.depth", 3), ("theme", "soot")):
        with pytest.raises(Refused):
            change(name, value, path)
    assert path.read_text(encoding="utf-8") == '[screen]\ntheme = "chalk"\n'


def test_the_first_picture_sees_what_it_can(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "settings.toml"
    monkeypatch.setenv("TENAZ_SETTINGS", str(path))
    assert glimpse() == {}
    path.write_text("[screen\n", encoding="utf-8")
    assert glimpse() == {}
    path.write_text('[screen]\ntheme = "chalk"\n', encoding="utf-8")
    assert glimpse() == {"screen": {"theme": "light"}}, "called as it is now"


def test_the_guides_own_example_is_taken_whole_and_one_wrong_line_spoils_no_other(tmp_path: Path) -> None:
    guide = (Path(__file__).parents[3] / "docs" / "guide" / "settings.md").read_text(encoding="utf-8")
    example = "\n".join(line[4:] for line in guide.splitlines() if line.startswith("    "))
    path = tmp_path / "settings.toml"
    path.write_text(example, encoding="utf-8")
    settings, wrong = read_what_is_right(path)
    assert wrong == ()
    assert settings.keys
    assert settings.screen.theme == "light"
    try:
        assert rebind(settings.keys) == ()
        path.write_text(example + '\nnight = "no such key at all"\nclimb_high = "f6"\nquit = "t"\n', encoding="utf-8")
        settings, wrong = read_what_is_right(path)
        assert len(wrong) == 1
        assert "keys.night" in wrong[0]
        assert settings.screen.theme == "light"
        refused = rebind(settings.keys)
        assert [words.split(":")[0] for words in refused] == ["keys.climb_high", "keys.quit"]
        assert next(command for command in COMMANDS if command.name == "climb").key == "f3"
        before = {"turn_canvas": "w", "undo_record": "f8", "note_trial": "b"}
        assert rebind(before) == (), "what was set before goes on working, and a letter of a menu can be taken"
        keys = {command.name: (command.key, command.usual_key) for command in COMMANDS}
        assert (keys["next_page"], keys["undo"], keys["note_trial"]) == (("w", "tab"), ("f8", "u"), ("b", ""))
    finally:
        rebind({})
