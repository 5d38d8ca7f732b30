"""A phone's page as a body sensor: motion events played into it, as a phone strapped to the pelvis would give them."""

from __future__ import annotations

import json
import re

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from finearc.core.sources.inertial import INERTIAL
from finearc.golfer.scenarios import play
from finearc.golfer.truth import true_angles
from finearc.golfer.whole import whole_body
from finearc.services.modelled import streams_of
from tests.browser.conftest import PACE

pytestmark = [pytest.mark.browser, pytest.mark.live]
RATE_HZ, STILL_S = 60.0, 0.5
"""So often a phone tells its motion; what is repeated while the player waits."""
PLAYED = """
([pace, still]) => {  // time runs as fast as the application's
  const real = performance.now.bind(performance);
  const now = () => pace * real();
  performance.now = now;
  window.played = { from: null, rows: [], next: 0 };
  const fire = (time, row) => {
    const [x, y, z, alpha, beta, gamma] = row;
    const event = new DeviceMotionEvent('devicemotion', { accelerationIncludingGravity: { x, y, z }, rotationRate: { alpha, beta, gamma }, interval: 16 });
    Object.defineProperty(event, 'timeStamp', { value: time });
    window.dispatchEvent(event);
  };
  let last = now();
  setInterval(() => {
    const p = window.played, time = now(), step = 1000 / 60;
    for (; last + step < time; last += step) {
      if (!p.rows.length) continue;
      if (p.from === null) fire(last, p.rows[Math.floor((last / step) % (still * 60))]);
      else if (p.next < p.rows.length) fire(last, p.rows[p.next++]);
      else p.from = null;
    }
  }, 4);
}
"""


def phone_rows(recording):
    """The pelvis sensor of a recording at a phone's rate, in a phone's units, with a phone's own pauses and digits."""
    (sensor,) = (s for s in streams_of(recording)[INERTIAL] if s.segment.value == "pelvis")
    time_s = np.arange(sensor.time_s[0], sensor.time_s[-1], 1.0 / RATE_HZ)
    told = np.column_stack([sensor.acc_m_s2, np.rad2deg(sensor.gyr_rad_s)])
    return np.round(np.column_stack([np.interp(time_s, sensor.time_s, v) for v in told.T]), 2).tolist()


def call(page: Page, method: str, path: str, body: object = None):
    """The application's API with the page's own session."""
    answer = page.evaluate(
        """async ([method, path, body]) => {
          const me = await (await fetch('/api/me')).json();
          const headers = { 'content-type': 'application/json', 'x-csrf-token': me.csrf, 'if-match': '*' };
          const r = await fetch('/api' + path, { method, headers, body: body === null ? undefined : JSON.stringify(body) });
          return [r.status, await r.text()];
        }""",
        [method, path, body],
    )
    assert answer[0] < 300, answer
    return json.loads(answer[1])


@pytest.fixture
def link(page: Page) -> str:
    """A phone's link to a bay of its own, made on the screen of the bays."""
    call(page, "POST", "/bays/tokens", {"bay": "Phone bay", "name": "first"})
    page.get_by_role("link", name="Bays", exact=True).click()
    bay = page.get_by_role("region", name="Phone bay", exact=True)
    bay.get_by_role("button", name="A phone as sensor").click()
    page.get_by_role("radio", name="Pelvis").click()
    page.get_by_role("button", name="Make the link").click()
    expect(page.get_by_role("img", name="The link as a code for the phone's camera")).to_be_visible()
    expect(page.get_by_text("This address is of this machine alone")).to_be_visible()
    made = page.get_by_text(re.compile(r"/phone#pelvis\.bay_")).inner_text()
    page.get_by_role("button", name="Close").click()
    return made


def test_a_phone_is_fitted_calibrated_and_judged_like_a_body_sensor(page, new_page, chromium, link):
    recording = play("hold-then-flex", 5, sources=("wrist", "body"))
    context = chromium.new_context(viewport={"width": 390, "height": 844})
    phone = context.new_page()
    phone.goto(link)
    phone.evaluate(PLAYED, [PACE, STILL_S])
    phone.evaluate("rows => { window.played.rows = rows; }", phone_rows(recording))
    expect(phone.get_by_role("heading", name="Strap the phone to the pelvis")).to_be_visible()
    phone.get_by_role("button", name="Start").click()
    expect(phone.get_by_text("Waiting for the lesson.")).to_be_visible()
    expect(phone.get_by_test_id("rate")).to_contain_text("60 readings a second")

    line = page.get_by_role("list", name="Devices in Phone bay").get_by_role("listitem").filter(has_text="Phone")
    expect(line).to_contain_text(re.compile(r"Phone pelvis(58|59|60|61|62) Hz · clock ±"))

    players = call(page, "GET", "/players")
    me = call(page, "GET", "/me")
    lesson = {"player_id": players[0]["id"], "instructor_id": me["instructor_id"], "bay": "Phone bay"}
    lesson |= {"starts_at": "2031-03-03T10:00:00Z", "minutes": 45}
    lesson_id = call(page, "POST", "/lessons", lesson)["id"]
    call(page, "POST", f"/lessons/{lesson_id}/recordings", {"devices": True})
    expect(phone.get_by_role("heading", name="Bow straight forward")).to_be_visible()  # it stood upright long enough
    phone.evaluate("() => { window.played.from = 0; }")
    expect(phone.get_by_role("heading", name="Ready. Swing.")).to_be_visible()
    for _ in range(300):
        swings = call(page, "GET", f"/lessons/{lesson_id}")["swings"]
        if len(swings) == len(recording.swings):
            break
        page.wait_for_timeout(200)
    truth, time_s = true_angles(recording.truth, whole_body(recording.truth)), recording.truth.time_s
    for made, (start_s, end_s) in zip(swings, recording.swings, strict=True):
        values = call(page, "GET", f"/swings/{made['id']}/numbers")
        (turn,) = (v for v in values if (v["metric"], v.get("moment")) == ("pelvis_turn", "top"))
        fullest = truth["pelvis_turn"][(time_s > start_s) & (time_s < end_s)].max()
        assert abs(turn["value"] - np.rad2deg(fullest)) < 2.0 * turn["uncertainty"]
    call(page, "POST", f"/lessons/{lesson_id}/close", {"priorities": []})
    context.close()


def test_what_hinders_a_phone_is_said_with_what_to_do(chromium, address):
    context = chromium.new_context(viewport={"width": 390, "height": 844})
    phone = context.new_page()
    phone.goto(f"{address}/phone")
    expect(phone.get_by_role("heading", name="This link has no code")).to_be_visible()
    phone.goto(f"{address}/phone#pelvis.bay_of_nobody")
    phone.reload()
    phone.get_by_role("button", name="Start").click()
    expect(phone.get_by_role("heading", name="No motion comes from this phone.")).to_be_visible()
    phone.evaluate("() => Object.defineProperty(window, 'isSecureContext', { value: false })")
    phone.get_by_role("button", name="Try again").click()
    expect(phone.get_by_text("over https alone")).to_be_visible()
    context.close()


def test_a_code_of_nobody_is_refused_in_words(chromium, address):
    context = chromium.new_context(viewport={"width": 390, "height": 844})
    phone = context.new_page()
    phone.goto(f"{address}/phone#thorax.bay_of_nobody")
    phone.evaluate(PLAYED, [PACE, STILL_S])
    phone.evaluate("() => { window.played.rows = Array(60).fill([0, 9.8, 0, 0, 0, 0]); }")
    phone.get_by_role("button", name="Start").click()
    expect(phone.get_by_role("heading", name=re.compile("Not taken: this token is of no bay"))).to_be_visible()
    context.close()
