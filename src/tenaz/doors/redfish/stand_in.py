"""A Redfish service of our own in front of a machine, on loopback: sessions, registry, settings to come, resets.

What it serves is of DMTF DSP0266 (protocol) and DSP0268 (Bios, AttributeRegistry, ComputerSystem, SessionService).
"""

import base64
import json
import secrets
import ssl
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import partial
from hashlib import sha256
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any, Protocol

from tenaz.core.rigs.offers import Kind, Offer, Raw

ROOT = "/redfish/v1"
SYSTEM = f"{ROOT}/Systems/1"
BIOS = f"{SYSTEM}/Bios"
REGISTRY = "Settings.1.0.0"
SESSIONS = f"{ROOT}/SessionService/Sessions"
ACCOUNTS = f"{ROOT}/AccountService"
METADATA = f"{ROOT}/$metadata"
OPEN = ("/redfish", ROOT, f"{ROOT}/odata", METADATA)
"""What is told to whoever asks."""

ROLES = {
    "Administrator": ("Login", "ConfigureManager", "ConfigureUsers", "ConfigureSelf", "ConfigureComponents"),
    "Operator": ("Login", "ConfigureSelf", "ConfigureComponents"),
    "ReadOnly": ("Login", "ConfigureSelf"),
}
METADATA_XML = (
    b'<?xml version="1.0" encoding="UTF-8"?>'
    b'<edmx:Edmx xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx" Version="4.0">'
    b'<edmx:Reference Uri="http://redfish.dmtf.org/schemas/v1/ServiceRoot_v1.xml">'
    b'<edmx:Include Namespace="ServiceRoot"/><edmx:Include Namespace="ServiceRoot.v1_9_0"/></edmx:Reference>'
    b'<edmx:Reference Uri="http://redfish.dmtf.org/schemas/v1/RedfishExtensions_v1.xml">'
    b'<edmx:Include Namespace="RedfishExtensions.v1_0_0" Alias="Redfish"/></edmx:Reference>'
    b'<edmx:DataServices><Schema xmlns="http://docs.oasis-open.org/odata/ns/edm" Namespace="Service">'
    b'<EntityContainer Name="Service" Extends="ServiceRoot.v1_9_0.ServiceContainer"/></Schema>'
    b"</edmx:DataServices></edmx:Edmx>"
)
FALLS_BACK_AFTER = 3
"""So many starts in a row that did not come up, and the firmware takes its own values."""
MOST_BODY = 1 << 20
TYPES = {Kind.NUMBER: "Integer", Kind.CHOICE: "Enumeration", Kind.TEXT: "String"}

Data = dict[str, Any]
Disturb = Callable[[str, str], str]
"""What goes wrong with one question: nothing (empty), ``deaf`` (no answer, not done), ``mute`` (done, no answer),
``half`` (done, half an answer), or a status to answer with in place of doing it.
"""


class Machine(Protocol):
    """What stands behind the service."""

    def offers(self) -> tuple[Offer, ...]:
        """Its attributes, with what is in force."""
        ...

    def defaults(self) -> Mapping[str, Raw]:
        """What it takes by itself."""
        ...

    def start(self, values: Mapping[str, Raw]) -> bool:
        """Start with these; whether it came up."""
        ...


@dataclass
class _State:
    machine: Machine
    user: str
    password: str = field(repr=False)
    disturb: Disturb = lambda _method, _path: ""
    pending: dict[str, Raw] = field(default_factory=dict)
    entered: dict[str, Raw] = field(default_factory=dict)
    sessions: dict[str, str] = field(default_factory=dict)
    failed: int = 0
    power: str = "On"
    progress: str = "OSRunning"
    lock: threading.RLock = field(default_factory=threading.RLock)


class Refusal(Exception):
    """A status, and why in words."""

    def __init__(self, status: int, words: str, message: str = "GeneralError") -> None:
        super().__init__(words)
        self.status, self.message = status, message


def _error(refusal: Refusal) -> Data:
    told = {"@odata.type": "#Message.v1_1_1.Message", "MessageId": f"Base.1.0.{refusal.message}",
            "Message": str(refusal), "Severity": "Warning", "Resolution": "Correct the request."}  # fmt: skip
    return {"error": {"code": f"Base.1.0.{refusal.message}", "message": str(refusal), "@Message.ExtendedInfo": [told]}}


class StandIn:
    """The service; a context in which it runs. ``address`` is where; the password is made anew each time. ``tls`` are
    files with a certificate and its key.
    """

    def __init__(self, machine: Machine, disturb: Disturb | None = None, tls: tuple[Path, Path] | None = None) -> None:
        self.user, self.password = "operator", secrets.token_urlsafe(18)
        self._state = _State(machine, self.user, self.password, disturb or (lambda _method, _path: ""))
        state = self._state

        class Handler(_Handler):
            of = state

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
    of: _State
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
        trouble = self.of.disturb(method, path)
        if trouble == "deaf":
            self.close_connection = True
            return
        status, data, headers = self._answered(method, path, body) if not trouble.isdigit() else (
            int(trouble), _error(Refusal(int(trouble), "The service has a trouble of its own.")), {},
        )  # fmt: skip
        if trouble == "mute":
            self.close_connection = True
            return
        self._send(method, path, status, data, headers, half=trouble == "half")

    def _answered(self, method: str, path: str, body: bytes) -> tuple[int, Data | None, dict[str, str]]:
        try:
            with self.of.lock:
                return self._act(method, path, body)
        except Refusal as refusal:
            return refusal.status, _error(refusal), {}

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
            self.send_header("Allow", ", ".join(_allowed(path)))
        if status == 401:
            self.send_header("WWW-Authenticate", 'Basic realm="stand-in"')
        if status != 204:
            self.send_header("Content-Length", str(len(raw)))
        self.end_headers()
        if method != "HEAD":
            self.wfile.write(raw[: len(raw) // 2] if half else raw)
        if half:
            self.close_connection = True

    # -- what is asked ----------------------------------------

    def _act(self, method: str, path: str, body: bytes) -> tuple[int, Data | None, dict[str, str]]:
        if self.headers.get("OData-Version", "4.0") != "4.0":
            raise Refusal(412, "Only OData-Version 4.0 is spoken here.")
        if path in OPEN:
            if method not in ("GET", "HEAD"):
                raise Refusal(405, f"{path} takes no {method}.", "OperationNotAllowed")
            return self._told(self._open_to_all(path))
        if path in (SESSIONS, f"{SESSIONS}/Members") and method == "POST":
            return self._log_in(self._object(body))
        self._let_in()
        if method in ("GET", "HEAD"):
            found = self._resource(path)
            if found is None:
                raise Refusal(404, f"There is no {path} here.", "ResourceMissingAtURI")
            return self._told(found)
        return self._change(method, path, body)

    def _told(self, data: Data) -> tuple[int, Data, dict[str, str]]:
        return 200, data, {"ETag": _tag(data)}

    def _object(self, body: bytes) -> Data:
        try:
            data = json.loads(body)
        except ValueError as error:
            raise Refusal(400, "The body is no JSON.", "MalformedJSON") from error
        if not isinstance(data, dict):
            raise Refusal(400, "The body is no object.", "MalformedJSON")
        return data

    def _open_to_all(self, path: str) -> Data:
        if path == "/redfish":
            return {"v1": f"{ROOT}/"}
        if path == f"{ROOT}/odata":
            linked = ("Systems", "Registries", "SessionService", "AccountService")
            value = [{"name": "Service", "kind": "Singleton", "url": f"{ROOT}/"}]
            value += [{"name": one, "kind": "Singleton", "url": f"{ROOT}/{one}"} for one in linked]
            return {"@odata.context": METADATA, "value": value}
        return {} if path == METADATA else self._root()

    def _let_in(self) -> None:
        """By a session's token, or by a user and a password with each question."""
        if self.headers.get("X-Auth-Token", "") in self.of.sessions:
            return
        kind, _, told = self.headers.get("Authorization", "").partition(" ")
        if kind.lower() == "basic":
            try:
                user, _, password = base64.b64decode(told, validate=True).decode().partition(":")
            except ValueError:
                user = password = ""
            if user == self.of.user and secrets.compare_digest(password.encode(), self.of.password.encode()):
                return
        raise Refusal(401, "Log in first.", "NoValidSession")

    def _log_in(self, data: Data) -> tuple[int, Data, dict[str, str]]:
        state = self.of
        good = secrets.compare_digest(str(data.get("Password", "")), state.password)
        if data.get("UserName") != state.user or not good:
            raise Refusal(401, "The user or the password is not right.", "ResourceAtUriUnauthorized")
        token, number = secrets.token_urlsafe(24), str(len(state.sessions) + 1)
        state.sessions[token] = number
        place = f"{ROOT}/SessionService/Sessions/{number}"
        return 201, self._session(number), {"X-Auth-Token": token, "Location": place}

    def _session(self, number: str) -> Data:
        path = f"{ROOT}/SessionService/Sessions/{number}"
        return {"@odata.id": path, "@odata.type": "#Session.v1_1_0.Session", "Id": number, "Name": f"Session {number}",
                "UserName": self.of.user, "Password": None}  # fmt: skip

    def _root(self) -> Data:
        links = {"Sessions": {"@odata.id": f"{ROOT}/SessionService/Sessions"}}
        return {"@odata.id": f"{ROOT}/", "@odata.type": "#ServiceRoot.v1_9_0.ServiceRoot", "Id": "RootService",
                "Name": "Stand-in", "RedfishVersion": "1.11.0", "UUID": "5d0f5a53-0c1e-4c41-9a34-0a2c1d1c0d10",
                "Systems": {"@odata.id": f"{ROOT}/Systems"}, "Registries": {"@odata.id": f"{ROOT}/Registries"},
                "AccountService": {"@odata.id": ACCOUNTS},
                "SessionService": {"@odata.id": f"{ROOT}/SessionService"}, "Links": links}  # fmt: skip

    def _collection(self, path: str, kind: str, name: str, members: list[str]) -> Data:
        return {"@odata.id": path, "@odata.type": f"#{kind}.{kind}", "Name": name,
                "Members": [{"@odata.id": one} for one in members], "Members@odata.count": len(members)}  # fmt: skip

    def _resource(self, path: str) -> Data | None:
        state = self.of
        sessions = [f"{ROOT}/SessionService/Sessions/{one}" for one in state.sessions.values()]
        made: dict[str, Callable[[], Data]] = {
            f"{ROOT}/Systems": lambda: self._collection(
                f"{ROOT}/Systems", "ComputerSystemCollection", "Systems", [SYSTEM]
            ),
            SYSTEM: self._system,
            BIOS: self._bios,
            f"{BIOS}/Settings": self._settings,
            f"{ROOT}/Registries": lambda: self._collection(
                f"{ROOT}/Registries", "MessageRegistryFileCollection", "Registries", [f"{ROOT}/Registries/{REGISTRY}"]
            ),
            f"{ROOT}/Registries/{REGISTRY}": self._registry_file,
            f"{ROOT}/registrystore/{REGISTRY}.json": self._registry,
            f"{ROOT}/SessionService": self._session_service,
            ACCOUNTS: self._account_service,
            f"{ACCOUNTS}/Roles": lambda: self._collection(
                f"{ACCOUNTS}/Roles", "RoleCollection", "Roles", [f"{ACCOUNTS}/Roles/{one}" for one in ROLES]
            ),
            f"{ACCOUNTS}/Accounts": lambda: self._collection(
                f"{ACCOUNTS}/Accounts", "ManagerAccountCollection", "Accounts", [f"{ACCOUNTS}/Accounts/1"]
            ),
            f"{ACCOUNTS}/Accounts/1": self._account,
            **{f"{ACCOUNTS}/Roles/{one}": partial(_role, one) for one in ROLES},
            f"{ROOT}/SessionService/Sessions": lambda: self._collection(
                f"{ROOT}/SessionService/Sessions", "SessionCollection", "Sessions", sessions
            ),
        }
        if path in sessions:
            return self._session(path.rsplit("/", 1)[-1])
        return made[path]() if path in made else None

    def _session_service(self) -> Data:
        path = f"{ROOT}/SessionService"
        return {"@odata.id": path, "@odata.type": "#SessionService.v1_1_3.SessionService", "Id": "SessionService",
                "Name": "Sessions", "ServiceEnabled": True, "SessionTimeout": 1800,
                "Sessions": {"@odata.id": f"{path}/Sessions"}}  # fmt: skip

    def _account_service(self) -> Data:
        return {"@odata.id": ACCOUNTS, "@odata.type": "#AccountService.v1_5_0.AccountService", "Id": "AccountService",
                "Name": "Accounts", "ServiceEnabled": True, "Roles": {"@odata.id": f"{ACCOUNTS}/Roles"},
                "Accounts": {"@odata.id": f"{ACCOUNTS}/Accounts"}}  # fmt: skip

    def _account(self) -> Data:
        role = {"@odata.id": f"{ACCOUNTS}/Roles/Operator"}
        return {"@odata.id": f"{ACCOUNTS}/Accounts/1", "@odata.type": "#ManagerAccount.v1_4_0.ManagerAccount",
                "Id": "1", "Name": "Account", "UserName": self.of.user, "Password": None, "RoleId": "Operator",
                "Enabled": True, "AccountTypes": ["Redfish"], "Links": {"Role": role}}  # fmt: skip

    def _system(self) -> Data:
        state = self.of
        reset = {"target": f"{SYSTEM}/Actions/ComputerSystem.Reset",
                 "ResetType@Redfish.AllowableValues": ["On", "ForceOff", "ForceRestart", "PowerCycle"]}  # fmt: skip
        return {"@odata.id": SYSTEM, "@odata.type": "#ComputerSystem.v1_13_0.ComputerSystem", "Id": "1",
                "Name": "System", "SystemType": "Physical", "PowerState": state.power, "Bios": {"@odata.id": BIOS},
                "BootProgress": {"LastState": state.progress},
                "Status": {"State": "Enabled", "Health": "OK" if state.progress == "OSRunning" else "Critical"},
                "Actions": {"#ComputerSystem.Reset": reset}}  # fmt: skip

    def _bios(self) -> Data:
        reset = {"target": f"{BIOS}/Actions/Bios.ResetBios"}
        settings = {"@odata.type": "#Settings.v1_3_0.Settings", "SettingsObject": {"@odata.id": f"{BIOS}/Settings"}}
        # What it was started with last stands in its settings, whether it came up or not.
        values = {**{offer.name: offer.current for offer in self.of.machine.offers()}, **self.of.entered}
        return {"@odata.id": BIOS, "@odata.type": "#Bios.v1_1_0.Bios", "Id": "Bios", "Name": "Settings in force",
                "AttributeRegistry": REGISTRY, "Attributes": values, "@Redfish.Settings": settings,
                "Actions": {"#Bios.ResetBios": reset}}  # fmt: skip

    def _settings(self) -> Data:
        return {"@odata.id": f"{BIOS}/Settings", "@odata.type": "#Bios.v1_1_0.Bios", "Id": "Settings",
                "Name": "Settings to come", "AttributeRegistry": REGISTRY,
                "Attributes": dict(self.of.pending)}  # fmt: skip

    def _registry_file(self) -> Data:
        place = {"Language": "en", "Uri": f"{ROOT}/registrystore/{REGISTRY}.json"}
        return {"@odata.id": f"{ROOT}/Registries/{REGISTRY}",
                "@odata.type": "#MessageRegistryFile.v1_1_0.MessageRegistryFile", "Id": REGISTRY, "Name": "Settings",
                "Languages": ["en"], "Registry": REGISTRY, "Location": [place]}  # fmt: skip

    def _registry(self) -> Data:
        entries = [_entry(offer) for offer in self.of.machine.offers()]
        return {"@odata.type": "#AttributeRegistry.v1_3_5.AttributeRegistry", "Id": REGISTRY, "Name": "Settings",
                "Language": "en", "RegistryVersion": "1.0.0", "OwningEntity": "Stand-in",
                "RegistryEntries": {"Attributes": entries}}  # fmt: skip

    # -- what is changed ----------------------------------------

    def _change(self, method: str, path: str, body: bytes) -> tuple[int, Data | None, dict[str, str]]:
        state = self.of
        if method == "PATCH" and path == f"{BIOS}/Settings":
            return self._set(self._object(body))
        if method == "POST" and path == f"{SYSTEM}/Actions/ComputerSystem.Reset":
            return self._reset(str(self._object(body).get("ResetType", "")))
        if method == "POST" and path == f"{BIOS}/Actions/Bios.ResetBios":
            state.pending = dict(state.machine.defaults())
            return 204, None, {}
        if method == "DELETE" and path.startswith(f"{ROOT}/SessionService/Sessions/"):
            number = path.rsplit("/", 1)[-1]
            if number not in state.sessions.values():
                raise Refusal(404, "There is no such session.", "ResourceMissingAtURI")
            state.sessions = {token: one for token, one in state.sessions.items() if one != number}
            return 204, None, {}
        if self._resource(path) is None:
            raise Refusal(404, f"There is no {path} here.", "ResourceMissingAtURI")
        raise Refusal(405, f"{path} takes no {method}.", "OperationNotAllowed")

    def _set(self, data: Data) -> tuple[int, Data | None, dict[str, str]]:
        wanted = self.headers.get("If-Match")
        if wanted not in (None, "*") and wanted != _tag(self._settings()):
            raise Refusal(412, "Somebody changed it meanwhile.", "PreconditionFailed")
        values = data.get("Attributes")
        if not isinstance(values, dict) or not values:
            raise Refusal(400, "Name attributes to be set.", "PropertyMissing")
        offers = {offer.name: offer for offer in self.of.machine.offers()}
        for name, value in values.items():
            if name not in offers:
                raise Refusal(400, f"There is no attribute {name}.", "PropertyUnknown")
            if not offers[name].takes(value):
                raise Refusal(400, f"{name} takes no {value}.", "PropertyValueNotInList")
        self.of.pending |= values
        return 200, self._settings(), {"ETag": _tag(self._settings())}

    def _reset(self, kind: str) -> tuple[int, Data | None, dict[str, str]]:
        state = self.of
        if kind == "ForceOff":
            state.power, state.progress = "Off", "None"
        elif kind in ("On", "ForceRestart", "PowerCycle"):
            self._start()
        else:
            raise Refusal(400, f"{kind or 'nothing'} is no way to reset it.", "ActionParameterNotSupported")
        return 204, None, {}

    def _start(self) -> None:
        state = self.of
        in_force = {offer.name: offer.current for offer in state.machine.offers() if offer.current is not None}
        state.entered = {**in_force, **state.entered, **state.pending}
        state.pending, state.power = {}, "On"
        if state.machine.start(state.entered):
            state.failed, state.progress, state.entered = 0, "OSRunning", {}
            return
        state.failed += 1
        if state.failed >= FALLS_BACK_AFTER:
            state.failed, state.entered = 0, {}
            came_up = state.machine.start(state.machine.defaults())
            state.progress = "OSRunning" if came_up else "MemoryInitializationStarted"
            return
        state.progress = "MemoryInitializationStarted"


def _allowed(path: str) -> tuple[str, ...]:
    """What a resource takes beside being read."""
    more = {f"{BIOS}/Settings": ("PATCH",), SESSIONS: ("POST",)}.get(path, ())
    return ("GET", "HEAD", *more, *(("DELETE",) if path.startswith(f"{SESSIONS}/") else ()))


def _role(name: str) -> Data:
    return {"@odata.id": f"{ACCOUNTS}/Roles/{name}", "@odata.type": "#Role.v1_2_4.Role", "Id": name, "Name": name,
            "IsPredefined": True, "RoleId": name, "AssignedPrivileges": list(ROLES[name])}  # fmt: skip


def _tag(data: Data) -> str:
    return f'"{sha256(json.dumps(data, sort_keys=True).encode()).hexdigest()[:16]}"'


def _entry(offer: Offer) -> Data:
    entry: Data = {"AttributeName": offer.name, "DisplayName": offer.label, "Type": TYPES[offer.kind],
                   "ReadOnly": offer.read_only, "ResetRequired": not offer.at_once,
                   "CurrentValue": offer.current}  # fmt: skip
    if offer.kind is Kind.NUMBER:
        entry |= {"LowerBound": offer.low, "UpperBound": offer.high, "ScalarIncrement": offer.step}
    if offer.kind is Kind.CHOICE:
        entry["Value"] = [{"ValueName": one, "ValueDisplayName": one} for one in offer.choices]
    return entry
