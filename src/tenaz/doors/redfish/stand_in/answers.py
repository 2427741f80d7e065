"""What the stand-in does when it is asked: who is let in, what is told, what is changed, and what is refused."""

import base64
import json
import secrets
from email.message import Message

from tenaz.doors.redfish.stand_in.resources import (
    BIOS,
    OPEN,
    SESSIONS,
    SYSTEM,
    Data,
    Resources,
    tag,
)
from tenaz.doors.redfish.stand_in.state import State

Reply = tuple[int, Data | None, dict[str, str]]
"""Status, what comes (None: nothing), headers."""


class Refusal(Exception):
    """A status, and why in words."""

    def __init__(self, status: int, words: str, message: str = "GeneralError") -> None:
        super().__init__(words)
        self.status, self.message = status, message


def error_of(refusal: Refusal) -> Data:
    """As the protocol tells errors."""
    told = {"@odata.type": "#Message.v1_1_1.Message", "MessageId": f"Base.1.0.{refusal.message}",
            "Message": str(refusal), "Severity": "Warning", "Resolution": "Correct the request."}  # fmt: skip
    return {"error": {"code": f"Base.1.0.{refusal.message}", "message": str(refusal), "@Message.ExtendedInfo": [told]}}


class Answers:
    """Of one service."""

    def __init__(self, state: State) -> None:
        self._state = state
        self._told_by = Resources(state)

    def answer(self, method: str, path: str, headers: Message, body: bytes) -> Reply:
        """To one question, one after the other."""
        try:
            with self._state.lock:
                return self._act(method, path, headers, body)
        except Refusal as refusal:
            return refusal.status, error_of(refusal), {}

    def _act(self, method: str, path: str, headers: Message, body: bytes) -> Reply:
        if headers.get("OData-Version", "4.0") != "4.0":
            raise Refusal(412, "Only OData-Version 4.0 is spoken here.")
        if path in OPEN:
            if method not in ("GET", "HEAD"):
                raise Refusal(405, f"{path} takes no {method}.", "OperationNotAllowed")
            return self._told(self._told_by.open_to_all(path))
        if path in (SESSIONS, f"{SESSIONS}/Members") and method == "POST":
            return self._log_in(_object(body))
        self._let_in(headers)
        if method in ("GET", "HEAD"):
            found = self._told_by.at(path)
            if found is None:
                raise Refusal(404, f"There is no {path} here.", "ResourceMissingAtURI")
            return self._told(found)
        return self._change(method, path, headers, body)

    def _told(self, data: Data) -> Reply:
        return 200, data, {"ETag": tag(data)}

    def _let_in(self, headers: Message) -> None:
        """By a session's token, or by a user and a password with each question."""
        if headers.get("X-Auth-Token", "") in self._state.sessions:
            return
        kind, _, told = headers.get("Authorization", "").partition(" ")
        if kind.lower() == "basic":
            try:
                user, _, password = base64.b64decode(told, validate=True).decode().partition(":")
            except ValueError:
                user = password = ""
            if user == self._state.user and secrets.compare_digest(password.encode(), self._state.password.encode()):
                return
        raise Refusal(401, "Log in first.", "NoValidSession")

    def _log_in(self, data: Data) -> Reply:
        state = self._state
        good = secrets.compare_digest(str(data.get("Password", "")), state.password)
        if data.get("UserName") != state.user or not good:
            raise Refusal(401, "The user or the password is not right.", "ResourceAtUriUnauthorized")
        token, number = secrets.token_urlsafe(24), str(max(map(int, state.sessions.values()), default=0) + 1)
        state.sessions[token] = number
        place = f"{SESSIONS}/{number}"
        return 201, self._told_by.session(number), {"X-Auth-Token": token, "Location": place}

    # -- what is changed ----------------------------------------

    def _change(self, method: str, path: str, headers: Message, body: bytes) -> Reply:
        state = self._state
        if method == "PATCH" and path == f"{BIOS}/Settings":
            return self._set(headers, _object(body))
        if method == "POST" and path == f"{SYSTEM}/Actions/ComputerSystem.Reset":
            return self._reset(str(_object(body).get("ResetType", "")))
        if method == "POST" and path == f"{BIOS}/Actions/Bios.ResetBios":
            state.pending = dict(state.machine.defaults())
            return 204, None, {}
        if method == "DELETE" and path.startswith(f"{SESSIONS}/"):
            number = path.rsplit("/", 1)[-1]
            if number not in state.sessions.values():
                raise Refusal(404, "There is no such session.", "ResourceMissingAtURI")
            state.sessions = {token: one for token, one in state.sessions.items() if one != number}
            return 204, None, {}
        if self._told_by.at(path) is None:
            raise Refusal(404, f"There is no {path} here.", "ResourceMissingAtURI")
        raise Refusal(405, f"{path} takes no {method}.", "OperationNotAllowed")

    def _set(self, headers: Message, data: Data) -> Reply:
        wanted = headers.get("If-Match")
        if wanted not in (None, "*") and wanted != tag(self._told_by.settings()):
            raise Refusal(412, "Somebody changed it meanwhile.", "PreconditionFailed")
        values = data.get("Attributes")
        if not isinstance(values, dict) or not values:
            raise Refusal(400, "Name attributes to be set.", "PropertyMissing")
        offers = {offer.name: offer for offer in self._state.machine.offers()}
        for name, value in values.items():
            if name not in offers:
                raise Refusal(400, f"There is no attribute {name}.", "PropertyUnknown")
            if not offers[name].takes(value):
                raise Refusal(400, f"{name} takes no {value}.", "PropertyValueNotInList")
        self._state.pending |= values
        return 200, self._told_by.settings(), {"ETag": tag(self._told_by.settings())}

    def _reset(self, kind: str) -> Reply:
        state = self._state
        if kind == "ForceOff":
            state.power, state.progress = "Off", "None"
        elif kind in ("On", "ForceRestart", "PowerCycle"):
            state.start()
        else:
            raise Refusal(400, f"{kind or 'nothing'} is no way to reset it.", "ActionParameterNotSupported")
        return 204, None, {}


def _object(body: bytes) -> Data:
    try:
        data = json.loads(body)
    except ValueError as error:
        raise Refusal(400, "The body is no JSON.", "MalformedJSON") from error
    if not isinstance(data, dict):
        raise Refusal(400, "The body is no object.", "MalformedJSON")
    return data
