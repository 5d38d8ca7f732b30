"""A bay's devices by the contract: hello, resume, acknowledgements, gaps, and everything that is refused."""

import time

import numpy as np
import pytest

from finearc.core.live.sequence import Gap, Samples
from finearc.devices.link.device import DeviceState
from finearc.devices.link.frames import write_frame
from finearc.devices.link.messages import Clock, Close, Event, Health, LinkRefused, read_message
from tests.devices.conftest import Told, frame, hello


def until_acked(bay, told, stream=0, sequence=0):
    for _ in range(250):
        bay.run()
        if any(m["stream"] == stream and m["sequence"] >= sequence for m in told.of("ack")):
            return
        time.sleep(0.02)
    raise AssertionError(told.messages[-3:])


def test_a_device_is_welcomed_and_told_the_state(new_bay, clock):
    bay, told = new_bay(), Told()
    bay.welcome(hello(), told)
    welcome, state = told.messages
    assert (welcome["type"], welcome["bay"], welcome["server_us"]) == ("welcome", "Bay 1", clock.us)
    assert "resume" not in welcome
    assert state == {"type": "state", "state": "idle"}
    bay.tell_state("calibrating", pose="flat")
    assert told.messages[-1] == {"type": "state", "state": "calibrating", "pose": "flat"}


def test_samples_arrive_in_order_and_are_acknowledged_once_on_disk(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    for first in (0, 4, 8):
        bay.frame(device, frame(first))
    assert bay.hears.values() == list(range(12))
    until_acked(bay, told, sequence=11)


def test_nothing_is_acknowledged_before_the_disk_has_it(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.frame(device, frame(0))
    time.sleep(0.1)
    assert not told.of("ack")  # the journal has said so, but the bay has not been told yet
    bay.run()
    until_acked(bay, told)


def test_an_acknowledgement_never_passes_a_sample_that_may_still_come(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.frame(device, frame(0))
    bay.frame(device, frame(8))
    until_acked(bay, told, sequence=3)
    time.sleep(0.1)
    bay.run()
    assert max(m["sequence"] for m in told.of("ack")) == 3
    bay.frame(device, frame(4))
    until_acked(bay, told, sequence=11)


def test_a_gap_that_is_given_up_is_said_and_passed(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.frame(device, frame(0))
    for first in range(8, 40, 4):
        bay.frame(device, frame(first))
    assert bay.hears.gaps == [Gap(4, 7)]
    (notice,) = told.of("notice")
    assert (notice["name"], notice["stream"], notice["from"], notice["to"]) == ("dropped", 0, 4, 7)
    assert "lead hand" in notice["words"]
    until_acked(bay, told, sequence=39)
    bay.frame(device, frame(4))
    assert bay.hears.values(late=True) == [4, 5, 6, 7]


def test_a_repeated_frame_is_acknowledged_again_and_not_passed_on(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.frame(device, frame(0))
    until_acked(bay, told, sequence=3)
    acks = len(told.of("ack"))
    bay.frame(device, frame(0))
    assert len(told.of("ack")) == acks + 1
    assert bay.hears.values() == [0, 1, 2, 3]


def test_a_device_that_comes_back_is_told_where_to_go_on(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.frame(device, frame(0))
    bay.gone(device, told)
    again = Told()
    assert bay.welcome(hello(), again) is device
    assert again.messages[0]["resume"] == {"0": 4}
    fresh = Told()
    assert bay.welcome(hello(boot=2), fresh) is not device
    assert "resume" not in fresh.messages[0]


def test_after_a_restart_everything_acknowledged_is_known(new_bay):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.hear(device, Clock(type="clock", t0_us=0))
    for first in range(0, 400, 4):
        bay.frame(device, frame(first))
    until_acked(bay, told, sequence=399)
    bay.close()
    later, again = new_bay(), Told()
    found = [p for _, p in later.recovered()]
    assert [float(v) for p in found for v in p.samples.values[:, 0]] == list(range(400))
    later.welcome(hello(), again)
    assert again.messages[0]["resume"] == {"0": 400}
    assert np.allclose(np.diff(np.concatenate([p.time_s for p in found])), 0.005)


def test_one_segment_is_sent_by_one_device(new_bay):
    bay, first = new_bay(), Told()
    device = bay.welcome(hello("pelvis"), first)
    with pytest.raises(LinkRefused, match="pelvis is sent by The pelvis already") as refused:
        bay.welcome(hello("pelvis", device="d2"), Told())
    assert refused.value.close is Close.TAKEN
    bay.frame(device, frame(0))  # the first is not touched
    bay.welcome(hello("thorax", device="d3"), Told())
    bay.gone(device, first)
    bay.welcome(hello("pelvis", device="d2"), Told())


def test_the_same_device_on_a_new_connection_takes_the_old_ones_place(new_bay):
    bay, old, new = new_bay(), Told(), Told()
    bay.welcome(hello(), old)
    device = bay.welcome(hello(), new)
    assert old.closed.close is Close.TAKEN
    bay.gone(device, old)
    assert device.outlet is new


REFUSED = [
    (b"", Close.BAD_HELLO, "24"),
    (frame(0)[:-1], Close.BAD_HELLO, "this has 135"),
    (frame(0, stream=5), Close.BAD_HELLO, "stream 5 was not declared"),
    (frame(0) + bytes(1_000_000), Close.TOO_LARGE, "at most"),
    (bytes([2]) + frame(0)[1:], Close.BAD_HELLO, "version 2"),
]


@pytest.mark.parametrize(("data", "close", "words"), REFUSED)
def test_a_frame_that_breaks_the_contract_closes_its_own_socket_only(new_bay, data, close, words):
    bay, other = new_bay(), Told()
    device = bay.welcome(hello(), Told())
    beside = bay.welcome(hello("pelvis", device="d2"), other)
    with pytest.raises(LinkRefused, match=words) as refused:
        bay.frame(device, data)
    assert refused.value.close is close
    bay.frame(beside, frame(0))
    until_acked(bay, other, sequence=3)


@pytest.mark.parametrize("value", [np.nan, np.inf])
def test_what_is_no_number_is_left_out_in_words_and_refused_when_it_goes_on(new_bay, value):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.frame(device, frame(0))
    bay.frame(device, frame(4, value=value))
    bay.frame(device, frame(8))
    assert "no finite number" in told.of("notice")[0]["words"]
    assert bay.hears.values() == [0, 1, 2, 3]
    with pytest.raises(LinkRefused, match="no finite number"):
        for first in range(12, 200, 4):
            bay.frame(device, frame(first, value=value))


def test_sequences_that_restart_within_a_boot_are_refused(new_bay):
    bay = new_bay()
    device = bay.welcome(hello(rate_hz=10), Told())
    bay.frame(device, frame(0))
    bay.frame(device, frame(1000))
    with pytest.raises(LinkRefused, match="never restart within a boot"):
        bay.frame(device, frame(100))


def test_far_more_than_was_declared_is_too_fast_and_a_backlog_is_not(new_bay, clock):
    bay = new_bay()
    device = bay.welcome(hello(rate_hz=100), Told())
    for first in range(0, 3000, 100):  # half a minute at once, after a time away
        bay.frame(device, frame(first, 100))
    with pytest.raises(LinkRefused, match="far more than the 100") as refused:
        for first in range(3000, 60_000, 100):
            clock.us += 100_000  # ten times the rate
            bay.frame(device, frame(first, 100))
    assert refused.value.close is Close.TOO_FAST


def test_a_sensor_at_the_end_of_its_range_is_told_so_now_and_then(new_bay, clock):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(acc_range_m_s2=156.0), told)
    for first in range(0, 40, 4):
        bay.frame(device, frame(first, value=156.0))
    assert [m["name"] for m in told.of("notice")] == ["clipping"]


def test_the_clock_is_answered_and_maps_device_times(new_bay, clock):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    bay.hear(device, Clock(type="clock", t0_us=500_000))
    answer = told.of("clock")[0]
    assert (answer["t0_us"], answer["t1_us"]) == (500_000, clock.us)
    beat(bay, device, clock, 1_500_000, 30)
    clock.us += 1_000_000
    bay.frame(device, frame(0, at_us=31_500_000))
    expected = (clock.us - 400) / 1e6  # each message took 0.8 ms there and back: half of it is taken off
    assert bay.hears.parts[0].time_s[0] == pytest.approx(expected, abs=2e-5)
    assert device.clock.line.sd_s < 0.0005


def beat(bay, device, clock, t0_us, count):
    """Clock messages once a second, each with when the last answer came: a round trip of 0.8 ms."""
    for k in range(count):
        clock.us += 1_000_000
        at = t0_us + k * 1_000_000
        last = {"last_t0_us": at - 1_000_000, "last_t3_us": at - 1_000_000 + 800}
        bay.hear(device, Clock(type="clock", t0_us=at, **last))


def test_a_clock_that_jumps_is_said(new_bay, clock):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    beat(bay, device, clock, 1_000_000, 20)
    assert not told.of("notice")
    beat(bay, device, clock, 90_000_000, 3)
    assert told.of("notice")[0]["name"] == "clock"


def test_samples_after_a_clock_that_was_set_back_neither_go_back_nor_crowd(new_bay, clock):
    """Else the common grid of a recording, which follows the usual step, would have a million points a second."""
    bay = new_bay()
    device = bay.welcome(hello(), Told())
    beat(bay, device, clock, 1_000_000, 20)
    bay.frame(device, frame(0, 400, at_us=20_000_000))
    beat(bay, device, clock, 27_000_000, 3)  # five seconds further on than the server
    bay.frame(device, frame(400, 3200, at_us=22_000_000))
    time_s = np.concatenate([p.time_s for p in bay.hears.parts])
    steps = np.diff(time_s)
    assert device.clock.jumps == 1
    assert steps.min() >= 0.0024
    assert np.median(steps[-400:]) == pytest.approx(0.005, rel=0.01)  # it has caught up


def test_health_and_events_are_heard(new_bay):
    bay = new_bay()
    device = bay.welcome(hello(), Told())
    bay.hear(device, Health(type="health", battery=0.4, rssi_dbm=-60))
    assert device.health.battery == 0.4
    bay.hear(device, Clock(type="clock", t0_us=0))
    bay.hear(device, Event(type="event", name="strike", t_us=1_000_000))
    assert bay.hears.events[0][0] == "strike"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "JSON"),
        ("[]", "message"),
        ('{"type": "greetings"}', "type"),
        ('{"type": "hello", "protocol": 1, "token": "t", "device": {"id": "d"}, "streams": []}', "device.boot"),
        ('{"type": "health", "battery": 7}', "battery"),
        ('{"type": "clock"}', "t0_us"),
        ('{"type": "clock", "t0_us": -1}', "t0_us"),
        ('{"type": "event", "name": "explosion", "t_us": 1}', "name"),
        ("x" * 70_000, "at most"),
    ],
)
def test_a_message_that_is_none_is_refused_by_its_field(text, words):
    with pytest.raises(LinkRefused, match=words):
        read_message(text)


def test_fields_of_a_later_version_are_left_alone():
    assert read_message('{"type": "health", "battery": 0.5, "mood": "good"}').battery == 0.5


@pytest.mark.parametrize(
    "streams",
    [
        [{"stream": 0, "kind": "imu", "segment": "pelvis", "rate_hz": 100}] * 2,
        [{"stream": k, "kind": "imu", "segment": "pelvis", "rate_hz": 100} for k in (0, 1)],
        [{"stream": 16, "kind": "imu", "segment": "pelvis", "rate_hz": 100}],
        [{"stream": 0, "kind": "imu", "segment": "elbow", "rate_hz": 100}],
        [{"stream": 0, "kind": "imu", "segment": "pelvis", "rate_hz": 0}],
        [{"stream": 0, "kind": "imu", "segment": "pelvis", "rate_hz": 1e9}],
        [
            {
                "stream": 0,
                "kind": "pressure",
                "rate_hz": 100,
                "rows": 9999,
                "columns": 9999,
                "cell_mm": [1, 1],
                "scale_kpa": 1,
            }
        ],
        [
            {
                "stream": 0,
                "kind": "pressure",
                "rate_hz": 100,
                "rows": 2,
                "columns": 2,
                "cell_mm": [1, 1],
                "scale_kpa": 1,
                "column_axis": "-x",
            }
        ],
        [{"stream": 0, "kind": "markers", "rate_hz": 100, "labels": ["A", "A"]}],
    ],
)
def test_a_hello_that_contradicts_itself_is_refused(streams):
    import json

    told = {"type": "hello", "protocol": 1, "token": "t", "device": {"id": "d", "boot": 1}, "streams": streams}
    with pytest.raises(LinkRefused):
        read_message(json.dumps(told))


def test_two_streams_of_one_device_are_each_their_own(new_bay):
    bay, told = new_bay(), Told()
    both = hello().model_copy(update={"streams": (*hello().streams, *hello("club", stream=1).streams)})
    device = bay.welcome(both, told)
    bay.frame(device, frame(0))
    bay.frame(device, write_frame(1, Samples(100, 5000 * np.arange(3), np.ones((3, 6))), both.streams[1].layout))
    until_acked(bay, told, 0, 3)
    until_acked(bay, told, 1, 102)


def test_the_clock_is_known_again_after_a_restart(new_bay, clock):
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    beat(bay, device, clock, 1_000_000, 20)
    bay.frame(device, frame(0, at_us=20_500_000))
    until_acked(bay, told, sequence=3)
    before = device.clock.line
    bay.close()
    after = new_bay().devices["d1"].clock.line
    assert float(after.server_s(30.0)) == pytest.approx(float(before.server_s(30.0)), abs=1e-4)
    assert after.sd_s < 0.001


def test_a_journal_that_cannot_be_read_is_put_aside_and_the_bay_begins_anew(new_bay, tmp_path, monkeypatch):
    bay, told = new_bay(), Told()
    bay.frame(bay.welcome(hello(), told), frame(0))
    until_acked(bay, told, sequence=3)
    bay.close()
    monkeypatch.setattr(DeviceState, "from_snapshot", lambda *_: 1 / 0)
    anew, told = new_bay(), Told()
    (aside,) = tmp_path.glob("bay.unread-*")
    assert list(aside.glob("*.journal"))
    anew.frame(anew.welcome(hello(boot=9), told), frame(0))
    until_acked(anew, told, sequence=3)


def test_after_a_restart_nothing_is_let_go_before_a_recording_can_go_on_from_it(new_bay, clock, monkeypatch):
    from finearc.devices.link import journal

    monkeypatch.setattr(journal, "SEGMENT_BYTES", 300)
    bay, told = new_bay(), Told()
    device = bay.welcome(hello(), told)
    for first in range(0, 40, 4):
        bay.frame(device, frame(first))
        until_acked(bay, told, sequence=first + 3)
    bay.close()
    clock.us += 600_000_000
    later, again = new_bay(), Told()
    device = later.welcome(hello(), again)
    later.frame(device, frame(40))
    until_acked(later, again, sequence=43)
    later.let_go()
    assert sum(p.samples.count for _, p in later.recovered()) == 44
    clock.us += 121_000_000
    later.let_go()
    assert sum(p.samples.count for _, p in later.recovered()) < 44
