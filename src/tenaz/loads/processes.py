"""What a worker's process is given, and how much of a core it got."""

import ctypes
import os
from collections.abc import Mapping

import psutil

ONE_THREAD = dict.fromkeys(("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS", "BLIS_NUM_THREADS"), "1")
"""Workers are the threads; a library inside one must not make more."""


def worker_environment(environment: Mapping[str, str]) -> dict[str, str]:
    """What a worker is given: one thread for libraries, and nothing by which a file of the present folder would be
    taken for a module.
    """
    given = {**environment, **ONE_THREAD, "PYTHONSAFEPATH": "1"}
    paths = [path for path in given.pop("PYTHONPATH", "").split(os.pathsep) if os.path.isabs(path)]  # noqa: PTH117
    return given | ({"PYTHONPATH": os.pathsep.join(paths)} if paths else {})


_libc = ctypes.CDLL(None)


def core_now() -> int:
    """The core that this runs on at this moment."""
    return int(_libc.sched_getcpu())


def state_of(pid: int) -> str:
    """What the system says that a process does: ``running``, ``sleeping``, ``stopped`` and so on; empty: it is gone."""
    try:
        return str(psutil.Process(pid).status())
    except psutil.Error:
        return ""


def cpu_time_s(pid: int) -> float:
    """Seconds that a process has had on a core; 0 when it is gone."""
    try:
        times = psutil.Process(pid).cpu_times()
    except psutil.Error:
        return 0.0
    return float(times.user + times.system)
