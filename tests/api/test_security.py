"""Sign-in, sessions, headers, academies kept apart."""

from __future__ import annotations

import pytest

from tests.api.conftest import PASSWORD, bundle, drop, new_lesson


def test_nothing_is_told_before_sign_in(open_browser):
    client = open_browser()
    for path in ("/me", "/diary", "/players", "/catalogue", "/lessons/00000000-0000-0000-0000-000000000000"):
        answer = client.get(path)
        assert (answer.status_code, answer.json()["code"]) == (401, "not_signed_in")


def test_the_session_cookie_is_http_only_and_same_site(open_browser):
    answer = open_browser().sign_in("north@example.test")
    cookie = answer.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=strict" in cookie
    assert "csrf" in answer.json()
    assert PASSWORD not in answer.text


def test_only_a_hash_of_the_token_and_of_the_password_is_kept(services, open_browser):
    client = open_browser()
    client.sign_in("north@example.test")
    token = client.client.cookies["finearc_session"]
    with services.store.front_door() as door:
        assert door.enter(token, {}) is None
        instructor = door.instructor_by_email("north@example.test")
    assert instructor.password_hash.startswith("$argon2id$")


def test_a_change_without_the_pages_token_is_refused(browser):
    answer = browser.client.post("/api/players", json={"name": "Nobody"})
    assert (answer.status_code, answer.json()["code"]) == (403, "csrf")
    answer = browser.client.post("/api/players", json={"name": "Nobody"}, headers={"x-csrf-token": "guess"})
    assert answer.status_code == 403


def test_sign_out_ends_the_session_on_the_server(open_browser):
    client = open_browser()
    client.sign_in("north@example.test")
    token = client.client.cookies["finearc_session"]
    assert client.post("/sign-out").status_code == 200
    client.client.cookies.set("finearc_session", token)
    assert client.get("/me").status_code == 401


def test_wrong_passwords_are_limited(open_browser):
    client = open_browser()
    codes = [client.sign_in("limited@example.test", "wrong").status_code for _ in range(8)]
    assert codes[:6] == [401] * 6
    assert codes[6:] == [429, 429]
    assert "Wait" in client.sign_in("limited@example.test", "wrong").json()["message"]


def test_security_headers_stand_on_every_answer(open_browser):
    headers = open_browser().get("/health").headers
    assert "script-src 'self'" in headers["content-security-policy"]
    assert "unsafe" not in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["x-frame-options"] == "DENY"
    assert headers["cache-control"] == "no-store"


def test_no_query_leaves_the_academy(browser, stranger):
    lesson_id = new_lesson(browser, "Private Person")
    drop(browser, lesson_id, bundle("hold-then-flex"))
    lesson = browser.lesson(lesson_id)
    player, swing, recording = lesson["player"]["id"], lesson["swings"][0]["id"], lesson["recordings"][0]["id"]
    reads = [
        f"/lessons/{lesson_id}",
        f"/players/{player}",
        f"/swings/{swing}",
        f"/swings/{swing}/blocks/traces/1",
        f"/swings/{swing}/traces.csv",
        f"/recordings/{recording}",
        f"/lessons/{lesson_id}/page",
        f"/lessons/{lesson_id}/export",
        f"/players/{player}/export",
        f"/lessons/{lesson_id}/live",
    ]
    for path in reads:
        assert stranger.get(path).status_code == 404, path
    changes = [
        ("PATCH", f"/swings/{swing}", {"kind": "warm_up"}),
        ("PATCH", f"/lessons/{lesson_id}", {"club": "8-iron"}),
        ("POST", f"/lessons/{lesson_id}/undo", None),
        ("POST", f"/lessons/{lesson_id}/pin", {"swing_ids": [swing]}),
        ("POST", f"/lessons/{lesson_id}/close", {"priorities": []}),
        ("DELETE", f"/players/{player}", None),
        ("POST", f"/lessons/{lesson_id}/recordings", {}),
        ("POST", f"/players/{player}/limits", {"area": "x", "movement": "y"}),
    ]
    for method, path, body in changes:
        assert stranger.send(method, path, json=body).status_code == 404, path
    assert all(p["name"] != "Private Person" for p in stranger.get("/players").json())


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "words"),
    [
        ("GET", "/lessons/not-an-id", None, 422, "lesson_id"),
        ("GET", "/nowhere", None, 404, "there is nothing here"),
        ("POST", "/players", {"name": ""}, 422, "name"),
        ("POST", "/players", {"name": "A", "handedness": "both"}, 422, "handedness"),
        ("POST", "/players", {"name": "A", "schools": {"lead_wrist": "flatt"}}, 422, "known: hold, flat"),
        ("POST", "/lessons/start-now", {"club": "9-wood"}, 409, "no club"),
        ("GET", "/diary?day=yesterday", None, 422, "day"),
    ],
)
def test_errors_say_what_and_where(browser, method, path, body, status, words):
    answer = browser.send(method, path, json=body)
    assert answer.status_code == status
    assert words in answer.json()["message"]
