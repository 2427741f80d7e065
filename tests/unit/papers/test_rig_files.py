from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.rigs.rig import BenchKind
from tenaz.demo.ridge import ridge
from tenaz.papers.rig_files import machine_to_text, read_rig, rig_to_text
from tenaz.probe.here import read_machine


def test_a_rig_goes_out_is_edited_and_comes_back(tmp_path: Path) -> None:
    file = tmp_path / "ridge.json"
    write_whole(file, rig_to_text(ridge()))
    assert read_rig(file) == ridge()
    file.write_text(file.read_text().replace(ridge().complaint, "freezes on cold mornings"))
    assert read_rig(file).complaint == "freezes on cold mornings"


def test_a_machine_on_a_stick_becomes_a_rig_by_hand(tmp_path: Path) -> None:
    machine = read_machine()
    file = tmp_path / "back office.json"
    write_whole(file, machine_to_text(machine))
    rig = read_rig(file)
    assert (rig.name, rig.benches, rig.machine) == ("back office", (BenchKind.HAND,), machine)
    assert read_rig(file, "hut").name == "hut"


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("", "Expecting value"),
        ("[]", "neither a rig nor a probed machine"),
        ("{}", "name: Field required"),
        ('{"processor": 3}', "processor: Input should be a valid string"),
        (
            rig_to_text(replace(ridge(), stock=ridge().stock.replacing("data_rate_mts", 48500))),
            "48500 MT/s cannot have been",
        ),
    ],
)
def test_a_file_that_is_no_rig_is_refused_by_place(tmp_path: Path, content: str, words: str) -> None:
    file = tmp_path / "rig.json"
    file.write_text(content)
    with pytest.raises(Refused, match=words):
        read_rig(file)
    with pytest.raises(Refused, match="could not be read"):
        read_rig(tmp_path / "nowhere.json")
    with pytest.raises(TenazError, match="could not be written"):
        write_whole(tmp_path / "no" / "such.json", "x")
