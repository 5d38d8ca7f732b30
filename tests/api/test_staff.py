"""People of an academy: invited by a link, given a role, shut out; and what each role may ask for."""

from __future__ import annotations

import itertools
import uuid
from datetime import timedelta

import pytest

from finearc.api.door import OPENED, DoorRoute
from finearc.api.private import PRIVATE, without_private
from finearc.api.rights import ROUTES, SAFE, TAGS
from finearc.keeping.state import BackupState, write_state
from finearc.services.people.roles import MAY, Right, Role
from finearc.services.people.tokens import hash_token
from finearc.services.records import Author, Instructor, now
from tests.api.conftest import PASSWORD, bundle, drop, new_lesson

NEW = "ferry lantern walnut"


def come_in(browser, open_browser, role, name="Nell Pike"):
    """Invited, in, and signed in: a browser of theirs, and who they are."""
    email = f"{uuid.uuid4().hex[:8]}@example.test"
    made = browser.post("/people/invitations", {"name": name, "email": email, "role": role})
    assert made.status_code == 201, made.text
    theirs = open_browser()
    said = theirs.client.post(f"/api/invitations/{made.json()['path'].rsplit('/', 1)[1]}", json={"password": NEW})
    assert said.status_code == 200, said.text
    assert theirs.sign_in(email, NEW).status_code == 200
    me = theirs.get("/me").json()
    assert (me["role"], me["instructor"]) == (role, name)
    return theirs, me


@pytest.fixture(scope="module")
def of_role(browser, open_browser):
    """A browser for each role."""
    return {role: come_in(browser, open_browser, role, f"The {role}")[0] for role in Role}


def api_routes(app):
    """Every route behind the door, wherever it was included."""
    within = [r for one in app.routes for r in getattr(getattr(one, "original_router", None), "routes", [])]
    return [r for r in (*app.routes, *within) if isinstance(r, DoorRoute)]


def test_every_route_asks_for_a_right_and_every_right_named_is_a_route_s(browser):
    routes = api_routes(browser.client.app)
    assert {str(r.tags[0]) for r in routes if not r.open} <= set(TAGS)
    assert set(ROUTES) | set(OPENED) <= {r.name for r in routes}
    assert set(TAGS) <= {str(r.tags[0]) for r in routes}
    assert len(routes) > 150


def test_each_role_is_refused_what_is_not_theirs_on_every_route(browser, of_role):
    """Every route × every role: 403 exactly where the role lacks the right, before anything is looked at."""
    routes = {(m, r.path): r for r in api_routes(browser.client.app) for m in r.methods}
    asked = 0
    for role, theirs in of_role.items():
        for (method, path), route in routes.items():
            if route.open or method in ("HEAD", "OPTIONS") or "/me" in path or path.endswith(("sign-out", "/live")):
                continue
            filled = path
            for part in path.split("/"):
                if part.startswith("{"):
                    filled = filled.replace(part, str(uuid.uuid4()))
            if route.right in MAY[role]:
                continue
            answer = theirs.send(method, filled, content=b"{")
            assert (answer.status_code, answer.json()["code"]) == (403, "not_allowed"), (role, method, path)
            asked += 1
    assert asked > 200


def test_roles_grow_from_viewer_to_owner():
    order = [MAY[r] for r in (Role.VIEWER, Role.ASSISTANT, Role.INSTRUCTOR, Role.OWNER)]
    assert all(a < b for a, b in itertools.pairwise(order))
    assert MAY[Role.OWNER] == frozenset(Right)
    assert SAFE == ("GET", "HEAD", "OPTIONS")


def test_an_assistant_captures_and_sees_neither_plan_nor_notes_on_pain(browser, of_role):
    lesson = new_lesson(browser, "Fitted By Another")
    drop(browser, lesson, bundle("over-extended", 11, sources=("wrist", "club")))
    browser.put(f"/lessons/{lesson}/plan", {"priorities": [{"label": "Slower", "finding": ""}]})
    browser.patch(f"/lessons/{lesson}", {"pain": "yes", "pain_note": "the left knee, going down stairs"})
    whole, told = browser.get(f"/lessons/{lesson}"), of_role[Role.ASSISTANT].get(f"/lessons/{lesson}")
    assert "left knee" in whole.text
    assert "Slower" in whole.text
    assert "left knee" not in told.text
    assert "Slower" not in told.text
    seen = told.json()
    assert (seen["pain"], seen["pain_note"], seen["priorities"]) == ("yes", "", [])
    assert len(seen["swings"]) == len(whole.json()["swings"]) > 0
    assert of_role[Role.ASSISTANT].patch(f"/swings/{seen['swings'][0]['id']}", {"strike": "heel"}).status_code == 200
    assert of_role[Role.ASSISTANT].put(f"/lessons/{lesson}/plan", {"priorities": []}).status_code == 403
    assert of_role[Role.ASSISTANT].patch(f"/lessons/{lesson}", {"note": "over yours"}).status_code == 403
    said = of_role[Role.ASSISTANT].patch(f"/lessons/{lesson}", {"pain": "yes", "pain_note": "and the back"})
    assert said.status_code == 200
    assert "left knee" not in said.text
    assert browser.get(f"/lessons/{lesson}").json()["pain_note"] == "the left knee, going down stairs\nand the back"
    assert "Slower" not in of_role[Role.ASSISTANT].get(f"/players/{seen['player']['id']}").text


def test_what_is_left_out_keeps_its_shape():
    whole = {"pain_note": "knee", "priorities": [1], "swings": [{"note": "x", "n": 1}], "limits": [{"note": "back"}]}
    told = without_private(whole)
    assert told == {"pain_note": "", "priorities": [], "swings": [{"note": "", "n": 1}], "limits": [{"note": "back"}]}
    assert "limits" not in PRIVATE


def test_a_link_works_once_and_not_after_it_was_taken_back(browser, open_browser):
    email = f"{uuid.uuid4().hex[:8]}@example.test"
    asked = {"name": "Once", "email": email, "role": "instructor"}
    first = browser.post("/people/invitations", asked).json()["path"].rsplit("/", 1)[1]
    again = browser.post("/people/invitations", asked).json()
    token = again["path"].rsplit("/", 1)[1]
    anybody = open_browser().client
    assert anybody.get(f"/api/invitations/{first}").status_code == 404  # the second took its place
    told = anybody.get(f"/api/invitations/{token}").json()
    assert (told["academy"], told["role"], told["again"]) == ("North", "instructor", False)
    assert anybody.post(f"/api/invitations/{token}", json={"password": "short"}).status_code == 409
    assert anybody.post(f"/api/invitations/{token}", json={"password": NEW}).status_code == 200
    assert anybody.post(f"/api/invitations/{token}", json={"password": NEW}).status_code == 404
    open_ones = browser.post("/people/invitations", {**asked, "email": "back@example.test"}).json()["staff"]["invited"]
    gone = next(i for i in open_ones if i["email"] == "back@example.test")
    left = browser.send("DELETE", f"/people/invitations/{gone['id']}").json()
    assert gone["id"] not in {i["id"] for i in left["invited"]}


def test_an_account_that_is_there_is_not_taken_over_by_an_invitation(browser, open_browser, stranger):
    """The other academy's owner is invited here: their account stays theirs."""
    path = browser.post(
        "/people/invitations", {"name": "South", "email": "South@Example.test", "role": "owner"}
    ).json()["path"]
    token = path.rsplit("/", 1)[1]
    assert open_browser().client.post(f"/api/invitations/{token}", json={"password": NEW}).status_code == 409
    assert open_browser().sign_in("south@example.test", PASSWORD).status_code == 200


def test_a_reset_link_ends_all_sessions_and_gives_another_password(browser, open_browser):
    theirs, me = come_in(browser, open_browser, Role.INSTRUCTOR, "Forgetful")
    path = browser.post(f"/instructors/{me['instructor_id']}/reset").json()["path"]
    token = path.rsplit("/", 1)[1]
    assert open_browser().client.get(f"/api/invitations/{token}").json()["again"] is True
    other = "harbour copper meadow"
    assert open_browser().client.post(f"/api/invitations/{token}", json={"password": other}).status_code == 200
    assert theirs.get("/me").status_code == 401
    email = next(p["email"] for p in browser.get("/people").json()["people"] if p["name"] == "Forgetful")
    assert open_browser().sign_in(email, NEW).status_code == 401
    assert open_browser().sign_in(email, other).status_code == 200


def test_who_is_shut_out_is_out_at_once_and_may_come_back(browser, open_browser):
    theirs, me = come_in(browser, open_browser, Role.INSTRUCTOR, "Leaving")
    key = me["instructor_id"]
    email = next(p["email"] for p in browser.get("/people").json()["people"] if p["id"] == key)
    assert browser.post(f"/instructors/{key}/left").status_code == 200
    assert theirs.get("/players").status_code == 401
    assert open_browser().sign_in(email, NEW).status_code == 401
    assert browser.post(f"/instructors/{key}/reset").status_code == 409
    assert key not in {
        i["id"] for i in browser.get("/diary/span?first=2026-12-01&last=2026-12-01").json()["instructors"]
    }
    assert browser.post(f"/instructors/{key}/back").status_code == 200
    assert open_browser().sign_in(email, NEW).status_code == 200


def test_the_last_owner_stays(services, stranger):
    """South has one owner, who may neither leave nor become less."""
    key = stranger.get("/me").json()["instructor_id"]
    for answer in (
        stranger.put(f"/instructors/{key}/role", {"role": "instructor"}),
        stranger.post(f"/instructors/{key}/left"),
    ):
        assert answer.status_code == 409
        assert "last owner" in answer.json()["message"]
    assert stranger.get("/me").json()["role"] == "owner"


def test_another_role_holds_with_the_next_click(browser, open_browser):
    theirs, me = come_in(browser, open_browser, Role.VIEWER, "Rising")
    assert theirs.get("/players").status_code == 403
    browser.put(f"/instructors/{me['instructor_id']}/role", {"role": "instructor"})
    assert theirs.get("/players").status_code == 200
    assert theirs.get("/people").status_code == 403


def test_every_look_at_a_player_stands_in_the_log_and_nobody_can_change_it(browser, open_browser, services, north):
    theirs, _ = come_in(browser, open_browser, Role.INSTRUCTOR, "Looking")
    lesson = new_lesson(browser, "Looked At")
    player = browser.get(f"/lessons/{lesson}").json()["player"]["id"]
    for _ in range(3):
        theirs.get(f"/players/{player}")
        theirs.get(f"/lessons/{lesson}")
    theirs.get(f"/players/{player}/export")
    log = browser.get(f"/people/log?player={player}").json()
    mine = [(x["what"], x["how"], x["player"]) for x in log if x["who"] == "Looking"]
    assert sorted(mine) == [
        ("lesson", "opened", "Looked At"),
        ("player", "exported", "Looked At"),
        ("player", "opened", "Looked At"),
    ]
    assert theirs.get("/people/log").status_code == 403
    with services.store.unit_of_work(north) as uow:
        assert uow.find(Author, how="exported")
        assert uow.find(Instructor, name="Looking")
    older = browser.get("/people/log").json()
    page = browser.get("/people/log", params={"before": older[-1]["at"]}).json()
    assert not {x["id"] for x in page} & {x["id"] for x in older}


def test_a_look_that_was_refused_does_not_stand_in_the_log(stranger, browser):
    lesson = new_lesson(browser, "Not Theirs")
    assert stranger.get(f"/lessons/{lesson}").status_code == 404
    assert [x for x in stranger.get("/people/log").json() if x["what"] == "lesson"] == []


def test_an_owner_reads_how_old_the_last_verified_backup_is(browser, services, of_role, tmp_path, monkeypatch):
    monkeypatch.setattr(services, "folder", None)
    assert browser.get("/people/backup").json() == {
        **{"made_at": None, "verified_at": None, "swings": 0, "trouble": "", "late": True},
    }
    monkeypatch.setattr(services, "folder", tmp_path)
    at = now().isoformat(timespec="seconds")
    write_state(tmp_path, BackupState("/mnt/b", at, at, 166))
    told = browser.get("/people/backup").json()
    assert (told["swings"], told["late"], told["trouble"]) == (166, False, "")
    assert told["verified_at"].startswith(at[:19])
    assert of_role[Role.INSTRUCTOR].get("/people/backup").status_code == 403


def test_links_that_are_long_over_go_and_those_that_are_open_stay(browser, services):
    kept = browser.post("/people/invitations", {"name": "Stays", "email": "stays@x.test", "role": "viewer"}).json()
    old = browser.post("/people/invitations", {"name": "Goes", "email": "goes@x.test", "role": "viewer"}).json()
    with services.store.front_door() as door:
        door.invitation(hash_token(old["path"].rsplit("/", 1)[1])).expires_at = now() - timedelta(days=8)
    with services.store.front_door() as door:
        assert door.purge_invitations(now() - timedelta(days=7)) == 1
        assert door.invitation(hash_token(kept["path"].rsplit("/", 1)[1])) is not None
