"""What was set for Tenaz itself, taken on by the workbench."""

from tenaz.settings.model import Settings
from tenaz.tui.base.hands import Hands
from tenaz.tui.session.workspace import Workspace


def take_settings(work: Workspace, hands: Hands, settings: Settings, trouble: str = "") -> None:
    """Look and answer as was set; ``trouble`` says what cannot be read of it."""
    work.take_settings(settings)
    hands.apply_settings(settings)
    hands.show()
    told = "; ".join(part for part in (trouble, *(hands.refused_keys() or ())) if part)
    if told:
        hands.complain(f"settings: {told}. All others are as set.")
