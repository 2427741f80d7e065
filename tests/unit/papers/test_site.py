"""The page of the workshop, in a real browser."""

import shutil
import subprocess
from dataclasses import replace
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz.cli.app import app
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.journal.opening.opening import open_book
from tests.make import HOUR, SteppedClock
from tests.patience import PATIENCE_S

QUIET = (
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--hide-scrollbars",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--window-size=500,900",
)  # fmt: skip
LOOK = """<script>
document.body.dataset.fits = String(document.documentElement.scrollWidth <= window.innerWidth);
document.body.dataset.loaded = String(performance.getEntriesByType('resource').length);
</script>"""


def test_it_fits_a_telephone_needs_nothing_and_shows_text_as_text(
    tmp_path: Path, book: Path, rig: Rig, clock: SteppedClock
) -> None:
    opened = open_book(book)
    opened.store.rigs.put(replace(rig, owner="<script>alert(1)</script>" + "x" * 200, benches=(BenchKind.HAND,)))
    opened.store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock)
    opened.close()
    out = tmp_path / "www"
    done = CliRunner().invoke(app, ["--book", str(book), "book", "site", str(out)])
    assert (out / "index.html").stat().st_mode & 0o777 == 0o644, "whoever shows it is another user"
    assert "1 rigs" in done.output
    page = (out / "index.html").read_text()
    assert "waits: trial 1: say what was seen of it" in page
    assert "&lt;script&gt;alert(1)" in page
    browser = shutil.which("chromium")
    if browser is None:
        pytest.skip("needs the Debian package chromium")
    (out / "index.html").write_text(page.replace("</body>", LOOK + "</body>"))
    command = [browser, *QUIET, f"--user-data-dir={tmp_path / 'browser'}", "--dump-dom", f"file://{out}/index.html"]
    seen = subprocess.run(command, check=False, capture_output=True, timeout=PATIENCE_S, text=True).stdout
    assert 'data-fits="true"' in seen
    assert 'data-loaded="0"' in seen
    assert seen.count("<script>") == 1, "ours"
