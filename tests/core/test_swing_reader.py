"""One source's traces read at moments: made-up traces whose values, and their uncertainties, are known."""

from __future__ import annotations

import numpy as np
import pytest

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.metrics.swing import (
    AFTER_IMPACT,
    SwingReader,
    hinge_held,
    missing_reason,
    source_of,
    takeaway_dip,
    timing_metrics,
)
from finearc.core.metrics.trace import Trace

STEP = 0.005
TIME = 2.0 + STEP * np.arange(401)  # 2 s, on a clock that does not begin at 0
WINDOW = slice(20, 41)
AT = {"address": 2.15, "takeaway": 2.3, "top": 3.1012, "arm_level_down": 3.2, "impact": 3.4, "finish": 3.9}


def events(**methods: str) -> dict[Checkpoint, Event]:
    return {Checkpoint(k): Event(t, 0.004, methods.get(k, "shock"), 0.9) for k, t in AT.items()}


def reader(covariance=None, valid=None, found=None) -> SwingReader:
    covariance = np.zeros((7, 7)) if covariance is None else covariance
    return SwingReader(TIME, found or events(), WINDOW, covariance, np.ones(401, bool) if valid is None else valid)


def trace(values, **more) -> Trace:
    return Trace(m.LEAD_WRIST_EXTENSION, values, **{"base_sd": 0.0, **more})


def read(of: SwingReader, trace: Trace, rates=None) -> dict:
    rates = np.zeros((401, 1)) if rates is None else rates
    return {v.moment.key: v for v in of.read([(Source.WRIST, trace)], trace.values[:, None], rates)}


def test_a_value_between_samples_lies_on_the_line_between_them():
    values = read(reader(), trace(3.0 * TIME + 1.0))
    for key in ("takeaway", "top", "impact", "finish"):
        assert values[key].value == pytest.approx(3.0 * AT[key] + 1.0, abs=1e-12)
    change = values["address..top"]
    assert change.value == pytest.approx(values["top"].value - values["address"].value, abs=1e-12)


def test_at_the_ends_of_the_recording_its_own_samples_are_read_and_nothing_beyond():
    bent = (TIME - 2.0) ** 3
    of = reader()
    assert of.at(bent, float(TIME[-1])) == pytest.approx(bent[-1], abs=1e-12)
    assert of.at(bent, float(TIME[-1]) + 1.0) == pytest.approx(bent[-1], abs=1e-12)
    assert of.at(bent, float(TIME[0]) - 1.0) == bent[0]
    assert of.at(bent, float(TIME[-2])) == pytest.approx(bent[-2], abs=1e-12)


def test_address_is_the_middle_of_its_window_unless_the_instructor_set_it():
    quiet = np.full(401, 0.2)
    quiet[WINDOW.start : WINDOW.start + 9] = 5.0  # fewer than half of its samples are shaken
    assert read(reader(), trace(quiet))["address"].value == 0.2
    by_hand = reader(found=events(address="instructor"))
    ramp = np.linspace(0.0, 4.0, 401)
    assert read(by_hand, trace(ramp))["address"].value == pytest.approx(4.0 * 0.15 / 2.0)
    assert by_hand.value(ramp, "address", AT["address"]) == pytest.approx(4.0 * 0.15 / 2.0)
    assert reader().value(quiet, "address", AT["address"]) == 0.2


def test_what_two_values_have_in_common_cancels_in_their_difference():
    """Standard uncertainty of a value and of a difference, against 40,000 drawn calibrations (a Monte Carlo as in
    JCGM 101:2008, section 7; number from memory): the sample's own error is 0.35 %, six of which are allowed."""
    rng = np.random.default_rng(3)
    root = 0.02 * rng.normal(size=(7, 7))
    covariance = root @ root.T
    shapes = np.stack([np.sin(TIME * (k + 1)) for k in range(7)])
    values = read(reader(covariance), trace(np.zeros(401), error_shapes=shapes))
    drawn = rng.multivariate_normal(np.zeros(7), covariance, 40_000)
    at = {k: shapes[:, int(np.ceil((AT[k] - 2.0) / STEP - 1e-9))] for k in ("address", "top", "impact")}
    for key in at:
        assert values[key].calibration_part == pytest.approx(np.std(drawn @ at[key]), rel=0.021)
    for first, second in (("address", "top"), ("top", "impact")):
        change = values[f"{first}..{second}"]
        assert change.calibration_part == pytest.approx(np.std(drawn @ (at[second] - at[first])), rel=0.021)


def test_an_error_that_all_values_share_is_in_values_and_not_in_changes():
    values = read(reader(), trace(np.zeros(401), common_sd=0.03))
    assert values["top"].calibration_part == values["top"].uncertainty == 0.03
    assert values["address..top"].calibration_part == values["address..top"].uncertainty == 0.0


def test_uncertainty_joins_calibration_trace_and_the_moments_time():
    """Squares add (JCGM 100:2008, 5.1.2; number from memory): 3, 4 and 12 make 13. Address, a window, has no time to be wrong about."""
    rates = np.full((401, 1), 12.0 / 0.004)
    values = read(reader(), trace(np.zeros(401), base_sd=4.0, common_sd=3.0), rates)
    assert values["top"].uncertainty == pytest.approx(13.0)
    assert values["address"].uncertainty == pytest.approx(5.0)
    assert values["address..top"].uncertainty == pytest.approx(np.hypot(4.0, 12.0))
    assert values["top..impact"].uncertainty == pytest.approx(np.sqrt(4.0**2 + 2 * 12.0**2))


def test_a_rate_that_is_not_known_does_not_hide_the_value():
    values = read(reader(), trace(np.ones(401), base_sd=0.5), np.full((401, 1), np.nan))
    assert (values["top"].value, values["top"].uncertainty) == (1.0, 0.5)


def test_what_is_hidden_is_not_read_there_and_the_rest_is():
    hidden = np.ones(401)
    hidden[215:225] = np.nan  # around the top
    values = read(reader(), trace(hidden))
    assert "top" not in values
    assert "address..top" not in values
    assert "impact" in values


def test_instants_stop_where_the_recording_does_or_is_not_to_be_trusted():
    assert AFTER_IMPACT in reader().instants()
    assert AFTER_IMPACT not in read(reader(), trace(np.ones(401)))
    late = events()
    late[Checkpoint.FINISH] = Event(TIME[-1] + 1.5 * STEP, 0.004, "speed", 0.9)
    assert "finish" not in reader(found=late).instants()
    late[Checkpoint.FINISH] = Event(TIME[-1] + 0.5 * STEP, 0.004, "speed", 0.9)
    assert "finish" in reader(found=late).instants()
    torn = np.ones(401, bool)
    torn[220:222] = False  # a gap over the top
    assert "top" not in reader(valid=torn).instants()
    assert "impact" in reader(valid=torn).instants()


def test_no_traces_or_no_moments_give_no_values():
    assert reader().read([], np.zeros((401, 0)), np.zeros((401, 0))) == []
    nothing = SwingReader(TIME, {}, WINDOW, np.zeros((7, 7)), np.ones(401, bool))
    assert read(nothing, trace(np.ones(401))) == {}


def test_why_a_value_is_not_judged_and_how_it_is_to_be_read_go_with_it_and_not_with_changes():
    values = read(reader(), trace(np.ones(401), not_judged_reason="drifted", note="since the last square"))
    assert (values["top"].not_judged_reason, values["top"].note) == ("drifted", "since the last square")
    assert (values["address..top"].not_judged_reason, values["address..top"].note) == ("", "")


def test_tempo_and_times_with_their_uncertainty():
    """0.8 s back and 0.25 s down: 3.2 to 1. A quotient's relative uncertainties add as squares (JCGM 100:2008, 5.1.6, number from memory;
    here as if back and down were known independently, which the shared top makes a little too good)."""
    found = events()
    found[Checkpoint.TOP] = Event(3.1, 0.003, "club reversal", 0.9)
    found[Checkpoint.TAKEAWAY] = Event(2.3, 0.004, "speed", 0.9)
    found[Checkpoint.IMPACT] = Event(3.35, 0.004, "shock", 0.9)
    tempo, back, down = timing_metrics(found)
    assert (tempo.value, back.value, down.value) == pytest.approx((3.2, 0.8, 0.25))
    assert back.uncertainty == pytest.approx(0.005)
    assert down.uncertainty == pytest.approx(0.005)
    assert tempo.uncertainty == pytest.approx(3.2 * np.hypot(0.005 / 0.8, 0.005 / 0.25))
    assert {v.source for v in (tempo, back, down)} == {Source.CLUB}
    for missing in (Checkpoint.TAKEAWAY, Checkpoint.TOP, Checkpoint.IMPACT):
        assert timing_metrics({k: v for k, v in found.items() if k is not missing}) == []
    for wrong in ({Checkpoint.TOP: Event(2.3, 0.004, "x", 0.9)}, {Checkpoint.TOP: Event(3.35, 0.004, "x", 0.9)}):
        assert timing_metrics({**found, **wrong}) == []


@pytest.mark.parametrize(
    ("method", "source"),
    [
        ("marker-speed", Source.MARKERS),
        ("head-passage", Source.MARKERS),
        ("hands-lowest", Source.MARKERS),
        ("club shock", Source.CLUB),
        ("ground", Source.MAT),
        ("vertical force", Source.MAT),
        ("upper back", Source.BODY),
        ("pelvis", Source.BODY),
        ("shock", Source.WRIST),
    ],
)
def test_what_saw_a_checkpoint_is_told_by_how_it_was_found(method, source):
    assert source_of(Event(1.0, 0.004, method, 0.9)) is source


def hinge(gained_deg: float, left_deg: float) -> list:
    """Radial deviation that gains ``gained_deg`` up to the top and has ``left_deg`` of it at arm level down."""
    top = TIME[int(np.argmin(np.abs(TIME - AT["top"])))]
    course = np.interp(TIME, [2.0, 2.3, top, 3.2, 4.0], np.deg2rad([0.0, 0.0, gained_deg, left_deg, 0.0]))
    return hinge_held(reader(), Source.WRIST, Trace(m.LEAD_WRIST_DEVIATION, 0.1 + course, 0.0))


def test_the_hinge_still_held_is_the_share_of_what_was_gained():
    (most,), (little,), (all_of_it,) = hinge(40, 30), hinge(40, 10), hinge(40, 40)
    assert (most.value, little.value, all_of_it.value) == pytest.approx((0.75, 0.25, 1.0), abs=1e-6)
    assert all_of_it.uncertainty < most.uncertainty < little.uncertainty


def test_where_hardly_any_hinge_was_gained_no_share_is_given():
    """8 degrees are needed (house value)."""
    assert hinge(7.9, 5.0) == []
    assert len(hinge(8.1, 5.0)) == 1


@pytest.mark.parametrize("missing", ["address", "takeaway", "arm_level_down"])
def test_without_one_of_its_checkpoints_no_share_is_given(missing):
    found = {k: e for k, e in events().items() if k != missing}
    ramp = Trace(m.LEAD_WRIST_DEVIATION, np.linspace(0, 1, 401), 0.0)
    assert hinge_held(reader(found=found), Source.WRIST, ramp) == []


def dip(fall_deg: float, back_deg: float) -> float:
    """Fall toward flexion at 2.5 s and how much of it has come back by the top, in degrees."""
    found = events()
    found[Checkpoint.ARM_LEVEL_BACK] = Event(2.8, 0.004, "shock", 0.9)
    course = np.interp(
        TIME, [2.0, 2.3, 2.5, 3.1, 4.0], np.deg2rad([20.0, 20.0, 20 - fall_deg, 20 - fall_deg + back_deg, 20])
    )
    (value,) = takeaway_dip(reader(found=found), Source.WRIST, trace(course))
    return float(np.rad2deg(value.value))


def test_a_dip_is_a_fall_that_comes_back():
    """8 degrees have to come back (house value): a wrist that flexes and stays flexed does not dip."""
    assert dip(15.0, 15.0) == pytest.approx(15.0)
    assert dip(15.0, 8.5) == pytest.approx(15.0)
    assert dip(15.0, 7.5) == 0.0
    assert dip(-6.0, 20.0) == 0.0  # it never fell


@pytest.mark.parametrize("missing", ["address", "takeaway", "arm_level_back", "top"])
def test_without_one_of_its_checkpoints_no_dip_is_given(missing):
    found = {**events(), Checkpoint.ARM_LEVEL_BACK: Event(2.8, 0.004, "shock", 0.9)}
    found.pop(Checkpoint(missing))
    assert takeaway_dip(reader(found=found), Source.WRIST, trace(np.linspace(0, 1, 401))) == []


def test_why_a_metric_is_missing():
    given = missing_reason(m.LEAD_WRIST_EXTENSION, [Source.WRIST], "", "")
    assert given == "its checkpoints were not found in this swing"
    assert missing_reason(m.LEAD_WRIST_EXTENSION, [Source.WRIST], "", "no top") == "no top"
    assert missing_reason(m.PELVIS_SWAY, [Source.WRIST], "", "no top").startswith("needs ")
    assert (
        missing_reason(m.PELVIS_SWAY, [Source.WRIST], "no marker on the pelvis", "no top") == "no marker on the pelvis"
    )


def test_what_the_sensors_alone_leave_unknown_of_a_dip():
    """Half a degree (house value) where the calibration is exact."""
    found = {**events(), Checkpoint.ARM_LEVEL_BACK: Event(2.8, 0.004, "shock", 0.9)}
    (value,) = takeaway_dip(reader(found=found), Source.WRIST, trace(np.zeros(401)))
    assert np.rad2deg(value.uncertainty) == pytest.approx(0.5)
