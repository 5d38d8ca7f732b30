"""What happens in a lesson reaches the screens that watch it, from any thread, without their asking."""

from __future__ import annotations

import asyncio
import threading
from uuid import uuid4

import pytest

from finearc.devices.hub import LiveHub


def test_messages_come_in_order_from_another_thread_and_the_end_is_told():
    hub, lesson = LiveHub(), uuid4()
    hub.publish(lesson, {"type": "ready"})

    async def watch():
        with hub.watching(lesson) as mine:
            first = await mine.next(2.0)
            sender = threading.Thread(target=lambda: [hub.publish(lesson, {"n": k}) for k in range(100)])
            sender.start()
            seen = [await mine.next(2.0) for _ in range(100)]
            sender.join()
            hub.end()
            return first, [m["n"] for m in seen], await mine.next(2.0)

    assert asyncio.run(watch()) == ({"type": "ready"}, list(range(100)), None)


def test_other_lessons_are_not_told_and_silence_ends_in_a_timeout():
    hub, lesson = LiveHub(), uuid4()

    async def watch():
        with hub.watching(lesson) as mine:
            hub.publish(uuid4(), {"type": "ready"})
            with pytest.raises(TimeoutError):
                await mine.next(0.05)

    asyncio.run(watch())


def test_a_watcher_whose_loop_is_gone_harms_nobody():
    hub, lesson = LiveHub(), uuid4()

    async def leave_open():
        held = hub.watching(lesson)
        held.__enter__()
        return held

    held = asyncio.run(leave_open())
    hub.publish(lesson, {"type": "ready"})
    held.__exit__(None, None, None)
