"""The evidence panel."""

from tenaz.charts.cells import Cells
from tenaz.charts.evidence_cells import draw_evidence
from tenaz.core.evidence import Evidence
from tenaz.core.rigs import Purpose
from tenaz.tui.widgets.sheet import Sheet


class EvidencePanel(Sheet):
    """What the dialled setpoint has shown, and what the purpose still asks for."""

    DEFAULT_CSS = "EvidencePanel { width: 30; padding: 0 1; }"

    def __init__(self) -> None:
        super().__init__(id="evidence")
        self._shown: tuple[Evidence, Purpose, tuple[tuple[str, bool], ...]] | None = None

    def show(self, evidence: Evidence, purpose: Purpose, dialled: tuple[tuple[str, bool], ...]) -> None:
        """Show the evidence at the dialled values."""
        self._shown = (evidence, purpose, dialled)
        self.changed()

    def draw(self, width: int, height: int) -> Cells:
        """Draw the panel."""
        if self._shown is None:
            return Cells(width, height)
        return draw_evidence(*self._shown, width - 2, height)
