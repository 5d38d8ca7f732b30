"""The web application: routes, errors in plain words, security headers, the built interface."""

from __future__ import annotations

from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, Response
from sqlalchemy.exc import IntegrityError, OperationalError
from starlette.staticfiles import StaticFiles

from finearc import __version__
from finearc.api.context import Services
from finearc.api.models import Problem
from finearc.api.routes import front, ground, jobs, judging, lesson, markers
from finearc.core.errors import FineArcError
from finearc.reports.maker import PAGE_STYLE
from finearc.services.lesson.ids import named_enums

STATUS = {
    "not_found": 404,
    "not_signed_in": 401,
    "wrong_password": 401,
    "too_many_tries": 429,
    "csrf": 403,
    "double_booking": 409,
    "refused": 409,
    "overtaken": 409,
}
CSP = (
    "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self'; media-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": CSP,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "X-Frame-Options": "DENY",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
    "Cross-Origin-Opener-Policy": "same-origin",
}
ERRORS: dict[int | str, dict[str, Any]] = {
    code: {"model": Problem} for code in (400, 401, 403, 404, 409, 413, 422, 429, 503)
}


def _problem(status: int, code: str, message: str) -> JSONResponse:
    return JSONResponse({"code": code, "message": message}, status)


async def _fine_arc_error(_: Request, error: Exception) -> Response:
    assert isinstance(error, FineArcError)
    return _problem(STATUS.get(error.code, 422), error.code, str(error))


async def _validation_error(_: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    where = ".".join(str(p) for p in first["loc"][1:]) or str(first["loc"][0])
    return _problem(422, "invalid", f"{where}: {first['msg'].removeprefix('Value error, ')}.")


async def _store_error(_: Request, error: Exception) -> Response:
    if isinstance(error, IntegrityError):
        return _problem(409, "conflict", "Someone changed this at the same moment. Reload and try again.")
    return _problem(503, "database", "The database does not answer. Wait a moment and try again; nothing was lost.")


def create_app(services: Services, web: Path | None = None) -> FastAPI:
    """The application on wired services; ``web`` is the built interface."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        yield
        services.closing.set()
        services.hub.end()
        services.devices.end_all()

    app = FastAPI(
        title="Fine Arc",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses=ERRORS,
        generate_unique_id_function=lambda route: route.name,
    )
    app.state.services = services
    app.add_exception_handler(FineArcError, _fine_arc_error)
    app.add_exception_handler(RequestValidationError, _validation_error)
    app.add_exception_handler(OperationalError, _store_error)
    app.add_exception_handler(IntegrityError, _store_error)

    @app.middleware("http")
    async def headers(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        response = await call_next(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        if request.url.path.startswith("/api"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    app.include_router(front.router, prefix="/api")
    app.include_router(lesson.router, prefix="/api")
    app.include_router(markers.router, prefix="/api")
    app.include_router(ground.router, prefix="/api")
    app.include_router(judging.router, prefix="/api")
    app.include_router(jobs.router, prefix="/api")

    @app.get("/api/health", tags=["health"])
    def health() -> dict[str, str]:
        """Whether the application answers."""
        return {"status": "ok", "version": __version__}

    @app.get("/page.css", include_in_schema=False)
    def page_style() -> FileResponse:
        return FileResponse(PAGE_STYLE, media_type="text/css")

    @app.api_route("/api/{rest:path}", methods=["GET", "POST", "PUT", "PATCH", "DELETE"], include_in_schema=False)
    def nothing(rest: str) -> Response:
        return _problem(404, "not_found", f"/api/{rest}: there is nothing here.")

    described = app.openapi
    app.openapi = lambda: app.openapi_schema or named_enums(described())  # type: ignore[method-assign]
    if web is not None and (web / "index.html").exists():
        _serve_interface(app, web)
    return app


class Precompressed(StaticFiles):
    """Hashed files, the ``.br`` or ``.gz`` beside them when the browser takes it, kept for ever."""

    async def get_response(self, path: str, scope: Any) -> Response:
        accepts = dict(scope["headers"]).get(b"accept-encoding", b"").decode()
        for encoding, ending in (("br", ".br"), ("gzip", ".gz")):
            if encoding in accepts:
                full, stat = self.lookup_path(path + ending)
                if stat is not None:
                    response: Response = FileResponse(full, media_type=_media_type(path))
                    response.headers["Content-Encoding"] = encoding
                    break
        else:
            response = await super().get_response(path, scope)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        response.headers["Vary"] = "Accept-Encoding"
        return response


def _media_type(path: str) -> str:
    kinds = {".js": "text/javascript", ".css": "text/css", ".svg": "image/svg+xml", ".woff2": "font/woff2"}
    return kinds.get(Path(path).suffix, "application/octet-stream")


def _serve_interface(app: FastAPI, web: Path) -> None:
    app.mount("/assets", Precompressed(directory=web / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def interface(path: str) -> FileResponse:
        candidate = (web / path).resolve()
        inside = candidate.is_relative_to(web.resolve()) and candidate.is_file() and path != "index.html"
        return FileResponse(candidate if inside else web / "index.html", headers={"Cache-Control": "no-cache"})
