"""The device link over the network: tokens, refusals with their close codes, resume, and who never reads."""

import asyncio
import contextlib
import json
import re
import socket
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from websockets.asyncio.client import connect
from websockets.exceptions import ConnectionClosed

from finearc.devices.simulated.client import LinkClient
from tests.devices.conftest import frame

IMU = {"stream": 0, "kind": "imu", "segment": "lead_hand", "rate_hz": 200}


def hello(token, *, streams=(IMU,), device="d1", boot=1, **more):
    told = {"id": device, "name": "Rig", "boot": boot}
    return {"type": "hello", "protocol": 1, "token": token, "device": told, "streams": list(streams)} | more


async def say(url, *messages, subprotocols=("finearc.link.v1",)):
    """Send messages, then hear until the socket closes or nothing comes for a while: what was heard, and the code."""
    told = []
    async with connect(url, subprotocols=subprotocols, compression=None, max_size=None, proxy=None) as device:

        async def listen():
            async for text in device:
                told.append(json.loads(text))

        listening = asyncio.create_task(listen())
        with contextlib.suppress(ConnectionClosed):
            for k, message in enumerate(messages):
                await device.send(message if isinstance(message, bytes) else json.dumps(message))
                while k == 0 and not told and not listening.done():
                    await asyncio.sleep(0.01)
        before = -1
        while not listening.done() and len(told) > before:
            before = len(told)
            await asyncio.wait([listening], timeout=1.0)
        listening.cancel()
    return told, device.close_code if listening.done() and not listening.cancelled() else None


def heard(url, *messages, **options):
    return asyncio.run(say(url, *messages, **options))


def test_a_device_with_its_bays_token_is_welcome_and_acknowledged(server, token, browser):
    told, code = heard(server, hello(token[0]), frame(0), frame(4))
    assert (told[0]["type"], told[0]["bay"], code) == ("welcome", token[2], None)
    assert {m["type"] for m in told} >= {"state", "ack"}
    assert max(m["sequence"] for m in told if m["type"] == "ack") == 7
    bay = next(b for b in browser.get("/bays").json()["bays"] if b["name"] == token[2])
    (device,) = bay["devices"]
    assert (device["name"], device["connected"], device["streams"][0]["measures"]) == ("Rig", False, "lead hand")
    assert bay["tokens"][0]["used_at"] is not None


@pytest.mark.parametrize(
    ("messages", "options", "code", "words"),
    [
        (
            [{"type": "hello", "protocol": 1, "token": "nobody's", "device": {"id": "d", "boot": 1}, "streams": [IMU]}],
            {},
            4401,
            "no bay",
        ),
        ([hello("T")], {"subprotocols": None}, 4426, "finearc.link.v1"),
        ([hello("T", protocol=2)], {}, 4426, "protocol 2"),
        ([{"type": "clock", "t0_us": 1}], {}, 4400, "first message is hello"),
        ([frame(0)], {}, 4400, "first message is hello"),
        ([hello("T", streams=[])], {}, 4400, "streams"),
        ([hello("T"), frame(0)[:-2]], {}, 4400, "this has"),
        ([hello("T"), frame(0, stream=9)], {}, 4400, "not declared"),
        ([hello("T"), bytes(1_000_001)], {}, 4413, "at most"),
        ([hello("T"), hello("T")], {}, 4400, "already"),
        ([hello("T"), {"type": "nonsense"}], {}, 4400, "type"),
    ],
)
def test_who_breaks_the_contract_is_told_why_and_closed_with_its_code(server, token, messages, options, code, words):
    mine = [m | {"token": token[0]} if isinstance(m, dict) and m.get("token") == "T" else m for m in messages]
    told, closed = heard(server, *mine, **options)
    refused = told[-1]
    assert (refused["type"], refused["code"], closed) == ("refused", code, code)
    assert words in refused["reason"]


def test_a_token_is_shown_once_and_stored_as_a_hash(server, token, browser, services):
    listed = json.dumps(browser.get("/bays").json())
    assert token[0] not in listed
    with services.store.front_door() as door:
        assert door.bay_of_token(token[0]) is None


def test_a_revoked_token_lets_go_at_once_and_never_again(server, token, browser):
    async def walk():
        async with connect(server, subprotocols=["finearc.link.v1"], proxy=None) as device:
            await device.send(json.dumps(hello(token[0])))
            assert json.loads(await device.recv())["type"] == "welcome"
            answer = await asyncio.to_thread(browser.send, "DELETE", f"/bays/tokens/{token[1]}")
            assert answer.status_code == 200
            with pytest.raises(ConnectionClosed) as closed:
                while True:
                    await asyncio.wait_for(device.recv(), 5)
            return closed.value.rcvd.code

    assert asyncio.run(walk()) == 4401
    assert heard(server, hello(token[0]))[1] == 4401


def test_another_academy_cannot_revoke(server, token, stranger):
    assert stranger.send("DELETE", f"/bays/tokens/{token[1]}").status_code == 404
    assert heard(server, hello(token[0]))[0][0]["type"] == "welcome"


def test_a_device_that_vanishes_in_mid_swing_sends_again_what_was_not_acknowledged(server, token, services):
    """Pulled out without a word, plugged in again: every sample is there once, in order."""

    async def walk():
        begun = time.monotonic_ns()
        client = LinkClient(
            server,
            {"token": token[0], "device": {"id": "v", "name": "Wrist", "boot": 5}, "streams": [IMU]},
            lambda: (time.monotonic_ns() - begun) // 1000,
        )
        running = asyncio.create_task(client.run())
        for k in range(100):
            await client.send(0, 4 * k, 4 * k + 4, frame(4 * k))
            if k == 40:
                await client.unplug()
            if k == 60:
                client.plug_in()
            await asyncio.sleep(0.01)
        for _ in range(300):
            if client.acked.get(0) == 399 and not client.unacknowledged:
                break
            await asyncio.sleep(0.02)
        running.cancel()
        await asyncio.gather(running, return_exceptions=True)
        return client

    client = asyncio.run(walk())
    assert client.welcomes == 2
    assert client.acked[0] == 399
    bay = next(b for b in services.link._open.values() if b.name == token[2])
    stored = np.concatenate([p.samples.values[:, 0] for _, p in bay.recovered()])
    assert stored.tolist() == list(range(400))


def test_a_client_that_never_reads_is_closed_and_others_go_on(server, token, monkeypatch, browser):
    """What it is told waits in a queue with an end; the bay is not held up."""
    import finearc.api.routes.link as link

    monkeypatch.setattr(link, "SLOW_S", 0.5)
    monkeypatch.setattr(link, "MOST_WAITING", 20)

    async def walk():
        narrow = socket.create_connection(("127.0.0.1", int(server.split(":")[2].split("/")[0])))
        narrow.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        answer, deaf = await asyncio.open_connection(sock=narrow, limit=1024)
        key = "x3JJHMbDL1EzLkh9GBhXDw=="
        deaf.write(
            (
                "GET /api/link HTTP/1.1\r\nHost: 127.0.0.1\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n"
                f"Sec-WebSocket-Key: {key}\r\nSec-WebSocket-Version: 13\r\n"
                "Sec-WebSocket-Protocol: finearc.link.v1\r\n\r\n"
            ).encode()
        )
        await answer.readuntil(b"\r\n\r\n")  # the last that it reads
        masked = lambda text: bytes([0x81, 0xFE]) + len(text).to_bytes(2, "big") + bytes(4) + text  # noqa: E731
        deaf.write(masked(json.dumps(hello(token[0], device="deaf") | {"pad": "x" * 200}).encode()))
        clock = masked(json.dumps({"type": "clock", "t0_us": 1, "pad": "x" * 200}).encode())
        async with connect(server, subprotocols=["finearc.link.v1"], proxy=None) as good:
            await good.send(json.dumps(hello(token[0], streams=[{**IMU, "segment": "pelvis"}], device="good")))
            await good.recv()
            sequence, acked = 0, -1
            for _ in range(60):
                with contextlib.suppress(TimeoutError, OSError):
                    deaf.write(clock * 200)
                    await asyncio.wait_for(deaf.drain(), 0.05)
                await good.send(frame(sequence))
                sequence += 4
                while acked < sequence - 1:
                    told = json.loads(await asyncio.wait_for(good.recv(), 2))
                    acked = told["sequence"] if told["type"] == "ack" else acked
            bays = (await asyncio.to_thread(browser.get, "/bays")).json()["bays"]
            deaf.transport.abort()  # to close it would wait until the other side reads what is left
            with contextlib.suppress(OSError):
                await deaf.wait_closed()
            devices = next(b["devices"] for b in bays if b["name"] == token[2])
            return {d["id"]: d["connected"] for d in devices}

    assert asyncio.run(walk()) == {"deaf": False, "good": True}


def test_the_forty_line_client_of_the_page_for_makers_works(server, token, browser, tmp_path):
    """Taken out of the page as it stands there."""
    page = (Path(__file__).parents[2] / "docs" / "device-link.md").read_text(encoding="utf-8")
    code = re.search(r"```python\n(.*?)```", page, re.DOTALL).group(1)
    assert len([line for line in code.splitlines() if line.strip()]) <= 42
    (tmp_path / "client.py").write_text(code, encoding="utf-8")
    running = subprocess.Popen([sys.executable, tmp_path / "client.py", server, token[0]], stdout=subprocess.PIPE)
    try:
        for _ in range(300):
            bay = next(b for b in browser.get("/bays").json()["bays"] if b["name"] == token[2])
            device = bay["devices"][0] if bay["devices"] else None
            if device and device["streams"][0]["rate_hz"] > 150 and device["clock_ms"] < 10:
                break
            time.sleep(0.1)
        assert (device["name"], device["connected"]) == ("My sensor", True)
        assert device["streams"][0]["rate_hz"] == pytest.approx(200, rel=0.3)
        assert device["clock_ms"] < 10  # after its second exchange; the first waited for the token to be looked up
    finally:
        running.kill()
        running.communicate()
