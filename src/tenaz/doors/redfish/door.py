"""The Bios resource of one system as a door: what it offers by its registry, what is pending, what a start makes."""

import time
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.core.ports.door import Unanswered
from tenaz.core.rigs.offers import Kind, Offer, Raw, Up
from tenaz.doors.redfish.service import ROOT, Answer, Data, Service

CONFLICT, ACCEPTED = 412, 202
TASK_WITHIN_S, TASK_EVERY_S = 120.0, 1.0
RESETS = ("ForceRestart", "PowerCycle", "GracefulRestart", "On")
"""How a machine is started anew, the surest first: one that froze hears no request."""
UP = {
    "OSRunning": Up.RUNNING,
    "OSBootStarted": Up.STARTING,
    "None": Up.UNKNOWN,
}
WRITES = 3


class RedfishDoor:
    """One system behind a service: the first that it has, or the one named."""

    restarts = True

    def __init__(self, service: Service, system: str = "") -> None:
        self._service = service
        self._named = system
        self._system = ""
        self._bios = self._settings = ""
        self._told: dict[str, dict[str, Data]] = {}

    @property
    def text(self) -> str:
        """As it is typed."""
        return f"redfish {self._service.address}{f' system={self._named}' if self._named else ''}"

    # -- what there is ----------------------------------------

    def _found(self) -> str:
        """The path of the system.

        Raises:
            Refused: there is none, or several and none was named.
        """
        if not self._system:
            root = self._service.get(ROOT).data
            systems = root.get("Systems", {}).get("@odata.id", f"{ROOT}Systems")
            members = [one.get("@odata.id", "") for one in self._service.get(systems).data.get("Members", [])]
            chosen = [path for path in members if not self._named or path.rstrip("/").rsplit("/", 1)[-1] == self._named]
            if len(chosen) != 1:
                names = ", ".join(path.rstrip("/").rsplit("/", 1)[-1] for path in members) or "none"
                raise Refused(
                    f"{self._service.address} has these systems: {names}. Name the one that is meant: system=."
                )
            self._system = chosen[0]
        return self._system

    def _bios_path(self) -> str:
        if not self._bios:
            link = self._service.get(self._found()).data.get("Bios", {}).get("@odata.id")
            if not link:
                raise Refused(
                    f"{self._service.address}: this system offers no settings of its firmware (no Bios resource)."
                )
            self._bios = str(link)
        return self._bios

    def offers(self) -> tuple[Offer, ...]:
        """What its registry tells of each attribute, with what stands now; those without registry by their values."""
        bios = self._service.get(self._bios_path()).data
        current = bios.get("Attributes", {})
        registry = str(bios.get("AttributeRegistry", ""))
        if registry not in self._told:
            # What a version of a registry says does not change.
            self._told[registry] = {str(one.get("AttributeName")): one for one in self._registry(registry)}
        told = self._told[registry]
        return tuple(_offer(name, told.get(name, {}), current.get(name)) for name in {**told, **current})

    def _registry(self, name: str) -> list[Data]:
        if not name:
            return []
        listed = self._service.get(f"{ROOT}Registries").data.get("Members", [])
        for one in listed:
            path = str(one.get("@odata.id", ""))
            file = self._service.get(path).data
            if name in (str(file.get("Registry", "")), str(file.get("Id", "")), path.rsplit("/", 1)[-1]):
                places = [str(place.get("Uri", "")) for place in file.get("Location", []) if place.get("Uri")]
                if places:
                    entries = self._service.get(places[0]).data.get("RegistryEntries", {})
                    return [one for one in entries.get("Attributes", []) if isinstance(one, dict)]
        return []

    # -- values ----------------------------------------

    def read(self) -> Mapping[str, Raw]:
        """What is in force."""
        return _plain(self._service.get(self._bios_path()).data.get("Attributes", {}))

    def _settings_path(self) -> str:
        if not self._settings:
            bios = self._service.get(self._bios_path()).data
            link = bios.get("@Redfish.Settings", {}).get("SettingsObject", {}).get("@odata.id")
            self._settings = str(link or f"{self._bios_path()}/Settings")
        return self._settings

    def pending(self) -> Mapping[str, Raw]:
        """What the next start will make."""
        return _plain(self._service.get(self._settings_path()).data.get("Attributes", {}))

    def write(self, values: Mapping[str, Raw]) -> None:
        """Set these with the next start. Whoever wrote in between is noticed by the resource's tag, and asked again.

        Raises:
            Refused: the service does not take them, or nobody knows whether it did.
        """
        path = self._settings_path()
        for turn in range(WRITES):
            before = self._service.get(path)
            tag = before.headers.get("etag", "")
            try:
                answer = self._service.act(
                    "PATCH", path, {"Attributes": dict(values)}, {"If-Match": tag} if tag else None
                )
            except Unanswered:
                # It may have been taken all the same: what is pending tells.
                if self._is_pending(values):
                    return
                if turn == WRITES - 1:
                    raise
                continue
            if answer.status == CONFLICT and turn < WRITES - 1:
                continue
            if answer.status == ACCEPTED:
                self._wait_for(answer)
            elif not answer.ok:
                raise Refused(f"{self._service.address} does not take {_shown(values)}: {answer.why()}.")
            if not self._is_pending(values):
                raise Refused(f"{self._service.address} said that it took {_shown(values)}, and they are not pending.")
            return

    def _is_pending(self, values: Mapping[str, Raw]) -> bool:
        """Whether the next start would run at these; what is in force already need not be pending."""
        waiting, now = self.pending(), self.read()
        return all(waiting.get(name, now.get(name)) == value for name, value in values.items())

    def _wait_for(self, answer: Answer) -> None:
        """A task that was begun, to its end.

        Raises:
            Refused: it failed, or came to no end.
        """
        path = answer.headers.get("location") or str(answer.data.get("@odata.id", ""))
        deadline = time.monotonic() + TASK_WITHIN_S
        while path and time.monotonic() < deadline:
            task = self._service.get(path).data
            state = str(task.get("TaskState", ""))
            if state in ("Completed", ""):
                return
            if state in ("Exception", "Killed", "Cancelled"):
                words = "; ".join(
                    str(one.get("Message", "")) for one in task.get("Messages", []) if isinstance(one, dict)
                )
                raise Refused(f"{self._service.address} did not take it: {words[:300] or state}.")
            time.sleep(TASK_EVERY_S)
        if path:
            raise Refused(f"{self._service.address}: what was to be set came to no end within {TASK_WITHIN_S:.0f} s.")

    # -- starts ----------------------------------------

    def restart(self) -> None:
        """Start it anew, by the surest way that it allows.

        Raises:
            Refused: it allows none, or does not do it.
        """
        system = self._service.get(self._found()).data
        action = system.get("Actions", {}).get("#ComputerSystem.Reset", {})
        target = str(action.get("target") or f"{self._found()}/Actions/ComputerSystem.Reset")
        allowed = action.get("ResetType@Redfish.AllowableValues") or RESETS
        off = str(system.get("PowerState", "On")) == "Off"
        wanted = ("On", "ForceOn") if off else RESETS
        chosen = next((one for one in wanted if one in allowed), None)
        if chosen is None:
            raise Refused(
                f"{self._service.address} can start this machine by none of {', '.join(map(str, allowed))[:200]}."
            )
        answer = self._service.act("POST", target, {"ResetType": chosen})
        if answer.status == ACCEPTED:
            self._wait_for(answer)
        elif not answer.ok:
            raise Refused(f"{self._service.address} does not start it anew: {answer.why()}.")

    def up(self) -> Up:
        """By its power and how far its start has come."""
        system: Data = self._service.get(self._found()).data
        if str(system.get("PowerState", "")) == "Off":
            return Up.OFF
        progress = str((system.get("BootProgress") or {}).get("LastState", "None"))
        if (system.get("Status") or {}).get("Health") == "Critical" and progress != "OSRunning":
            return Up.FAILED
        return UP.get(progress, Up.STARTING)

    def close(self) -> None:
        """End the session."""
        self._service.close()


def _offer(name: str, told: Data, current: Any) -> Offer:
    kind = {"Integer": Kind.NUMBER, "Enumeration": Kind.CHOICE, "Boolean": Kind.CHOICE}.get(str(told.get("Type", "")))
    if kind is None:
        kind = Kind.NUMBER if isinstance(current, int) and not isinstance(current, bool) else Kind.TEXT
    offer = Offer(
        name,
        str(told.get("DisplayName") or name)[:80],
        kind,
        current if isinstance(current, int | str) else None,
        read_only=bool(told.get("ReadOnly") or told.get("GrayOut")),
    )
    if kind is Kind.NUMBER:
        step = told.get("ScalarIncrement")
        return replace(
            offer, low=_whole(told.get("LowerBound")), high=_whole(told.get("UpperBound")), step=_whole(step) or 1
        )
    choices = tuple(str(one.get("ValueName", "")) for one in told.get("Value") or [] if isinstance(one, dict))
    return replace(offer, choices=choices or (("true", "false") if isinstance(current, bool) else ()))


def _whole(value: Any) -> int | None:
    return value if isinstance(value, int) and not isinstance(value, bool) else None


def _plain(attributes: Any) -> dict[str, Raw]:
    found = attributes.items() if isinstance(attributes, dict) else ()
    return {str(name): value for name, value in found if isinstance(value, int | str)}


def _shown(values: Mapping[str, Raw]) -> str:
    return ", ".join(f"{name} {value}" for name, value in list(values.items())[:4])
