"""Tells the world that a trial ended: a command of the technician's own, and a web address, both with a time limit."""

import base64
import http.client
import json
import os
import subprocess
import threading
import urllib.error
import urllib.request
from collections.abc import Callable
from urllib.parse import unquote, urlsplit, urlunsplit

from tenaz.core.trials.trial import Trial

LIMIT_S = 30.0
"""A command or an address that takes longer is given up: telling must never hold up the work."""


def announce(command: tuple[str, ...], address: str, trial: Trial, on_trouble: Callable[[str], None]) -> None:
    """Run the command and tell the web address, each with its limit of time."""
    facts = facts_of(trial)
    if command:
        added = {f"TENAZ_{name.upper()}": str(value) for name, value in facts.items()}
        try:
            subprocess.run(
                command,
                env={**os.environ, **added},
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.DEVNULL,
                timeout=LIMIT_S,
                check=True,
            )
        except subprocess.CalledProcessError as error:
            on_trouble(f"the hook {command[0]} ended with status {error.returncode}")
        except subprocess.TimeoutExpired:
            on_trouble(f"the hook {command[0]} took longer than {LIMIT_S:.0f} s and was ended")
        except OSError as error:
            on_trouble(f"the hook {command[0]} could not be run: {error.strerror}")
    if address:
        try:
            request = _request(address, facts)
        except ValueError:
            on_trouble(f"{without_secrets(address)} is no web address that could be told; mend TENAZ_WEBHOOK")
            return
        said: list[str] = []
        # The library's limit is one for each step of the way; ours is one for all of it.
        posting = threading.Thread(target=_post, args=(request, said), name="post", daemon=True)
        posting.start()
        posting.join(LIMIT_S)
        if posting.is_alive():
            said.append(f"no answer within {LIMIT_S:.0f} s")
        if said:
            on_trouble(f"the web address {without_secrets(address)} did not take it: {said[0]}")


def _request(address: str, facts: dict[str, str | int | float]) -> urllib.request.Request:
    """The message. A user and a password in the address become a header: they are no part of what is asked for.

    Raises:
        ValueError: no address.
    """
    parts = urlsplit(address)
    host = f"{parts.hostname or ''}:{parts.port}" if parts.port else parts.hostname or ""
    if not host or not address.isprintable() or " " in address:
        raise ValueError("no host")
    headers = {"Content-Type": "application/json"}
    if parts.username is not None:
        secret = f"{unquote(parts.username)}:{unquote(parts.password or '')}"
        headers["Authorization"] = f"Basic {base64.b64encode(secret.encode()).decode()}"
    bare = urlunsplit((parts.scheme, host, parts.path, parts.query, ""))
    return urllib.request.Request(bare, json.dumps(facts).encode(), headers, method="POST")


def _post(request: urllib.request.Request, said: list[str]) -> None:
    """Tell; what went wrong is said in words of our own, which hold no part of the address."""
    try:
        with urllib.request.urlopen(request, timeout=LIMIT_S):
            pass
    except urllib.error.HTTPError as error:
        said.append(f"it answered {error.code}")
    except urllib.error.URLError as error:
        why = error.reason
        said.append((why.strerror if isinstance(why, OSError) else "") or type(why).__name__)
    except (OSError, ValueError, http.client.HTTPException) as error:
        said.append(f"its answer makes no sense ({type(error).__name__})")


def without_secrets(address: str) -> str:
    """Where a web address leads, without user, password and what is asked for there."""
    try:
        parts = urlsplit(address)
        port = f":{parts.port}" if parts.port else ""
    except ValueError:
        return "the address in TENAZ_WEBHOOK"
    return f"{parts.scheme}://{parts.hostname or '?'}{port}/…"


def facts_of(trial: Trial) -> dict[str, str | int | float]:
    """What is told: plain values by name."""
    return {
        "rig": trial.rig,
        "trial": trial.number,
        "bench": trial.bench.value,
        "outcome": (trial.outcome or "").replace(" ", "-"),
        "verdict": trial.verdict.value,
        "load": trial.plan.kind.value,
        "elapsed_s": round(trial.elapsed_s, 1),
        "errors": trial.errors,
        "setpoint": " ".join(f"{name}={value}" for name, value in trial.setpoint.items()),
    }
