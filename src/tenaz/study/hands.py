"""Many hands for a study: the cores of this machine, or a cluster. What comes back is the same, in the same order and
to the bit, whoever did it.
"""

import hashlib
import os
import platform
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from contextvars import ContextVar
from functools import partial
from importlib import metadata, resources
from typing import Any, Protocol, TypeVar

import tenaz
from tenaz.core.base.errors import Refused

Came = TypeVar("Came")

LOCAL = "local"
ANSWERS_WITHIN_S = "10s"
TRIED_AGAIN = 5
"""So many workers may be lost under one piece of work before it is given up."""
ROOMS = ("study", "margins", "search", "simulated", "finding", "core", "engine")
"""What a study's result rests on."""

_ON: ContextVar[str] = ContextVar("on", default="")


class Hands(Protocol):
    """Who does the work."""

    def map(self, work: Callable[..., Came], *over: Iterable[Any], chunk: int = 1) -> Iterator[Came]:
        """Do it with each of these, ``chunk`` at a time; what came of each, in their order."""
        ...


@contextmanager
def working_on(address: str) -> Iterator[None]:
    """Within it studies are played there: empty, on the cores of this machine; ``local``, on a cluster of its own; or
    at the address of one.
    """
    token = _ON.set(address)
    try:
        yield
    finally:
        _ON.reset(token)


@contextmanager
def hands() -> Iterator[Hands]:
    """Hands for a study, for as long as it takes.

    Raises:
        Refused: the cluster does not answer, has no workers, or what works there is not what is here.
    """
    address = _ON.get()
    if address:
        with _cluster(address) as client:
            yield _OnCluster(client)
        return
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        yield _OnCores(pool)


class _OnCores:
    def __init__(self, pool: ProcessPoolExecutor) -> None:
        self._pool = pool

    def map(self, work: Callable[..., Came], *over: Iterable[Any], chunk: int = 1) -> Iterator[Came]:
        """On processes of this machine."""
        return self._pool.map(work, *over, chunksize=chunk)


class _OnCluster:
    def __init__(self, client: Any) -> None:
        self._client = client

    def map(self, work: Callable[..., Came], *over: Iterable[Any], chunk: int = 1) -> Iterator[Came]:
        """On the workers of a cluster; what a lost one had is done again by another."""
        every = list(zip(*over, strict=True))
        pieces = [every[first : first + chunk] for first in range(0, len(every), chunk)]
        futures = self._client.map(partial(_piece, work), pieces, pure=False, retries=TRIED_AGAIN)
        for future in futures:
            yield from future.result()


def _piece(work: Callable[..., Came], every: Sequence[tuple[Any, ...]]) -> list[Came]:
    return [work(*one) for one in every]


@contextmanager
def _cluster(address: str) -> Iterator[Any]:
    try:
        import distributed as engine  # noqa: PLC0415 - only who has a cluster has it
    except ImportError:
        raise Refused("A cluster needs one more package: pip install 'tenaz[cluster]', there and here.") from None
    import dask  # noqa: PLC0415

    distributed: Any = engine
    own: Any = None
    try:
        with dask.config.set({"distributed.scheduler.allowed-failures": TRIED_AGAIN}):
            if address == LOCAL:
                own = distributed.LocalCluster(threads_per_worker=1, dashboard_address=None, silence_logs=40)
            client: Any = distributed.Client(own or address, timeout=ANSWERS_WITHIN_S)
    except (OSError, ValueError, TimeoutError) as error:
        if own is not None:
            own.close()
        raise Refused(f"The cluster {address} does not answer: {str(error)[:200] or 'no answer'}.") from error
    try:
        _see_that_they_are_alike(client, address)
        yield client
    finally:
        client.close()
        if own is not None:
            own.close()


def _see_that_they_are_alike(client: Any, address: str) -> None:
    """What works there must be what is here: versions first, then data.

    Raises:
        Refused: naming the worker, and what differs.
    """
    here, there = what_works(), client.run(what_works)
    if not there:
        raise Refused(f"The cluster {address} has no workers yet: begin some there, with dask worker {address}.")
    for worker, found in there.items():
        for name, value in here.items():
            if found.get(name) != value:
                raise Refused(
                    f"The worker {worker} would play another study: {name} is {found.get(name)} there, and {value} "
                    f"here. Put the same there as here."
                )


def what_works() -> dict[str, str]:
    """What a study's result rests on, by name: versions, and a sum of what is read and run."""
    found = {"Tenaz": tenaz.__version__, "Python": platform.python_version(), "numpy": metadata.version("numpy")}
    found["instructions"] = platform.machine()
    total = hashlib.sha256()
    for room in ROOMS:
        for name, data in sorted(_files(resources.files("tenaz").joinpath(room), room)):
            total.update(name.encode())
            total.update(data)
    found["its files"] = total.hexdigest()[:16]
    return found


def _files(folder: Any, path: str) -> Iterator[tuple[str, bytes]]:
    for one in folder.iterdir():
        if one.is_dir():
            yield from _files(one, f"{path}/{one.name}")
        elif one.name.endswith((".py", ".toml", ".json", ".txt")):
            yield f"{path}/{one.name}", one.read_bytes()
