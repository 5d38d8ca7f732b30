"""The API keeps what its OpenAPI description says, whatever is sent."""

from __future__ import annotations

import warnings

import pytest
from hypothesis import HealthCheck, given, settings

from finearc.api.app import create_app


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
