"""Several web processes, one set of devices: the first process has them; the others tell it what to do and hear what
happens. Messages go over ZeroMQ on sockets in the data folder."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable, Collection, Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any, Protocol
from uuid import UUID

import structlog
import zmq

from finearc.core.errors import FineArcError
from finearc.devices.hub import LiveHub
from finearc.services.records import Recording
from finearc.wording import tr

log = structlog.get_logger()
PATIENCE_MS = 5000
LESSON, SESSIONS = "lesson", "sessions"


class DevicesAway(FineArcError):
    """The process that has the devices does not answer."""

    code = "busy"
    wait_s = 2

    def __str__(self) -> str:
        return tr("The devices are being started again. Wait a moment and try again; nothing was lost.")


RELAY = "link.sock"
"""Name of the socket on which the process that has the devices also listens."""


class BayControl(Protocol):
    """What the routes ask of the bays."""

    def told(self, bay_id: UUID) -> dict[str, Any] | None: ...

    def revoke(self, token_id: UUID) -> None: ...


class DeviceControl(Protocol):
    """What the routes ask of the devices."""

    def begin(self, academy_id: UUID, recording: Recording, sources: Sequence[str]) -> object: ...

    def resume(self, academy_id: UUID, recording_id: UUID) -> bool: ...

    def request_swings(self, lesson_id: UUID, count: int) -> bool: ...

    def train(self, academy_id: UUID, lesson_id: UUID) -> bool: ...

    def end(self, lesson_id: UUID) -> None: ...

    def end_all(self) -> None: ...


def _addresses(folder: Path) -> tuple[str, str]:
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    return f"ipc://{folder / 'live.sock'}", f"ipc://{folder / 'devices.sock'}"


class Captain:
    """In the process that has the devices: passes on what its hub is told, and does what the others ask."""

    def __init__(self, folder: Path, hub: LiveHub, devices: DeviceControl, bays: BayControl) -> None:
        self._hub, self._devices, self._bays = hub, devices, bays
        self._context = zmq.Context()
        self._lock = threading.Lock()
        self._told, self._asked = self._context.socket(zmq.PUB), self._context.socket(zmq.REP)
        for socket, address in zip((self._told, self._asked), _addresses(folder), strict=True):
            socket.linger = 0
            with suppress(OSError):  # of a process that was killed
                Path(address.removeprefix("ipc://")).unlink()
            socket.bind(address)
        hub.relay = self._tell
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._answer, name="devices", daemon=True)
        self._thread.start()

    def _tell(self, kind: str, about: Any, message: Any) -> None:
        with self._lock, suppress(zmq.ZMQError):
            self._told.send_json([kind, about, message])

    def _answer(self) -> None:
        while not self._stop.is_set():
            if not self._asked.poll(200):
                continue
            asked: Any = self._asked.recv_json()
            try:
                answer: Any = {"answer": self._do(asked)}
            except FineArcError as error:
                answer = {"refused": str(error), "code": error.code}
            except Exception as error:
                log.error("the devices could not do what was asked", kind=type(error).__name__)
                answer = {"refused": tr("something went wrong with the devices"), "code": "refused"}
            self._asked.send_json(answer)

    def _do(self, asked: Mapping[str, Any]) -> Any:
        ways: dict[str, Callable[[], Any]] = {
            "begin": lambda: self._devices.resume(UUID(asked["academy"]), UUID(asked["recording"])),
            "swings": lambda: self._devices.request_swings(UUID(asked["lesson"]), int(asked["count"])),
            "train": lambda: self._devices.train(UUID(asked["academy"]), UUID(asked["lesson"])),
            "end": lambda: self._devices.end(UUID(asked["lesson"])),
            "bay": lambda: self._bays.told(UUID(asked["bay"])),
            "revoke": lambda: self._bays.revoke(UUID(asked["token"])),
            "sessions": lambda: self._hub.end_sessions(asked["hashes"]),
            "states": lambda: [[str(k), m] for k, m in self._hub.states()],
        }
        return ways[asked["do"]]()

    def close(self) -> None:
        self._stop.set()
        self._thread.join(2)
        self._hub.relay = None
        self._context.destroy(linger=0)


class Crew:
    """In every other process: implements ``DeviceControl`` and ``BayControl`` by asking, and tells its own hub what it
    hears."""

    def __init__(self, folder: Path, hub: LiveHub) -> None:
        self._hub = hub
        self._context = zmq.Context()
        live, self._address = _addresses(folder)
        self._heard = self._context.socket(zmq.SUB)
        self._heard.linger = 0
        self._heard.setsockopt(zmq.SUBSCRIBE, b"")
        self._heard.connect(live)
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._listen, name="live", daemon=True)
        self._thread.start()
        with suppress(DevicesAway):
            for lesson_id, message in self._ask(do="states"):
                hub.publish(UUID(lesson_id), message)

    def _listen(self) -> None:
        while not self._stop.is_set():
            with suppress(zmq.ZMQError, ValueError):
                if self._heard.poll(200):
                    kind, about, message = json.loads(self._heard.recv())
                    if kind == LESSON:
                        self._hub.publish(UUID(about), message)
                    else:
                        self._hub.end_sessions(message)

    def _ask(self, **asked: Any) -> Any:
        with self._context.socket(zmq.REQ) as socket:
            socket.linger = 0
            socket.setsockopt(zmq.RCVTIMEO, PATIENCE_MS)
            socket.connect(self._address)
            try:
                socket.send_json(asked)
                answer: Any = socket.recv_json()
            except zmq.Again:
                raise DevicesAway from None
        if "refused" in answer:
            raise RemoteRefusal(answer["code"], answer["refused"])
        return answer["answer"]

    def begin(self, academy_id: UUID, recording: Recording, sources: Sequence[str]) -> object:
        """The recording is kept with its sources: the captain reads them there."""
        return self._ask(do="begin", academy=str(academy_id), recording=str(recording.id))

    def resume(self, academy_id: UUID, recording_id: UUID) -> bool:
        return bool(self._ask(do="begin", academy=str(academy_id), recording=str(recording_id)))

    def request_swings(self, lesson_id: UUID, count: int) -> bool:
        return bool(self._ask(do="swings", lesson=str(lesson_id), count=count))

    def train(self, academy_id: UUID, lesson_id: UUID) -> bool:
        return bool(self._ask(do="train", academy=str(academy_id), lesson=str(lesson_id)))

    def end(self, lesson_id: UUID) -> None:
        self._ask(do="end", lesson=str(lesson_id))

    def end_all(self) -> None:
        """They are not this process's to end."""

    def told(self, bay_id: UUID) -> dict[str, Any] | None:
        answer: dict[str, Any] | None = self._ask(do="bay", bay=str(bay_id))
        return answer

    def revoke(self, token_id: UUID) -> None:
        self._ask(do="revoke", token=str(token_id))

    def end_sessions(self, hashes: Collection[str]) -> None:
        """Here at once, and in every other process."""
        self._hub.end_sessions(hashes)
        with suppress(DevicesAway):
            self._ask(do="sessions", hashes=list(hashes))

    def close(self) -> None:
        self._stop.set()
        self._thread.join(2)
        self._context.destroy(linger=0)


class RemoteRefusal(FineArcError):
    """What the captain's process refused, in its words."""

    def __init__(self, code: str, message: str) -> None:
        super().__init__(code, message)
        self.code, self._message = code, message

    def __str__(self) -> str:
        return self._message
