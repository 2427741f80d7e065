"""A progress bar for a load in a terminal without the workbench."""

from types import TracebackType

from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn

from tenaz.cli.kit.loudness import is_quiet, tells_all
from tenaz.core.base.plain_text import plain
from tenaz.core.loads.plan import LoadKind, LoadProgress, show_clock, show_duration
from tenaz.core.ports.events import LoadProgressed, Logged

TOLD = (*LoadKind, "sensors")
"""What is told of a log that is otherwise kept quiet: what any load finds wrong, and what its heat is watched by."""


class ProgressTeller:
    """Tells events of a run on standard error: a bar while a load runs, a line for the rest."""

    def __init__(self, quiet_log: bool = False) -> None:
        self._console = Console(stderr=True, highlight=False, quiet=is_quiet())
        self._bar = Progress(
            TextColumn("{task.description}"),
            BarColumn(bar_width=30),
            TextColumn("{task.fields[figures]}"),
            console=self._console,
            transient=True,
        )
        self._task = self._bar.add_task("", total=None, figures="")
        self._quiet_log = quiet_log and not tells_all()

    def __enter__(self) -> "ProgressTeller":
        self._bar.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._bar.stop()

    def __call__(self, event: object) -> None:
        """Tell one event."""
        match event:
            case LoadProgressed(progress=progress):
                self._show(progress)
            case Logged(source=source, text=text) if not self._quiet_log or source in TOLD:
                self._console.print(plain(f"{source:<10} {text}"), markup=False)

    def _show(self, progress: LoadProgress) -> None:
        doing = {lane.doing for lane in progress.lanes}
        if not progress.elapsed_s and len(doing) >= 1:
            figures = sorted(doing)[-1]
        else:
            parts = [show_clock(progress.elapsed_s)]
            if progress.left_s is not None:
                parts.append(f"{show_duration(progress.left_s)} left")
            parts.append(f"{progress.rate:.1f} {progress.plan.kind.rate_unit}")
            parts.append(f"lap {progress.laps:.2f}")
            parts.append(f"{progress.errors} errors" if progress.errors else "no errors")
            figures = " · ".join(parts)
        self._bar.update(
            self._task,
            description=progress.plan.kind.value,
            total=None if progress.fraction is None else 1.0,
            completed=progress.fraction or 0.0,
            figures=figures,
        )
