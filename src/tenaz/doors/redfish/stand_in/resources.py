"""What the stand-in tells: the resources of one system, as DMTF DSP0266 (protocol) and DSP0268 (schemas) have them."""

import json
from functools import partial
from hashlib import sha256
from typing import TYPE_CHECKING, Any

from tenaz.core.rigs.offers import Kind, Offer
from tenaz.doors.redfish.stand_in.state import State

if TYPE_CHECKING:
    from collections.abc import Callable

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
TYPES = {Kind.NUMBER: "Integer", Kind.CHOICE: "Enumeration", Kind.TEXT: "String"}

Data = dict[str, Any]


class Resources:
    """Of one machine."""

    def __init__(self, state: State) -> None:
        self._state = state

    def open_to_all(self, path: str) -> Data:
        """What is told to whoever asks."""
        if path == "/redfish":
            return {"v1": f"{ROOT}/"}
        if path == f"{ROOT}/odata":
            linked = ("Systems", "Registries", "SessionService", "AccountService")
            value = [{"name": "Service", "kind": "Singleton", "url": f"{ROOT}/"}]
            value += [{"name": one, "kind": "Singleton", "url": f"{ROOT}/{one}"} for one in linked]
            return {"@odata.context": METADATA, "value": value}
        return {} if path == METADATA else self._root()

    def session(self, number: str) -> Data:
        """One session; never its token."""
        path = f"{SESSIONS}/{number}"
        return {"@odata.id": path, "@odata.type": "#Session.v1_1_0.Session", "Id": number, "Name": f"Session {number}",
                "UserName": self._state.user, "Password": None}  # fmt: skip

    def _root(self) -> Data:
        links = {"Sessions": {"@odata.id": SESSIONS}}
        return {"@odata.id": f"{ROOT}/", "@odata.type": "#ServiceRoot.v1_9_0.ServiceRoot", "Id": "RootService",
                "Name": "Stand-in", "RedfishVersion": "1.11.0", "UUID": "5d0f5a53-0c1e-4c41-9a34-0a2c1d1c0d10",
                "Systems": {"@odata.id": f"{ROOT}/Systems"}, "Registries": {"@odata.id": f"{ROOT}/Registries"},
                "AccountService": {"@odata.id": ACCOUNTS},
                "SessionService": {"@odata.id": f"{ROOT}/SessionService"}, "Links": links}  # fmt: skip

    def _collection(self, path: str, kind: str, name: str, members: list[str]) -> Data:
        return {"@odata.id": path, "@odata.type": f"#{kind}.{kind}", "Name": name,
                "Members": [{"@odata.id": one} for one in members], "Members@odata.count": len(members)}  # fmt: skip

    def at(self, path: str) -> Data | None:
        """What is there; None: nothing."""
        state = self._state
        sessions = [f"{SESSIONS}/{one}" for one in state.sessions.values()]
        made: dict[str, Callable[[], Data]] = {
            f"{ROOT}/Systems": lambda: self._collection(
                f"{ROOT}/Systems", "ComputerSystemCollection", "Systems", [SYSTEM]
            ),
            SYSTEM: self._system,
            BIOS: self._bios,
            f"{BIOS}/Settings": self.settings,
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
            SESSIONS: lambda: self._collection(SESSIONS, "SessionCollection", "Sessions", sessions),
        }
        if path in sessions:
            return self.session(path.rsplit("/", 1)[-1])
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
                "Id": "1", "Name": "Account", "UserName": self._state.user, "Password": None, "RoleId": "Operator",
                "Enabled": True, "AccountTypes": ["Redfish"], "Links": {"Role": role}}  # fmt: skip

    def _system(self) -> Data:
        state = self._state
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
        values = {**{offer.name: offer.current for offer in self._state.machine.offers()}, **self._state.entered}
        return {"@odata.id": BIOS, "@odata.type": "#Bios.v1_1_0.Bios", "Id": "Bios", "Name": "Settings in force",
                "AttributeRegistry": REGISTRY, "Attributes": values, "@Redfish.Settings": settings,
                "Actions": {"#Bios.ResetBios": reset}}  # fmt: skip

    def settings(self) -> Data:
        """What the next start will make."""
        return {"@odata.id": f"{BIOS}/Settings", "@odata.type": "#Bios.v1_1_0.Bios", "Id": "Settings",
                "Name": "Settings to come", "AttributeRegistry": REGISTRY,
                "Attributes": dict(self._state.pending)}  # fmt: skip

    def _registry_file(self) -> Data:
        place = {"Language": "en", "Uri": f"{ROOT}/registrystore/{REGISTRY}.json"}
        return {"@odata.id": f"{ROOT}/Registries/{REGISTRY}",
                "@odata.type": "#MessageRegistryFile.v1_1_0.MessageRegistryFile", "Id": REGISTRY, "Name": "Settings",
                "Languages": ["en"], "Registry": REGISTRY, "Location": [place]}  # fmt: skip

    def _registry(self) -> Data:
        entries = [_entry(offer) for offer in self._state.machine.offers()]
        return {"@odata.type": "#AttributeRegistry.v1_3_5.AttributeRegistry", "Id": REGISTRY, "Name": "Settings",
                "Language": "en", "RegistryVersion": "1.0.0", "OwningEntity": "Stand-in",
                "RegistryEntries": {"Attributes": entries}}  # fmt: skip


def allowed(path: str) -> tuple[str, ...]:
    """What a resource takes beside being read."""
    more = {f"{BIOS}/Settings": ("PATCH",), SESSIONS: ("POST",)}.get(path, ())
    return ("GET", "HEAD", *more, *(("DELETE",) if path.startswith(f"{SESSIONS}/") else ()))


def _role(name: str) -> Data:
    return {"@odata.id": f"{ACCOUNTS}/Roles/{name}", "@odata.type": "#Role.v1_2_4.Role", "Id": name, "Name": name,
            "IsPredefined": True, "RoleId": name, "AssignedPrivileges": list(ROLES[name])}  # fmt: skip


def tag(data: Data) -> str:
    """By which it is noticed that somebody changed it."""
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
