"""The API keeps what its OpenAPI description says, whatever is sent."""

from __future__ import annotations

import re
import warnings
from uuid import uuid4

import jsonschema_rs
import pytest
from hypothesis import HealthCheck, given, settings

from finearc.api.app import create_app
from finearc.api.door import OWNED
from finearc.devices.link.messages import Hello
from finearc.devices.link.owner import TokenOwner
from finearc.services.people.tokens import hash_token
from finearc.services.records import MarkerPreset
from tests.api.conftest import bring_round, bundle, drop, new_lesson, round_zip
from tests.api.test_clips import send as send_clip
from tests.api.test_handed_over import CLIP, piece
from tests.formats.test_benchmarks import OWN


@pytest.fixture(scope="module")
def description(services):
    return create_app(services).openapi()


def test_every_route_is_described_with_its_errors(description):
    for path, methods in description["paths"].items():
        for method, operation in methods.items():
            assert operation.get("summary") or operation.get("description"), (method, path)
            assert {"401", "404", "422"} <= set(operation["responses"]), (method, path)


def test_operation_names_are_unique(description):
    names = [o["operationId"] for methods in description["paths"].values() for o in methods.values()]
    assert len(names) == len(set(names))


def test_examples_stand_in_the_description(description):
    shapes = description["components"]["schemas"]
    assert shapes["SignInRequest"]["properties"]["email"]["examples"]
    assert shapes["PlayerIn"]["properties"]["name"]["examples"]


ANYBODYS = {"drill_id", "token", "feed_token", "invitation_token"}
"""Ids that are not an academy's own, and the private link, which opens what it opens for whoever holds it."""
BY_LINK = "token}"
NO_EVENTS = b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nEND:VCALENDAR\r\n"
OWN_CHECK = {"session_id", "finding_id"}
"""A person's own sessions, and findings by the name the academy gave them: looked for among their own only."""
OPEN = {"/api/sign-in", "/api/health", "/healthz", "/readyz"}


@pytest.fixture(scope="module")
def ids(services, browser):
    """Real ids for every path of the API, and a query where one is needed."""
    lesson_id = new_lesson(browser, "Contract Person")
    drop(browser, lesson_id, bundle("over-extended", 11, sources=("wrist", "club")))
    assert browser.put(f"/lessons/{lesson_id}/practice", {"minutes": {"2": 20}}).status_code == 200
    link = browser.post(f"/lessons/{lesson_id}/links", {"days": 7, "purpose": "practice"}).json()
    lesson = browser.lesson(lesson_id)
    swing = lesson["swings"][0]
    block = {"kind": "test", "metric": "lead_wrist_extension", "moment": "top"}
    blocks = browser.post(f"/lessons/{lesson_id}/blocks", block).json()["blocks"]
    limit = {"area": "wrist", "side": "lead", "movement": "flexion"}
    player = browser.post(f"/players/{lesson['player']['id']}/limits", limit).json()
    own = browser.send("POST", "/academy-rules/import", files={"file": ("own.toml", OWN, "application/toml")}).json()
    reference = browser.post("/references", {"form": "swing", "swing_ids": [swing["id"]]}).json()
    with services.store.front_door() as door:
        north = next(a.id for a in door.academies() if a.name == "North")
    preset = MarkerPreset(north, "Ours", "k" * 64, "right")
    with services.store.unit_of_work(north) as uow:
        uow.add(preset)
    me = browser.get("/me").json()["instructor_id"]
    wish = {"player_id": player["id"], "first": "2035-01-01", "last": "2035-01-02"}
    calendar = {"files": {"file": ("ours.ics", NO_EVENTS, "text/calendar")}}
    feed = browser.post(f"/instructors/{me}/feeds").json()
    invited = browser.post("/people/invitations", {"name": "N", "email": "n@example.test", "role": "viewer"}).json()
    return {
        "instructor_id": me,
        "waiting_id": browser.post("/waiting", wish).json()[-1]["id"],
        "calendar_id": browser.send("POST", f"/instructors/{me}/busy", **calendar).json()["busy"][-1]["id"],
        "feed_id": feed["id"],
        "invitation_id": invited["staff"]["invited"][0]["id"],
        "invitation_token": invited["path"].split("/")[-1],
        "log_key": a_log(services, browser),
        "feed_token": feed["path"].split("/")[-2],
        "course_id": browser.post(f"/players/{player['id']}/courses", {"lessons": 5}).json()[-1]["id"],
        "lesson_id": lesson_id,
        "token": link["path"].split("/")[-1],
        "swing_id": swing["id"],
        "player_id": player["id"],
        "limit_id": player["limits"][0]["id"],
        "recording_id": lesson["recordings"][0]["id"],
        "block_id": blocks[-1]["id"],
        "reference_id": reference["id"],
        "preset_id": str(preset.id),
        "finding_id": own["findings"][0]["id"],
        "drill_id": "peg_pointer",
        "job_id": browser.get("/jobs").json()[0]["id"],
        "token_id": browser.post("/bays/tokens", {"bay": "Bay 1", "name": "wrist pair"}).json()["id"],
        "session_id": browser.get("/me/sessions").json()[0]["id"],
        "search_id": browser.post("/searches", {"name": "Ours", "query": "driver"}).json()["id"],
        "link_id": browser.post(f"/lessons/{lesson_id}/links", {"days": 7}).json()["id"],
        "clip_id": send_clip(browser, swing["id"]).json()["clips"][0]["id"],
        "round_id": bring_round(browser, player["id"], round_zip())["round_id"],
        "number": 0,
        "view": "front",
        "kind": "traces",
        "measuring": swing["measuring"],
    }


def a_log(services, browser) -> str:
    """The key of a log that clips have handed over in a bay of ours."""
    token = browser.post("/bays/tokens", {"bay": "Bay 1", "name": "dock"}).json()["token"]
    told = {"device": {"id": "dock", "boot": 1}, "streams": [CLIP], "type": "hello", "protocol": 1, "log": True}
    hello = Hello.model_validate({**told, "token": token})
    with services.store.front_door() as door:
        bay, token_id = door.bay_of_token(hash_token(token))
    outlet = Heard()
    log = services.logs.welcome(TokenOwner(bay.academy_id, bay.id, bay.name, token_id), hello, outlet, 0)
    services.logs.frame(log, piece(0, 10))
    services.logs.gone(log, outlet, done=True)
    return log.folder.name


class Heard:
    """A device that reads what it is told."""

    def tell(self, message):
        """Nothing depends on it."""

    def close(self, error):
        raise error


def operations(description):
    for path, methods in description["paths"].items():
        for method, operation in methods.items():
            yield method.upper(), path, operation


def asked_with(path, ids):
    """What a read needs beside its address."""
    if path.endswith("/differences"):
        return {"before": "builtin-5", "after": "builtin-5"}
    if path.startswith("/api/compare"):
        sides = {"a": f"lesson:{ids['lesson_id']}", "b": f"swing:{ids['swing_id']}"}
        return {**sides, "metric": "lead_wrist_extension"}
    return None


def test_every_read_answers_real_ids_in_the_shape_it_describes(description, browser, ids):
    asked = 0
    for method, path, operation in operations(description):
        if method != "GET" or path.endswith("/live"):
            continue
        query = asked_with(path, ids)
        answer = browser.client.get(path.format(**ids), params=query)
        assert answer.status_code == 200, (path, answer.text[:300])
        asked += 1
        content = operation["responses"]["200"].get("content", {})
        if "application/json" in content and answer.headers["content-type"] == "application/json":
            shape = {**content["application/json"]["schema"], "components": description["components"]}
            jsonschema_rs.validator_for(shape).validate(answer.json())
    assert asked >= 28


def asked(description):
    """Generated: every operation with whether it names a record, asked without a body."""
    for method, path, operation in operations(description):
        names = {p["name"] for p in operation.get("parameters", []) if p["in"] == "path"} - ANYBODYS
        yield method, path, bool(names)


def test_every_name_in_a_path_has_its_record_behind_the_door(description):
    named = {n for _, path, _ in operations(description) for n in re.findall(r"{(\w+_id)}", path)}
    assert named - ANYBODYS - set(OWNED) == OWN_CHECK


def test_nobody_comes_past_the_door(description, open_browser, ids):
    """Every route but the open ones refuses whoever is not signed in, before it looks at anything that is sent."""
    nobody, refused = open_browser(), 0
    for method, path, _ in asked(description):
        if path not in OPEN and BY_LINK not in path:
            answer = nobody.send(method, path.format(**ids).removeprefix("/api"), content=b"{")
            assert (answer.status_code, answer.json()["code"]) == (401, "not_signed_in"), (method, path)
            refused += 1
    assert refused >= 70


def test_a_link_that_nobody_made_opens_nothing(description, open_browser):
    """Routes by a private link: without a session, and only for a link that is there."""
    paths = [(method, path) for method, path, _ in asked(description) if BY_LINK in path]
    assert len(paths) == 6
    for method, path in paths:
        said = {"password": "ferry lantern walnut"} if "/invitations/" in path else {"answers": [A_TICK]}
        guessed = path.format(token="guessed", feed_token="guessed", invitation_token="guessed")
        answer = open_browser().send(
            method, guessed.removeprefix("/api"), **({} if method == "GET" else {"json": said})
        )
        assert (answer.status_code, answer.json()["code"]) == (404, "not_found"), (method, path)


A_TICK = {"key": "a-tick-of-one", "kind": "done", "plan": str(uuid4()), "at": "2026-06-01T08:00:00Z", "block": 0}


def test_no_route_reaches_another_academys_records(description, browser, stranger, ids):
    """Every route that names a record answers 404 to another academy, whatever it is sent, and touches nothing."""
    tried = 0
    kept = browser.lesson(ids["lesson_id"])
    for method, path, names_a_record in asked(description):
        if names_a_record:
            for content in (b"", b"{", b"{}"):
                answer = stranger.send(method, path.format(**ids).removeprefix("/api"), content=content)
                assert answer.status_code == 404, (method, path, answer.status_code, answer.text[:200])
            tried += 1
    assert tried >= 35
    assert browser.lesson(ids["lesson_id"]) == kept


def test_the_owner_reaches_every_record(description, browser, ids):
    """The same for whom it belongs to: found, whatever else may be wrong with an empty body. Nothing that takes
    something away is asked."""
    tried = 0
    for method, path, names_a_record in asked(description):
        if names_a_record and method != "DELETE" and not path.endswith("/live"):
            answer = browser.send(method, path.format(**ids).removeprefix("/api"), content=b"{")
            assert answer.status_code not in (401, 403, 404), (method, path, answer.text[:200])
            tried += 1
    assert tried >= 30


def test_no_request_of_any_shape_breaks_the_server(services, browser):
    """Generated requests for every operation: never a 5xx, always a problem in words."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import schemathesis

        schema = schemathesis.openapi.from_asgi("/api/openapi.json", create_app(services))
        operations = [r.ok() for r in schema.get_all_operations()]
    assert len(operations) > 30
    for operation in operations:
        if operation.path.endswith("/live") or "/recordings" in operation.path or "sign-out" in operation.path:
            continue

        @given(case=operation.as_strategy())
        @settings(max_examples=8, deadline=None, database=None, suppress_health_check=list(HealthCheck))
        def send(case):
            path = case.formatted_path.removeprefix("/api")
            body = case.body if isinstance(case.body, dict | list) else None
            answer = browser.send(case.method, path, json=body, params=case.query or None)
            assert answer.status_code < 500, (case.method, path, answer.text[:300])
            if answer.status_code >= 400:
                assert answer.json()["message"]

        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            send()
