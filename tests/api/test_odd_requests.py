"""Odd requests by the hundred, each operation with real ids: never a 5xx, always a problem in words. ``python -m
validation.attack`` sends ten thousand."""

from __future__ import annotations

from collections import Counter

import pytest
from validation.odd_requests import Odd

from finearc.api.app import create_app
from tests.api.test_contract import ids  # noqa: F401 - a fixture

LEFT = frozenset(
    {
        "POST /api/sign-out",
        "DELETE /api/me/sessions",
        "DELETE /api/me/sessions/{session_id}",
        "DELETE /api/players/{player_id}",
    }
)
"""After these nothing else would be found."""


@pytest.fixture(scope="module")
def description(services):
    return create_app(services).openapi()


@pytest.mark.parametrize("seed", range(4))
def test_no_odd_request_breaks_anything(description, services, browser, ids, seed, monkeypatch):  # noqa: F811
    errors = []
    monkeypatch.setattr(type(services.seen), "trouble", lambda self, _, error: errors.append(error))
    odd = Odd(description, ids, seed)
    told: Counter[int] = Counter()
    for request in odd.requests(3 * len(odd.operations), leave=LEFT):
        answer = browser.client.request(
            request.method,
            request.path,
            params=request.query,
            content=request.content,
            headers={"x-csrf-token": browser.csrf, **request.headers},
        )
        told[answer.status_code] += 1
        assert answer.status_code < 500, (request, answer.text[:300], errors)
        if answer.status_code >= 400:
            assert answer.json()["message"], request
            assert answer.json()["code"] != "internal", request
            assert answer.headers["x-request-id"]
            assert answer.headers["x-content-type-options"] == "nosniff"
    assert told[200] + told[201] + told[202] > 40, told  # not all were odd
    assert told[422] > 30, told
    assert browser.get("/me").status_code == 200
