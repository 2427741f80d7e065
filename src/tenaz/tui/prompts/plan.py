"""What is asked for at the plan."""

from typing import TYPE_CHECKING

from tenaz.core.loads.plan import show_duration
from tenaz.core.searches.plans import USUAL_RULE, parse_rule, plan_lasts_s
from tenaz.tui.screens.prompt import Prompt

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


def rule_prompt(view: "View", usual: str = USUAL_RULE.show()) -> Prompt:
    """When an unattended run ends before its end."""
    lasts = plan_lasts_s(view.kept.planned)
    length = "" if lasts is None else f", {show_duration(lasts)} under load"
    (warning, processor), (_, modules) = view.rig.purpose.processor_ceiling_c, view.rig.purpose.module_ceiling_c
    del warning
    hands = "" if view.bench.traits.simulated else "Values are still entered by hand: it waits for you at each sheet.\n"
    return Prompt(
        f"make {len(view.kept.planned)} planned trial{'s' if len(view.kept.planned) != 1 else ''}{length}",
        f"{hands}It ends after so many failures in a row, within a time, or when anything gets too hot (processor "
        f"{processor:g} °C, modules {modules:g} °C). Like: 2 failures, 9h",
        usual,
        parse_rule,
    )
