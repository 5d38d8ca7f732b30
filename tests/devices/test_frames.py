"""Frames of the device link, byte for byte as the contract describes them."""

import struct

import numpy as np
import pytest
from hypothesis import given, strategies as st

from finearc.core.live.sequence import Samples
from finearc.devices.link.declared import ImuDeclared, MarkersDeclared, PressureDeclared
from finearc.devices.link.frames import BadFrame, Layout, read_header, read_samples, write_frame

IMU = Layout(6, "<f4")


def by_hand(count=2, *, version=1, stream=3, sequence=7, first=1_000_000, step=5000, reserved=0):
    """As the page of the protocol says: u8 u8 u16 u32 u64 u32 u32, then six little-endian floats a sample."""
    head = struct.pack("<BBHIQII", version, stream, count, sequence, first, step, reserved)
    return head + b"".join(struct.pack("<6f", *range(k, k + 6)) for k in range(count))


def test_the_header_has_24_bytes_and_is_read_as_it_is_written():
    assert len(by_hand(0)) == 24
    header = read_header(by_hand())
    assert (header.stream, header.count, header.sequence, header.first_us, header.step_us) == (3, 2, 7, 1_000_000, 5000)
    time_us, values = read_samples(header, by_hand(), IMU)
    assert time_us.tolist() == [1_000_000, 1_005_000]
    assert values.tolist() == [[0, 1, 2, 3, 4, 5], [1, 2, 3, 4, 5, 6]]


def test_what_we_write_is_what_the_contract_says():
    samples = Samples(7, np.array([1_000_000, 1_005_000]), np.array([np.arange(6.0), np.arange(1.0, 7.0)]))
    assert write_frame(3, samples, IMU, step_us=5000) == by_hand()


def test_without_a_step_each_sample_has_its_own_offset():
    samples = Samples(0, np.array([10, 5010, 10090]), np.zeros((3, 6)))
    data = write_frame(0, samples, IMU)
    assert len(data) == 24 + 3 * (4 + 24)
    assert struct.unpack_from("<I", data, 24 + 28)[0] == 5000
    assert read_samples(read_header(data), data, IMU)[0].tolist() == [10, 5010, 10090]


@given(st.integers(1, 50), st.integers(0, 2**32 - 60), st.integers(0, 2**40), st.booleans(), st.data())
def test_any_frame_comes_back_as_it_was(count, sequence, first, even, data):
    rng = np.random.default_rng(data.draw(st.integers(0, 2**16)))
    step = 4000 if even else 0
    time_us = first + (step * np.arange(count) if even else np.sort(rng.integers(0, 10**6, count)))
    time_us = time_us - time_us[0] + first
    values = rng.normal(size=(count, 6)).astype(np.float32)
    written = write_frame(1, Samples(sequence, time_us, values), IMU, step)
    header = read_header(written)
    again_us, again = read_samples(header, written, IMU)
    assert header.sequence == sequence
    assert np.array_equal(again_us, time_us)
    assert np.array_equal(again, values)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "a header alone has 24"),
        (by_hand()[:23], "a header alone has 24"),
        (by_hand(version=2), "this is version 1"),
        (by_hand(reserved=1), "reserved"),
        (by_hand(0), "no samples"),
        (by_hand()[:-1], "make 72 bytes, this has 71"),
        (by_hand() + b"x", "make 72 bytes, this has 73"),
    ],
)
def test_a_frame_that_is_none_is_refused_in_words(data, words):
    with pytest.raises(BadFrame, match=words):
        read_samples(read_header(data), data, IMU)


def test_samples_that_go_back_in_time_are_refused():
    data = bytearray(write_frame(0, Samples(0, np.array([0, 5000]), np.zeros((2, 6))), IMU))
    struct.pack_into("<I", data, 24, 9000)
    with pytest.raises(BadFrame, match="go back in time"):
        read_samples(read_header(bytes(data)), bytes(data), IMU)


def test_each_kind_reaches_the_core_in_its_units():
    imu = ImuDeclared(kind="imu", stream=0, segment="lead_hand", rate_hz=200)
    stream = imu.to_core(np.array([0.0, 0.005]), np.array([[0, 0, 9.81, 1, 2, 3]] * 2, dtype=np.float32))
    assert stream.acc_m_s2[0, 2] == pytest.approx(9.81, rel=1e-6)
    assert stream.gyr_rad_s[1].tolist() == [1, 2, 3]
    mat = PressureDeclared(
        kind="pressure",
        stream=1,
        rate_hz=100,
        rows=2,
        columns=3,
        cell_mm=(12.5, 10),
        origin_mm=(-200, 50),
        scale_kpa=0.1,
    )
    pressed = mat.to_core(np.array([0.0]), np.array([[0, 10, 20, 30, 40, 50]], dtype="<u2"))
    assert pressed.pressure_kpa[0].tolist() == pytest.approx([0, 1, 2, 3, 4, 5])
    assert (pressed.grid.cell_m, pressed.grid.origin_m) == ((0.0125, 0.010), (-0.2, 0.05))
    markers = MarkersDeclared(kind="markers", stream=2, rate_hz=240, labels=("LASI", "RASI"), unit="mm")
    seen = markers.to_core(np.array([0.0]), np.array([[1000, 0, 0, np.nan, np.nan, np.nan]], dtype=np.float32))
    assert seen.points_m[0, 0].tolist() == [1, 0, 0]
    assert np.isnan(seen.points_m[0, 1]).all()
    assert markers.problem(np.array([[np.inf] * 6]))
    assert not markers.problem(np.array([[np.nan] * 6]))
