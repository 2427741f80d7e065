"""``tenaz find``: headless, as text and JSON; what cannot be is said with the remedy."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner, Result

from tenaz.cli.app import app


def tenaz(book: Path, *arguments: str) -> Result:
    return CliRunner().invoke(app, ["--book", str(book), *arguments])


@pytest.fixture
def sled(book: Path) -> Path:
    assert tenaz(book, "sim", "new", "sled").exit_code == 0
    return book


def test_the_path_is_gone_along_from_a_shell_and_told_as_json(sled: Path) -> None:
    found = tenaz(sled, "find", "--rig", "sled", "--bench", "sim", "--go", "2", "--json")
    assert found.exit_code == 0, found.output
    data = json.loads(found.stdout)
    assert data["symptoms"] == ["crash"]
    assert len(data["trials"]) == 2
    assert data["next"][0]["minutes"] > 0
    assert sum(one["sure"] for one in data["suspects"]) == pytest.approx(1.0, abs=0.35)
    acts = ("--do", "pull A1", "--label", "module 2260 good: elsewhere too", "--tick", "when-hot")
    done = tenaz(sled, "find", "--rig", "sled", "--bench", "sim", *acts)
    assert done.exit_code == 0, done.output
    for words in ("module 2260 pulled from A1 (4 min)", "module 2260: good", "told: crash, when-hot", "2260 good"):
        assert words in done.stdout


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("--do", "pull Z9"), "there is no slot Z9; there are A1, A2, B1, B2"),
        (("--label", "module 2260 odd"), "say what it is: unknown, suspect, good, bad, replaced"),
        (("--tick", "gremlins"), "is no symptom; there are crash, freeze"),
        (("--bench", "moon"), "there is no bench 'moon'; there are sim, here, hand"),
        (("--claim", "x.doc"), "name a file ending in .txt or .pdf or .json"),
    ],
)
def test_what_cannot_be_says_what_can(sled: Path, arguments: tuple[str, ...], words: str) -> None:
    found = tenaz(sled, "find", "--rig", "sled", *arguments)
    assert found.exit_code == 2
    assert words in " ".join(found.output.split())


def test_a_study_of_faults_refuses_what_it_cannot_write(tmp_path: Path) -> None:
    for arguments, words in (
        (("--out", str(tmp_path / "x.doc")), "a study of faults is written to .md or .json"),
        (("--learn", str(tmp_path / "none")), "make it first, or name another"),
    ):
        found = CliRunner().invoke(app, ["study", "faults", "--rigs", "1", *arguments])
        assert found.exit_code == 2
        assert words in " ".join(found.output.split())
