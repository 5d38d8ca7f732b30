"""The door: tries counted together, sessions with a life, nothing read before somebody is known to be allowed."""

from __future__ import annotations

import json
import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import pytest

from finearc.api.app import create_app
from finearc.api.context import ReadLimit, Turns
from finearc.api.door import LARGEST_BODY
from finearc.services.errors import Refused
from finearc.services.people.accounts import account_key
from finearc.services.people.passwords import refuse_weak
from finearc.services.records import Instructor, SignIn, now
from finearc.services.seen import seen_in
from finearc.store import tables as t
from tests.api.conftest import PASSWORD, new_lesson


@pytest.fixture
def person(services, north):
    """An account of its own, so that its tries are nobody else's."""
    email = f"anna-{uuid4().hex[:8]}@example.test"
    made = Instructor(north, "Somebody", email, services.hasher.hash(PASSWORD), role="owner")
    with services.store.front_door() as door:
        door.add(made)
    services.throttle._counters.reset()
    yield made
    services.throttle._counters.reset()


def codes(answers):
    return sorted(a.status_code for a in answers)


def test_thirty_wrong_tries_at_once_are_counted_together(open_browser, person):
    clients = [open_browser() for _ in range(30)]
    with ThreadPoolExecutor(30) as pool:
        answers = list(pool.map(lambda c: c.sign_in(person.email, "wrong"), clients))
    assert codes(answers) == [401] * 6 + [429] * 24
    assert open_browser().sign_in(person.email).status_code == 429  # nor does the right one pass now


def test_twenty_right_ones_at_once_all_pass(open_browser, person):
    clients = [open_browser() for _ in range(20)]
    with ThreadPoolExecutor(20) as pool:
        assert codes(pool.map(lambda c: c.sign_in(person.email), clients)) == [200] * 20


@pytest.mark.parametrize("other", ["{}", " {} ", "{upper}", "{wide}"])
def test_other_spellings_are_the_same_account_to_the_limit(open_browser, person, other):
    wide = "".join(chr(ord(c) + 0xFEE0) if "!" <= c <= "~" else c for c in person.email)  # full-width letters
    spelt = other.format(person.email, upper=person.email.upper(), wide=wide)
    client = open_browser()
    for k in range(6):
        assert client.sign_in(spelt if k % 2 else person.email, "wrong").status_code == 401
    assert client.sign_in(spelt, "wrong").status_code == 429


def test_an_accent_makes_another_account_that_nobody_has(open_browser, person):
    accented = person.email.replace("a", "á", 1)
    assert account_key(accented) != account_key(person.email)
    assert open_browser().sign_in(accented).status_code == 401  # the right password: but not of this account
    assert open_browser().sign_in(person.email).status_code == 200


def test_tries_are_counted_over_accounts_and_addresses(services, open_browser, person):
    client = open_browser()
    for k in range(40):
        assert client.sign_in(f"nobody-{k}@example.test", "wrong").status_code == 401
    assert client.sign_in("nobody-41@example.test", "wrong").status_code == 429


def test_the_count_outlives_the_process_and_ends_with_its_time(services, open_browser, person):
    for _ in range(6):
        open_browser().sign_in(person.email, "wrong")
    again = type(services.throttle)(services.store.engine)  # as another process has it
    with pytest.raises(Exception, match="Too many tries"):
        again.attempt(account_key(person.email), "unknown")
    with services.store.engine.begin() as connection:
        connection.execute(t.throttle.update().values(ends_s=0.0))
    assert open_browser().sign_in(person.email).status_code == 200
    assert services.throttle.purge() >= 0
    with services.store.engine.connect() as connection:
        assert connection.execute(t.throttle.select()).all() == []


def test_sessions_are_listed_and_ended_one_by_one(open_browser, person):
    here, there, third = (open_browser() for _ in range(3))
    for client in (here, there, third):
        client.client.headers["user-agent"] = "Mozilla/5.0 (X11; Linux x86_64) Chrome/140.0 Safari/537.36"
        client.sign_in(person.email)
    listed = here.get("/me/sessions").json()
    assert [(s["this"], s["agent"]) for s in listed].count((True, "Chromium on Linux")) == 1
    assert len(listed) == 3
    theirs = next(s for s in there.get("/me/sessions").json() if s["this"])
    assert len(here.send("DELETE", f"/me/sessions/{theirs['id']}").json()) == 2
    assert there.get("/me").status_code == 401
    assert [s["this"] for s in here.send("DELETE", "/me/sessions").json()] == [True]
    assert third.get("/me").status_code == 401
    assert here.get("/me").status_code == 200


def test_nobody_ends_a_colleagues_session(browser, open_browser, person):
    client = open_browser()
    client.sign_in(person.email)
    mine = client.get("/me/sessions").json()[0]["id"]
    assert browser.send("DELETE", f"/me/sessions/{mine}").status_code == 404
    assert client.get("/me").status_code == 200


def test_a_new_sign_in_may_end_the_old_ones(open_browser, person):
    old, new = open_browser(), open_browser()
    old.sign_in(person.email)
    answer = new.client.post("/api/sign-in", json={"email": person.email, "password": PASSWORD, "end_others": True})
    assert answer.status_code == 200
    assert old.get("/me").status_code == 401


@pytest.mark.parametrize("part", ["seen_at", "expires_at"])
def test_a_session_ends_when_its_life_is_over(services, open_browser, person, part):
    client = open_browser()
    client.sign_in(person.email)
    over = now() - services.sessions.idle - timedelta(seconds=1)
    with services.store.engine.begin() as connection:
        mine = t.sign_in.c.instructor_id == person.id
        connection.execute(t.sign_in.update().where(mine).values({part: over}))
    assert client.get("/me").status_code == 401
    with services.store.front_door() as door:
        assert door.purge_sessions(now() - services.sessions.idle) == 1
        assert list(door.sessions_of(person.id)) == []


def test_use_keeps_a_session_alive(services, open_browser, person):
    client = open_browser()
    client.sign_in(person.email)
    earlier = now() - timedelta(hours=2)
    with services.store.engine.begin() as connection:
        connection.execute(t.sign_in.update().where(t.sign_in.c.instructor_id == person.id).values(seen_at=earlier))
    client.get("/me")
    with services.store.front_door() as door:
        (kept,) = door.sessions_of(person.id)
    assert kept.seen_at > earlier + timedelta(hours=1)


def test_a_live_stream_ends_with_its_session(services, open_browser, person, browser):
    lesson_id = new_lesson(browser, "Watched")
    client = open_browser()
    client.sign_in(person.email)
    got, ended = threading.Event(), threading.Event()

    def watch():
        with client.client.stream("GET", f"/api/lessons/{lesson_id}/live") as stream:
            for _ in stream.iter_text():
                got.set()
        ended.set()

    thread = threading.Thread(target=watch, daemon=True)
    thread.start()
    other = open_browser()
    other.sign_in(person.email)
    for _ in range(200):
        if any(services.hub._watchers.values()):
            break
        threading.Event().wait(0.02)
    other.send("DELETE", "/me/sessions")
    assert ended.wait(10)


@pytest.mark.parametrize(
    ("password", "words"),
    [
        ("short", "12 characters"),
        ("x" * 129, "at most 128"),
        ("password1234", "guessed"),
        ("passwordpassword", "guessed"),
        ("qwertyuiop123", "guessed"),
        ("aaaaaaaaaaaaaaaa", "guessed"),
        ("fine arc 2026", "guessed"),
    ],
)
def test_a_weak_password_is_refused_in_words(password, words):
    with pytest.raises(Refused, match=words):
        refuse_weak(password, ("north@example.test", "North Instructor", "Fine Arc Academy"))


@pytest.mark.parametrize(
    "password",
    ["ferry lantern walnut", "Wälder, Moos und Regen 7", "x7#Kp!2mQz@9", "w" * 3 + "ferry lantern walnut" * 6],
)
def test_a_strong_password_is_taken(password):
    refuse_weak(password, ("north@example.test",))


def test_a_password_is_changed_with_the_old_one_and_ends_other_sessions(open_browser, person):
    here, there = open_browser(), open_browser()
    here.sign_in(person.email)
    there.sign_in(person.email)
    assert here.put("/me/password", {"old": "wrong", "new": "ferry lantern walnut"}).status_code == 401
    weak = here.put("/me/password", {"old": PASSWORD, "new": "passwordpassword"})
    assert (weak.status_code, "guessed" in weak.json()["message"]) == (409, True)
    assert here.put("/me/password", {"old": PASSWORD, "new": "ferry lantern walnut"}).status_code == 200
    assert here.get("/me").status_code == 200
    assert there.get("/me").status_code == 401
    assert there.sign_in(person.email).status_code == 401
    assert there.sign_in(person.email, "ferry lantern walnut").status_code == 200


def endless(size: int, read: list[int]):
    """A body without a length, which counts how much of it is taken."""
    sent = 0
    while sent < size:
        sent += 65_536
        read.append(65_536)
        yield b"x" * 65_536


def test_a_body_is_cut_at_the_routes_size(browser):
    for headers in ({}, {"content-length": str(LARGEST_BODY + 1)}):
        answer = browser.client.post(
            "/api/players",
            content=b'{"name": "' + b"x" * LARGEST_BODY + b'"}',
            headers={"x-csrf-token": browser.csrf, "content-type": "application/json", **headers},
        )
        assert (answer.status_code, answer.json()["code"]) == (413, "too_large"), answer.text
        assert "MB" in answer.json()["message"]


class Untouched:
    """A body that must not be asked for."""

    def __init__(self) -> None:
        self.asked = 0

    async def __call__(self):
        self.asked += 1
        return {"type": "http.request", "body": b"", "more_body": False}


def _scope(path, cookie, method, csrf=b"", *more):
    return {
        "type": "http",
        "asgi": {"version": "3.0"},
        "http_version": "1.1",
        "method": method,
        "scheme": "http",
        "path": path,
        "raw_path": path.encode(),
        "query_string": b"",
        "root_path": "",
        "headers": [(b"host", b"127.0.0.1"), (b"cookie", cookie), (b"x-csrf-token", csrf), *more],
        "client": ("127.0.0.1", 1),
        "server": ("127.0.0.1", 80),
    }


async def _ask(app, path, cookie, method="POST", csrf=b""):
    body, sent = Untouched(), []

    async def send(message):
        sent.append(message)

    scope = _scope(path, cookie, method, csrf, (b"content-length", b"600000000"))
    await app(scope, body, send)
    return sent[0]["status"], body.asked


def test_the_application_asks_for_no_byte_before_the_door(services):
    import anyio

    app = create_app(services)
    paths = [
        (m.upper(), path.replace("{", "").replace("}", ""))
        for path, methods in app.openapi()["paths"].items()
        for m in methods
        if m in ("post", "put", "patch") and path != "/api/sign-in" and "token}" not in path
    ]
    assert len(paths) > 30
    assert anyio.run(_ask, app, "/api/p/guess", b"") == (413, 0)  # by a link there is no door, but a size
    for method, path in paths:
        for cookie in (b"", b"finearc_session=guess"):
            status, asked = anyio.run(_ask, app, path, cookie, method)
            assert (status, asked) == (401, 0), (method, path)


def test_only_its_own_names_are_answered(open_browser):
    answer = open_browser().client.get("/api/health", headers={"host": "evil.example"})
    assert (answer.status_code, answer.json()["code"]) == (421, "host")
    for name in ("127.0.0.1:8420", "localhost", "[::1]:80", "LOCALHOST:1"):
        assert open_browser().client.get("/api/health", headers={"host": name}).status_code == 200


def test_behind_tls_the_cookie_is_secure_and_browsers_keep_to_it(services, person, monkeypatch):
    from starlette.testclient import TestClient

    monkeypatch.setattr(services, "secure", True)
    client = TestClient(create_app(services), base_url="https://127.0.0.1")
    answer = client.post("/api/sign-in", json={"email": person.email, "password": PASSWORD})
    assert "Secure" in answer.headers["set-cookie"]
    assert answer.headers["strict-transport-security"] == "max-age=31536000"


def test_behind_a_proxy_the_sender_is_the_last_one_it_names(services, monkeypatch):
    class Asked:
        client = type("C", (), {"host": "10.0.0.1"})
        headers = {"x-forwarded-for": "6.6.6.6, 192.0.2.7"}  # noqa: RUF012

    assert services.address(Asked()) == "10.0.0.1"
    monkeypatch.setattr(services, "proxied", True)
    assert services.address(Asked()) == "192.0.2.7"
    Asked.headers = {"x-forwarded-for": "2001:db8::1:2:3"}
    assert services.address(Asked()) == "2001:db8::/64"
    Asked.headers = {"x-forwarded-for": "no address"}
    assert services.address(Asked()) == "unknown"


def test_reads_without_end_are_refused_for_a_while(open_browser, person, services, monkeypatch):
    client = open_browser()
    client.sign_in(person.email)
    monkeypatch.setattr(services, "reads", ReadLimit(requests=5, heavy=1))
    told = [client.get("/me").status_code for _ in range(8)]
    assert told == [200] * 5 + [429] * 3
    refused = client.get("/me")
    assert refused.headers["retry-after"] == "10"


def test_whole_documents_have_a_limit_of_their_own(browser, services, monkeypatch):
    lesson_id = new_lesson(browser, "Exported")
    monkeypatch.setattr(services, "reads", ReadLimit(requests=1000, heavy=2))
    told = [browser.get(f"/lessons/{lesson_id}/export").status_code for _ in range(4)]
    assert told == [200, 200, 429, 429]
    assert browser.get(f"/lessons/{lesson_id}").status_code == 200


@pytest.fixture
def seen(tmp_path):
    made = seen_in(tmp_path)
    yield made
    made.close()


def lines(folder: Path, name: str):
    return [json.loads(line) for line in (folder / f"{name}.log").read_text().splitlines()]


def test_what_is_seen_stands_in_logs_without_a_persons_data(
    open_browser, person, services, monkeypatch, tmp_path, seen, browser
):
    lesson_id = new_lesson(browser, "Secret Person")
    monkeypatch.setattr(services, "seen", seen)
    from starlette.testclient import TestClient

    client = TestClient(create_app(services), base_url="http://127.0.0.1")
    client.post("/api/sign-in", json={"email": person.email, "password": "wrong"})
    made = client.post("/api/sign-in", json={"email": person.email, "password": PASSWORD})
    client.get("/api/players?q=Secret Person")
    client.get(f"/api/lessons/{lesson_id}")
    client.post("/api/players", json={"name": "Secret Person"})
    player = client.get(f"/api/lessons/{lesson_id}").json()["player"]["id"]
    token = {"x-csrf-token": made.json()["csrf"]}
    client.post("/api/benchmarks/use", json={"label": "no such ranges"}, headers=token)
    client.post("/api/benchmarks/use", json={"label": ""}, headers=token)
    client.get(f"/api/lessons/{lesson_id}/export")
    client.get(f"/api/players/{player}/export")
    client.delete(f"/api/players/{player}", headers={"x-csrf-token": made.json()["csrf"]})
    events = [e["event"] for e in lines(tmp_path, "security")]
    assert events == ["sign_in_refused", "signed_in", "csrf_refused", "rules_changed", "exported", "exported", "erased"]
    access = lines(tmp_path, "access")
    assert {a["route"] for a in access} >= {"/sign-in", "/players", "/lessons/{lesson_id}"}
    assert all(a["id"] and a["status"] and a["ms"] >= 0 for a in access)
    whole = "".join(p.read_text() for p in tmp_path.glob("*.log"))
    for secret in ("Secret", person.email, PASSWORD, made.json()["csrf"], client.cookies["finearc_session"]):
        assert secret not in whole


def test_what_nobody_foresaw_has_an_id_and_no_values(browser, services, monkeypatch, tmp_path, seen):
    from finearc.services.people import pages

    monkeypatch.setattr(services, "seen", seen)
    monkeypatch.setattr(pages, "bays", lambda _: [][1])
    from starlette.testclient import TestClient

    client = TestClient(create_app(services), base_url="http://127.0.0.1", raise_server_exceptions=True)
    client.cookies.update(browser.client.cookies)
    answer = client.get("/api/diary")
    assert answer.status_code == 500
    told = answer.json()
    assert answer.headers["x-request-id"] in told["message"]
    assert answer.headers["x-content-type-options"] == "nosniff"
    (trouble,) = lines(tmp_path, "trouble")
    assert (trouble["kind"], trouble["id"]) == ("IndexError", answer.headers["x-request-id"])
    assert any("test_door" in frame for frame in trouble["at"])


def test_health_and_readiness_are_open(open_browser, services, monkeypatch):
    client = open_browser().client
    assert client.get("/healthz").json()["status"] == "ok"
    assert client.get("/readyz").json() == {"database": "ok", "disk": "ok"}
    monkeypatch.setattr("finearc.api.routes.watch.is_ready", lambda _: "away")
    answer = client.get("/readyz")
    assert (answer.status_code, answer.json()["database"]) == (503, "away")


def test_only_the_hash_of_a_session_is_kept(services, open_browser, person):
    client = open_browser()
    client.sign_in(person.email)
    with services.store.front_door() as door:
        (kept,) = door.sessions_of(person.id)
    assert isinstance(kept, SignIn)
    assert client.client.cookies["finearc_session"] not in kept.token_hash


@pytest.mark.parametrize("path", ["bundle", "markers", "markers/inspect"])
def test_nor_of_whoever_is_of_another_academy(browser, stranger, services, path):
    import anyio

    app = create_app(services)
    lesson_id = new_lesson(browser, "Not yours")
    told = {}
    for name, who in (("own", browser), ("stranger", stranger)):
        cookie = "; ".join(f"{k}={v}" for k, v in who.client.cookies.items()).encode()
        told[name] = anyio.run(_ask, app, f"/api/lessons/{lesson_id}/{path}", cookie, "POST", who.csrf.encode())
    assert told["stranger"] == (404, 0)
    assert told["own"][0] != 404  # what it would be with the right cookie


def test_who_does_not_take_an_answer_keeps_no_reader_waiting(browser, services, monkeypatch):
    """With one turn at a time: the first answer is never taken, the second is given all the same."""
    import anyio

    monkeypatch.setattr(services, "turns", Turns(1))
    app = create_app(services)
    cookie = "; ".join(f"{k}={v}" for k, v in browser.client.cookies.items()).encode()

    async def both() -> int:
        stuck, told = anyio.Event(), anyio.Event()

        async def never_takes(_):
            told.set()
            await stuck.wait()

        sent = []

        async def takes(message):
            sent.append(message)

        async with anyio.create_task_group() as tasks:
            tasks.start_soon(app, _scope("/api/me", cookie, "GET"), Untouched(), never_takes)
            await told.wait()
            with anyio.fail_after(20):
                await app(_scope("/api/me", cookie, "GET"), Untouched(), takes)
            tasks.cancel_scope.cancel()
        return sent[0]["status"]

    assert anyio.run(both) == 200
