"""Random histories of two books that meet, cut short at random: both end alike, and nothing is lost or twice."""

import tempfile
from pathlib import Path

from tenaz.journal.feed import coming_home, meeting
from tenaz.journal.opening.opening import open_book
from tests.doors.histories import History, differing, everything, fresh
from tests.torture.tally import Tally


def meetings(count: int, seed: int) -> Tally:
    """So many histories."""
    tally = Tally("meetings of two books")
    with tempfile.TemporaryDirectory() as folder:
        for number in range(seed, seed + count):

            def play(number: int = number) -> str:
                return played(Path(folder), number)

            tally.attempt(f"history {number}", play)
    return tally


def played(folder: Path, seed: int) -> str:
    """One history; gives what went wrong, empty when nothing did."""
    home, away = (open_book(fresh(folder, name)) for name in ("home", "away"))
    usual = coming_home.WORTH_IT, meeting.MOST_THINGS, coming_home.touched.__defaults__
    coming_home.WORTH_IT, few = (1, 8)[seed % 2], (5, 400)[seed // 2 % 2]
    meeting.MOST_THINGS, coming_home.touched.__defaults__ = few, (few,)
    try:
        history = History(seed, home, away)
        history.play()
        one, other = everything(home.store), everything(away.store)
    finally:
        coming_home.WORTH_IT, meeting.MOST_THINGS, coming_home.touched.__defaults__ = usual
        home.close()
        away.close()
    lost = history.trials - history.taken_out - set(one["trial"])
    return "; ".join(differing(one, other)[:2]) or (f"{len(lost)} trials are lost" if lost else "")
