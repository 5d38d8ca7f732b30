"""Logs that clips hand over by the device link: whole, once, also after a broken connection; then a player's round."""

from __future__ import annotations

import asyncio
import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from finearc.core.live.sequence import Samples
from finearc.devices.link.frames import write_frame
from finearc.devices.simulated.client import Refused
from finearc.devices.simulated.dock import FRAME, LAYOUT, Dock, hand_over, short_frames
from finearc.golfer.course import round as model
from finearc.services.records import Bay
from tests.api.test_jobs import ended
from tests.api.test_link import heard
from tests.api.test_rounds import PLAN, new_player
from tests.api.test_supervisor import until

CLIP = {"stream": 0, "kind": "imu", "segment": "club", "club": "7-iron", "rate_hz": 200}


@pytest.fixture(scope="module")
def played():
    return model.play_round("round-steady", 9, PLAN)


def waiting(browser, player, device):
    found = browser.get(f"/players/{player}/handed-over").json()
    return [x for x in found if x["device"] == device]


def hello(token, *, device="d1", streams=(CLIP,), **more):
    told = {"id": device, "name": device, "boot": 1}
    return {
        "type": "hello",
        "protocol": 1,
        "token": token,
        "log": True,
        "device": told,
        "streams": list(streams),
    } | more


def piece(first, count, us=1_000_000, stream=0):
    values = np.tile(np.arange(first, first + count)[:, None], (1, 6)).astype("<f4")
    return write_frame(stream, Samples(first, us + 5000.0 * np.arange(first, first + count), values), LAYOUT)


BYE = {"type": "bye", "reason": "done"}


def test_a_dock_hands_a_round_over_and_it_becomes_a_players(server, token, browser, played):
    player = new_player(browser, "Dock Side")
    made = datetime.now(UTC)
    dock = Dock(server, token[0], played.logs, ago_s=3600.0, name="dock one")
    asyncio.run(hand_over(dock))
    until(lambda: waiting(browser, player, "dock one"))
    (log,) = waiting(browser, player, "dock one")
    assert (log["clubs"], log["bay"]) == (sorted(played.logs), token[2])
    assert log["samples"] == sum(len(x.time_s) for x in played.logs.values())
    over = datetime.fromisoformat(log["ended"])
    assert abs((made - timedelta(hours=1) - over).total_seconds()) < 60
    job = browser.post(f"/players/{player}/handed-over/{log['key']}")
    assert job.status_code == 202, job.text
    round_id = ended(browser, job.json()["id"])["round_id"]
    shown = browser.get(f"/rounds/{round_id}").json()
    true = [t for t in played.truth if t.kind == "shot"]
    assert shown["brief"]["shots"] == len(true)
    assert abs(datetime.fromisoformat(shown["brief"]["played_at"]) - datetime.fromisoformat(log["began"])) < timedelta(
        hours=2
    )
    assert waiting(browser, player, "dock one") == []
    assert browser.post(f"/players/{player}/handed-over/{log['key']}").status_code == 404


def test_a_broken_connection_goes_on_where_it_was_and_every_sample_is_there_once(
    server, token, browser, services, north
):
    told, _ = heard(server, hello(token[0], device="frail"), piece(0, 100), piece(100, 100), piece(50, 100))
    assert max(m["sequence"] for m in told if m["type"] == "ack") == 199
    assert waiting(browser, new_player(browser), "frail") == []  # not whole yet
    told, _ = heard(server, hello(token[0], device="frail"), piece(150, 100), piece(400, 10))
    assert told[0]["resume"] == {"0": 200}
    dropped = next(m for m in told if m["type"] == "notice")
    assert (dropped["from"], dropped["to"]) == (250, 399)
    heard(server, hello(token[0], device="frail"), BYE)
    (log,) = waiting(browser, new_player(browser), "frail")
    with services.store.unit_of_work(north) as uow:
        _, streams = services.logs.read([b.id for b in uow.find(Bay)], log["key"])
    assert streams["7-iron"].acc_m_s2[:, 0].tolist() == list(range(250))
    assert np.allclose(np.diff(streams["7-iron"].time_s), 0.005)


@pytest.mark.parametrize(
    ("messages", "words"),
    [
        ([hello("T", streams=[{**CLIP, "club": "broom"}])], 'no club "broom"'),
        ([hello("T", streams=[{k: v for k, v in CLIP.items() if k != "club"}])], 'no club ""'),
        ([hello("T", streams=[{**CLIP, "segment": "pelvis"}])], "wants of each stream the club"),
        ([hello("T", streams=[CLIP, {**CLIP, "stream": 1}])], "two streams measure one thing"),
        ([hello("T"), piece(0, 5, stream=3)], "was not declared"),
        ([hello("T"), b"short"], "a header alone has"),
        ([hello("T"), piece(3_000_000, 5)], "at most 3,000,000 samples"),
        ([hello("T"), hello("T")], "said already"),
    ],
    ids=lambda x: x if isinstance(x, str) else "",
)
def test_what_is_no_log_is_refused_in_words(server, token, messages, words):
    said = [
        m if isinstance(m, bytes) else json.loads(json.dumps(m).replace('"T"', json.dumps(token[0]))) for m in messages
    ]
    told, code = heard(server, *said)
    assert code in (4400, 4413)
    assert words in told[-1]["reason"]


def test_a_log_is_nobodys_of_another_academy(server, token, browser, stranger):
    heard(server, hello(token[0], device="ours"), piece(0, 10), BYE)
    player = new_player(browser)
    (log,) = waiting(browser, player, "ours")
    theirs = new_player(stranger)
    assert stranger.get(f"/players/{theirs}/handed-over").json() == []
    assert stranger.post(f"/players/{theirs}/handed-over/{log['key']}").status_code == 404


def test_a_token_that_is_none_hands_nothing_over(server, played):
    with pytest.raises(Refused, match="no bay"):
        asyncio.run(hand_over(Dock(server, "guess", played.logs)))


def test_frames_are_short_enough_for_an_offset_of_four_bytes(played):
    """A clip that slept for hours between two samples begins another frame."""
    club, log = next(iter(played.logs.items()))
    slept = replace(log, time_s=np.where(np.arange(len(log.time_s)) < FRAME // 2, log.time_s, log.time_s + 9000.0))
    pieces = short_frames(Samples(0, np.rint(1e6 * slept.time_s[:FRAME]), np.zeros((FRAME, 6))))
    assert len(pieces) >= 2, club
    assert all(np.ptp(p.time_s) < 2**32 for p in pieces)
    assert [p.first for p in pieces[1:]] == [p.after for p in pieces[:-1]]
