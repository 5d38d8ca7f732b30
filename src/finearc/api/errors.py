"""Every error as an answer in words: what, where, what to do."""

from __future__ import annotations

from http import HTTPStatus

from fastapi import Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from sqlalchemy.exc import IntegrityError
from starlette.exceptions import HTTPException

from finearc.core.errors import FineArcError
from finearc.store.faults import is_away, is_clash, is_full, is_unfit
from finearc.wording import mark, tr

STATUS = {
    "not_found": 404,
    "not_signed_in": 401,
    "wrong_password": 401,
    "code_needed": 401,
    "wrong_code": 401,
    "second_factor_missing": 403,
    "not_yours": 403,
    "too_many_tries": 429,
    "too_many_reads": 429,
    "busy": 503,
    "csrf": 403,
    "not_allowed": 403,
    "double_booking": 409,
    "outside_hours": 409,
    "refused": 409,
    "overtaken": 409,
    "changed_meanwhile": 412,
    "revision_needed": 428,
    "too_large": 413,
    "host": 421,
}
RETRY_AFTER_S = 2
CODES = {413: "too_large"}
SENTENCES = {
    400: mark("The request cannot be read. Check that its body is complete and of the kind that it says."),
    404: mark("There is nothing here."),
    405: mark("This address does not take that method."),
    415: mark("This address does not take that kind of content."),
}


def problem(status: int, code: str, message: str, headers: dict[str, str] | None = None) -> Response:
    """The one shape of an error."""
    return JSONResponse({"code": code, "message": message}, status, headers)


def answer_to(error: Exception) -> Response | None:
    """The answer to an error that is foreseen; None for one that is not."""
    if isinstance(error, FineArcError):
        details = getattr(error, "details", None)
        more: dict[str, object] = details() if details else {}
        status = STATUS.get(error.code, 422)
        headers = {"Retry-After": str(error.wait_s)} if hasattr(error, "wait_s") else None
        return JSONResponse({"code": error.code, "message": str(error), **more}, status, headers)
    if isinstance(error, RequestValidationError):
        return _invalid(error)
    if isinstance(error, HTTPException):
        return _of_http(error)
    if isinstance(error, UnicodeError):
        return problem(422, "invalid", tr("A text holds a character that cannot be kept. Take it out and try again."))
    return _of_database(error)


def _of_database(error: Exception) -> Response | None:
    if is_unfit(error):
        return problem(422, "invalid", tr("A value is too long or too large to be kept. Shorten it and try again."))
    if isinstance(error, IntegrityError) or is_clash(error):
        return problem(409, "conflict", tr("Someone changed this at the same moment. Reload and try again."))
    if is_full(error):
        return problem(507, "disk_full", tr("The disk is full. Free some space; nothing that was kept is lost."))
    if is_away(error):
        words = tr("The database does not answer. Wait a moment and try again; nothing was lost.")
        return problem(503, "database", words, {"Retry-After": str(RETRY_AFTER_S)})
    return None


def _invalid(error: RequestValidationError) -> Response:
    first = error.errors()[0]
    where = ".".join(_printable(p) for p in first["loc"][1:]) or str(first["loc"][0])
    return problem(422, "invalid", f"{where}: {_printable(first['msg']).removeprefix('Value error, ')}.")


def _printable(part: object) -> str:
    """A piece of what was sent, short and without characters that no answer can carry."""
    return str(part)[:200].encode("utf-8", "replace").decode()


def _of_http(error: HTTPException) -> Response:
    try:
        code = CODES.get(error.status_code) or HTTPStatus(error.status_code).name.lower()
    except ValueError:
        code = "refused"
    words = tr(SENTENCES.get(error.status_code, f"{_printable(error.detail).rstrip('.')}."))
    return problem(error.status_code, code, words, dict(error.headers or {}))


async def handled(_: Request, error: Exception) -> Response:
    """Handler for the errors that a route raises by itself."""
    answer = answer_to(error)
    assert answer is not None
    return answer
