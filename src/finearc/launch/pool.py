"""Workers for long work: processes of their own, so that the web process goes on answering; or one thread, for tests
and for commands that have nothing else to do."""

from __future__ import annotations

import multiprocessing
import os
import signal
import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future, ProcessPoolExecutor, ThreadPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing.connection import wait
from typing import Any
from uuid import UUID

from finearc.launch.memory import settle
from finearc.services.jobs.ports import Answer, Asked, Ended, Tools
from finearc.services.jobs.run import run_job
from finearc.wording import Manner, manner, spoken

MakeTools = Callable[[], Tools]
_tools: list[Tools] = []


def _begin(make: MakeTools) -> None:
    threading.Thread(target=_end_with_parent, name="parent", daemon=True).start()
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C reaches the whole group; the parent says when to stop
    _tools[:] = [make()]
    settle()


def _end_with_parent() -> None:
    """A worker whose web process was killed is of no use to anybody."""
    parent = multiprocessing.parent_process()
    if parent is not None:
        wait([parent.sentinel])
        os._exit(1)


def _run(academy_id: UUID, job_id: UUID) -> Ended:
    return run_job(_tools[0], academy_id, job_id)


def _ask(question: Callable[[Tools, UUID, Asked], Answer], academy_id: UUID, asked: Asked) -> Answer:
    return question(_tools[0], academy_id, asked)


def _said(how: Manner, work: Callable[..., Any], *args: Any) -> Any:
    """What a worker says is for whoever asked."""
    with spoken(how):
        return work(*args)


def _ready() -> bool:
    return bool(_tools)


class Processes:
    """Worker processes, started at the first piece of work or by ``warm``; a process that dies is replaced.
    ``make`` is called in each of them and must be found by its name there."""

    def __init__(self, make: MakeTools, workers: int = 1) -> None:
        self._make, self._workers = make, workers
        self._lock = threading.Lock()
        self._executor: ProcessPoolExecutor | None = None
        self._closed = False

    def warm(self) -> None:
        """Start a worker before somebody waits for it."""
        self._submit(_ready)

    def run(self, academy_id: UUID, job_id: UUID) -> Future[Ended]:
        return self._submit(_run, academy_id, job_id)

    def ask(self, question: Callable[[Tools, UUID, Asked], Answer], academy_id: UUID, asked: Asked) -> Future[Answer]:
        return self._submit(_ask, question, academy_id, asked)

    def _submit(self, work: Callable[..., Any], *args: Any) -> Future[Any]:
        with self._lock:
            if self._closed:
                raise RuntimeError("the pool is closed")
            if self._executor is None:
                self._executor = self._new()
            try:
                return self._executor.submit(_said, manner(), work, *args)
            except BrokenProcessPool:
                self._executor = self._new()
                return self._executor.submit(_said, manner(), work, *args)

    def _new(self) -> ProcessPoolExecutor:
        # a fork would copy the web process's threads and connections
        spawn = multiprocessing.get_context("spawn")
        return ProcessPoolExecutor(self._workers, mp_context=spawn, initializer=_begin, initargs=(self._make,))

    def close(self) -> None:
        """Stop taking work; what runs ends by itself, or is begun again at the next start."""
        with self._lock:
            self._closed, executor, self._executor = True, self._executor, None
        if executor is not None:
            for process in list((executor._processes or {}).values()):
                process.terminate()
            executor.shutdown(wait=True, cancel_futures=True)


class OneThread:
    """The same in this process."""

    def __init__(self, make: MakeTools) -> None:
        self._tools = make()
        self._executor: Executor = ThreadPoolExecutor(1, thread_name_prefix="jobs")

    def warm(self) -> None:
        """Nothing to get ready."""

    def run(self, academy_id: UUID, job_id: UUID) -> Future[Ended]:
        return self._executor.submit(run_job, self._tools, academy_id, job_id)

    def ask(self, question: Callable[[Tools, UUID, Asked], Answer], academy_id: UUID, asked: Asked) -> Future[Answer]:
        return self._executor.submit(_said, manner(), question, self._tools, academy_id, asked)

    def close(self) -> None:
        self._executor.shutdown(wait=True, cancel_futures=True)
