"""Figures of the workshop: judged by the format's own tool; shown to this machine only."""

import shutil
import subprocess
import urllib.request
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz import orders as o
from tenaz.announcing.figures import RigFigures, RunningFigures, Served, as_text
from tenaz.cli.app import app
from tenaz.core.base.errors import Refused
from tenaz.workshop.shop.shop import Workshop
from tests.make import HOUR
from tests.patience import PATIENCE_S

SOME = (
    RigFigures('a "rig"\\\n', (("held", 3),), (("march", 60.0),), 1e9, True, 2),
    RigFigures("ridge", running=RunningFigures(7, "march", 12.5, None, 1, 1e9)),
)


def judged(text: bytes) -> str:
    promtool = shutil.which("promtool")
    if promtool is None:
        pytest.skip("needs promtool, of the Debian package prometheus")
    done = subprocess.run(
        [promtool, "check", "metrics"], check=False, input=text, capture_output=True, timeout=PATIENCE_S
    )
    return (done.stdout + done.stderr).decode() + ("" if done.returncode == 0 else f"status {done.returncode}")


def test_they_are_of_the_format_whatever_a_rig_is_called() -> None:
    assert judged(as_text(SOME)) == ""
    assert judged(b"tenaz_x 1\ntenaz_x 1\n") != "", "the judge judges"


def test_what_runs_is_shown_to_this_machine_as_it_is_now() -> None:
    shown = list(SOME)
    served = Served(0, lambda: shown)
    try:
        address = f"http://127.0.0.1:{served.port}/metrics"
        assert b'tenaz_load_errors{rig="ridge"} 1.0' in urllib.request.urlopen(address, timeout=PATIENCE_S).read()
        shown.pop()
        assert b"ridge" not in urllib.request.urlopen(address, timeout=PATIENCE_S).read()
        with pytest.raises(Refused, match="set another telling port"):
            Served(served.port, lambda: shown)
    finally:
        served.close()


def test_the_file_is_written_when_a_trial_has_ended(
    tmp_path: Path, book: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    out = tmp_path / "rigs.prom"
    (tmp_path / "settings.toml").write_text(f'[telling]\nfigures = "{out}"\n')
    bench = Workshop()
    bench.open(book)
    bench.do(o.ChooseRig("ridge"))
    bench.do(o.StartTrial(bench.rig.stock, HOUR))
    bench.running.wait()
    bench.close()
    assert 'tenaz_trials{outcome="held",rig="ridge"} 1.0' in out.read_text()
    printed = CliRunner().invoke(app, ["--book", str(book), "book", "figures"]).output
    assert printed == out.read_text()
    lost = CliRunner().invoke(app, ["--book", str(book), "book", "figures", str(tmp_path / "no" / "rigs.prom")])
    assert "cannot be written" in lost.output
