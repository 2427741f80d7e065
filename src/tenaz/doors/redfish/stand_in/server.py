"""The stand-in as a server on loopback: HTTP in and out, and what a test lets go wrong with it."""

import json
import secrets
import ssl
import threading
from collections.abc import Callable, Mapping
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

from tenaz.doors.redfish.stand_in.answers import Answers, Refusal, error_of
from tenaz.doors.redfish.stand_in.resources import METADATA, METADATA_XML, Data, allowed
from tenaz.doors.redfish.stand_in.state import Machine, State

MOST_BODY = 1 << 20
Disturb = Callable[[str, str], str]
"""What goes wrong with one question: nothing (empty), ``deaf`` (no answer, not done), ``mute`` (done, no answer),
``half`` (done, half an answer), or a status to answer with in place of doing it.
"""


def _nothing(_method: str, _path: str) -> str:
    """Nothing goes wrong."""
    return ""


class StandIn:
    """The service; a context in which it runs. ``address`` is where; the password is made anew each time. ``tls`` are
    files with a certificate and its key.
    """

    def __init__(self, machine: Machine, disturb: Disturb | None = None, tls: tuple[Path, Path] | None = None) -> None:
        self.user, self.password = "operator", secrets.token_urlsafe(18)
        asked = Answers(State(machine, self.user, self.password))
        trouble = disturb or _nothing

        class Handler(_Handler):
            answers = asked
            disturb = staticmethod(trouble)

        self._server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self._server.daemon_threads = True
        if tls is not None:
            context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
            context.load_cert_chain(*tls)
            self._server.socket = context.wrap_socket(self._server.socket, server_side=True)
        self.address = f"http{'s' if tls else ''}://127.0.0.1:{self._server.server_address[1]}"
        self._thread = threading.Thread(target=self._server.serve_forever, name="stand-in", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """No longer."""
        self._server.shutdown()
        self._server.server_close()

    def __enter__(self) -> "StandIn":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()


class _Handler(BaseHTTPRequestHandler):
    answers: Answers
    disturb: Disturb
    protocol_version = "HTTP/1.1"
    server_version, sys_version = "StandIn", ""

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing is logged: a token may stand in what is asked."""

    def do_GET(self) -> None:
        """Read."""
        self._serve("GET")

    def do_HEAD(self) -> None:
        """Whether it is there."""
        self._serve("HEAD")

    def do_PATCH(self) -> None:
        """Change."""
        self._serve("PATCH")

    def do_POST(self) -> None:
        """Act, or make."""
        self._serve("POST")

    def do_DELETE(self) -> None:
        """End."""
        self._serve("DELETE")

    def do_PUT(self) -> None:
        """Nothing here is replaced."""
        self._serve("PUT")

    def _serve(self, method: str) -> None:
        path = self.path.partition("?")[0].rstrip("/") or "/"
        length = self.headers.get("Content-Length", "0")
        body = self.rfile.read(min(int(length), MOST_BODY)) if length.isdigit() else b""
        trouble = self.disturb(method, path)
        if trouble == "deaf":
            self.close_connection = True
            return
        status, data, headers = self.answers.answer(method, path, self.headers, body) if not trouble.isdigit() else (
            int(trouble), error_of(Refusal(int(trouble), "The service has a trouble of its own.")), {},
        )  # fmt: skip
        if trouble == "mute":
            self.close_connection = True
            return
        self._send(method, path, status, data, headers, half=trouble == "half")

    def _send(
        self, method: str, path: str, status: int, data: Data | None, headers: Mapping[str, str], half: bool
    ) -> None:
        raw = b"" if data is None else json.dumps(data).encode()
        kind = "application/json;charset=utf-8"
        if path == METADATA and status == 200:
            raw, kind, data = METADATA_XML, "application/xml;charset=utf-8", {}
        self.send_response(status)
        self.send_header("OData-Version", "4.0")
        self.send_header("Cache-Control", "no-cache")
        if data is not None:
            self.send_header("Content-Type", kind)
            self.send_header("Link", f"<{METADATA}>; rel=describedby")
        for name, value in headers.items():
            self.send_header(name, value)
        if method in ("GET", "HEAD") or status == 405:
            self.send_header("Allow", ", ".join(allowed(path)))
        if status == 401:
            self.send_header("WWW-Authenticate", 'Basic realm="stand-in"')
        if status != 204:
            self.send_header("Content-Length", str(len(raw)))
        self.end_headers()
        if method != "HEAD":
            self.wfile.write(raw[: len(raw) // 2] if half else raw)
        if half:
            self.close_connection = True
