"""A device's side of the link against a server that refuses: what is final, and after what it comes back."""

from __future__ import annotations

import asyncio
import json
from collections import deque

import pytest
from websockets.asyncio.server import serve

from finearc.devices.link.messages import SUBPROTOCOL, Close
from finearc.devices.simulated.client import LinkClient, Refused

WELCOME = {"type": "welcome", "resume": {}}


def refused(code):
    return {"type": "refused", "code": int(code), "reason": f"refused with {int(code)}"}


def connected(*answers, until_welcomes=1):
    """A client's time with a server that answers each hello with the next of ``answers``; the client."""

    async def live():
        left = deque(answers)

        async def answer(socket):
            await socket.recv()
            for message in left.popleft() if left else [WELCOME]:
                await socket.send(json.dumps(message))
            await socket.wait_closed()

        async with serve(answer, "127.0.0.1", 0, subprotocols=[SUBPROTOCOL]) as server:
            port = server.sockets[0].getsockname()[1]
            client = LinkClient(f"ws://127.0.0.1:{port}", {"device": {"id": "d"}}, lambda: 0)
            task = asyncio.create_task(client.run())
            async with asyncio.timeout(10):
                while client.welcomes < until_welcomes and not task.done():
                    await asyncio.sleep(0.01)
            if task.done():
                await task
            task.cancel()
            await asyncio.gather(task, return_exceptions=True)
            return client

    return asyncio.run(live())


def test_a_server_that_is_busy_is_asked_again():
    assert connected([refused(Close.TOO_FAST)]).welcomes == 1


def test_a_connection_whose_place_was_taken_comes_back():
    """An older connection of the same device may be heard late."""
    assert connected([WELCOME, refused(Close.TAKEN)], until_welcomes=2).welcomes == 2


@pytest.mark.parametrize("code", [Close.BAD_HELLO, Close.TOKEN, Close.TAKEN, Close.PROTOCOL])
def test_a_hello_that_is_refused_is_final(code):
    with pytest.raises(Refused, match=f"refused with {int(code)}"):
        connected([refused(code)])


def test_what_is_measured_while_the_kept_is_sent_again_goes_out_too():
    """A server that reads slowly at first: frames come faster than they leave."""
    got = []

    async def live():
        async def answer(socket):
            await socket.recv()
            await socket.send(json.dumps(WELCOME))
            async for message in socket:
                if isinstance(message, bytes):
                    got.append(int.from_bytes(message[:4], "little"))
                    await asyncio.sleep(0.002)

        async with serve(answer, "127.0.0.1", 0, subprotocols=[SUBPROTOCOL], max_size=None) as server:
            port = server.sockets[0].getsockname()[1]
            client = LinkClient(f"ws://127.0.0.1:{port}", {"device": {"id": "d"}}, lambda: 0)

            def frame(k):
                return client.send(0, k, k + 1, k.to_bytes(4, "little") + bytes(200_000))

            for k in range(60):
                await frame(k)  # while there is no connection
            task = asyncio.create_task(client.run())
            async with asyncio.timeout(20):
                for k in range(60, 200):
                    await asyncio.sleep(0.002)
                    await frame(k)
                while len(got) < 200:
                    await asyncio.sleep(0.01)
            task.cancel()
            await asyncio.gather(task, return_exceptions=True)

    asyncio.run(live())
    assert got == list(range(200))
