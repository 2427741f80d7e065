"""A conversation with a Redfish service: a session, its token, retries where asking twice does no harm.

Source: DMTF DSP0266. No secret of it is kept, shown or put into an error.
"""

import http.client
import json
import ssl
import time
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from tenaz.core.base.errors import Refused
from tenaz.core.ports.door import Unanswered

WITHIN_S = 20.0
TRIES, REST_S = 3, 0.5
MOST_BYTES = 16 * 2**20
ROOT = "/redfish/v1/"
BUSY = (429, 503)
"""What a service answers that is not ready: it is asked again."""

Data = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Answer:
    """Status, headers in small letters, and the object that came (empty: none did)."""

    status: int
    headers: Mapping[str, str]
    data: Data

    @property
    def ok(self) -> bool:
        """Whether it did as it was asked."""
        return 200 <= self.status < 300

    def why(self) -> str:
        """What the service says of it, in its own words; the messages that it extends an error with."""
        error = self.data.get("error", {})
        told = error.get("@Message.ExtendedInfo") or []
        words = [str(one.get("Message", "")) for one in told if isinstance(one, dict)]
        return "; ".join(filter(None, words))[:300] or str(error.get("message", ""))[:300] or f"status {self.status}"


class Service:
    """One service, by its address. ``ca`` is a file with the authority that vouches for it (none: the system's). A
    session is made with the first question that needs one, and ended by :meth:`close`.
    """

    def __init__(self, address: str, user: str, password: str, ca: Path | None = None) -> None:
        parts = urlsplit(address)
        if parts.scheme not in ("http", "https") or not parts.hostname or parts.username or parts.query:
            raise Refused(f"{address[:80]!r} is no address of a Redfish service; it goes https://HOST.")
        if parts.scheme == "http" and parts.hostname not in ("127.0.0.1", "localhost", "::1"):
            raise Refused(f"{address}: without TLS a password would go over the network for all to read: use https.")
        self.address = f"{parts.scheme}://{parts.netloc}"
        self._secure, self._host, self._port = parts.scheme == "https", parts.hostname, parts.port
        self._user, self._password, self._ca = user, password, ca
        self._token, self._session = "", ""

    def _connection(self, within_s: float) -> http.client.HTTPConnection:
        if not self._secure:
            return http.client.HTTPConnection(self._host, self._port, timeout=within_s)
        try:
            context = ssl.create_default_context(cafile=str(self._ca) if self._ca else None)
        except OSError as error:
            raise Refused(f"{self._ca} holds no certificate of an authority: {error}.") from error
        return http.client.HTTPSConnection(self._host, self._port, timeout=within_s, context=context)

    def _once(self, method: str, path: str, body: Data | None, headers: Mapping[str, str]) -> Answer:
        connection = self._connection(WITHIN_S)
        sent = json.dumps(body) if body is not None else None
        all_headers = {"Accept": "application/json", "OData-Version": "4.0", **headers}
        if sent is not None:
            all_headers["Content-Type"] = "application/json"
        if self._token:
            all_headers["X-Auth-Token"] = self._token
        try:
            connection.request(method, path, sent, all_headers)
            response = connection.getresponse()
            raw = response.read(MOST_BYTES + 1)
            told = {name.lower(): value for name, value in response.getheaders()}
            length = told.get("content-length", "")
            if len(raw) > MOST_BYTES or (length.isdigit() and int(length) != len(raw) and method != "HEAD"):
                raise Unanswered(f"{self.address}: half an answer came to {method} {path}.")
        except ssl.SSLCertVerificationError as error:
            raise Refused(
                f"{self.address}: nobody vouches for its certificate ({error.verify_message}). Name the file with its "
                f"authority: ca=FILE. Unverified it is not used."
            ) from error
        except (OSError, http.client.HTTPException) as error:
            raise Unanswered(f"{self.address}: no answer to {method} {path}: {type(error).__name__}.") from error
        finally:
            connection.close()
        try:
            data = json.loads(raw) if raw.strip() else {}
        except ValueError as error:
            raise Unanswered(f"{self.address}: what came to {method} {path} is no JSON.") from error
        return Answer(response.status, told, data if isinstance(data, dict) else {})

    def ask(self, method: str, path: str, body: Data | None = None, headers: Mapping[str, str] | None = None) -> Answer:
        """Ask once more where that does no harm: what only reads, and what was refused for being busy.

        Raises:
            Unanswered: no whole answer came, however often it was asked.
        """
        reads = method in ("GET", "HEAD")
        for turn in range(TRIES):
            last = turn == TRIES - 1
            try:
                answer = self._once(method, path, body, headers or {})
            except Unanswered:
                if last or not reads:
                    raise
                time.sleep(REST_S)
                continue
            if answer.status == 401 and self._token and not last:
                self._token = ""
                self._begin()
                continue
            if answer.status in BUSY and not last:
                time.sleep(REST_S)
                continue
            return answer
        raise AssertionError("a loop that always ends")

    def get(self, path: str) -> Answer:
        """Read a resource, with a session.

        Raises:
            Refused: it is not there, or may not be read; says what the service says.
        """
        self._signed_in()
        answer = self.ask("GET", path)
        if not answer.ok:
            raise Refused(f"{self.address}{path}: {answer.why()}.")
        return answer

    def act(self, method: str, path: str, body: Data, headers: Mapping[str, str] | None = None) -> Answer:
        """Have something done, with a session; what came of it is for whoever asks."""
        self._signed_in()
        return self.ask(method, path, body, headers)

    def _signed_in(self) -> None:
        if not self._token:
            self._begin()

    def _begin(self) -> None:
        if not self._user:
            raise Refused(f"{self.address}: it needs a user and a password; name the file that holds them.")
        path = self._sessions()
        answer = self.ask("POST", path, {"UserName": self._user, "Password": self._password})
        token = answer.headers.get("x-auth-token", "")
        if not answer.ok or not token:
            # Its own words may repeat what was sent.
            raise Refused(f"{self.address}: it lets nobody in with these credentials (status {answer.status}).")
        self._token = token
        self._session = urlsplit(answer.headers.get("location", "")).path

    def _sessions(self) -> str:
        root = self.ask("GET", ROOT).data
        links = root.get("Links", {}).get("Sessions", {}).get("@odata.id")
        return str(links or f"{ROOT}SessionService/Sessions")

    def close(self) -> None:
        """End the session: services have few."""
        token, self._token = self._token, ""
        if token and self._session:
            self._token = token
            try:
                self._once("DELETE", self._session, None, {})
            except Refused:
                return
            finally:
                self._token = ""
