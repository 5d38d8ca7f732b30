"""The web application: routes, errors in plain words, the built interface."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, Response
from starlette.datastructures import Headers
from starlette.exceptions import HTTPException
from starlette.staticfiles import StaticFiles

from finearc import __version__
from finearc.api.context import Services
from finearc.api.errors import handled, problem
from finearc.api.models import Clash, NoPlace, Problem
from finearc.api.outer import LOOPBACK, Outer
from finearc.api.routes import (
    bays,
    clips,
    comparing,
    diary,
    feed,
    front,
    ground,
    jobs,
    judging,
    lesson,
    link,
    markers,
    own_rules,
    periods,
    practice,
    putting,
    rounds,
    searching,
    second_factor,
    sharing,
    sign_in,
    staff,
    table,
    training,
    watch,
)
from finearc.core.errors import FineArcError
from finearc.services.lesson.ids import named_enums
from finearc.wording import tr

ERRORS: dict[int | str, dict[str, Any]] = {
    **{code: {"model": Problem} for code in (400, 401, 403, 404, 405, 413, 421, 422, 428, 429, 503, 507)},
    409: {"model": Problem | NoPlace},
    412: {"model": Clash},
}


def create_app(services: Services, web: Path | None = None) -> FastAPI:
    """The application on wired services; ``web`` is the built interface."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        if services.link is not None:
            services.link.begin()
        yield
        services.closing.set()
        services.hub.end()
        services.devices.end_all()
        if services.link is not None:
            services.link.close()

    app = FastAPI(
        title=tr("Fine Arc"),
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses=ERRORS,
        generate_unique_id_function=lambda route: route.name,
    )
    app.state.services = services
    for kind in (FineArcError, RequestValidationError, HTTPException, UnicodeError):
        app.add_exception_handler(kind, handled)
    app.add_middleware(Outer, seen=services.seen, hosts=(*LOOPBACK, *services.hosts), tls=services.secure)

    app.include_router(sign_in.router, prefix="/api")
    app.include_router(front.router, prefix="/api")
    app.include_router(second_factor.router, prefix="/api")
    app.include_router(staff.router, prefix="/api")
    app.include_router(periods.router, prefix="/api")
    app.include_router(staff.openers, prefix="/api")
    app.include_router(staff.by_link, prefix="/api")
    app.include_router(diary.router, prefix="/api")
    app.include_router(diary.fed, prefix="/api")
    app.include_router(lesson.router, prefix="/api")
    app.include_router(clips.router, prefix="/api")
    app.include_router(markers.router, prefix="/api")
    app.include_router(ground.router, prefix="/api")
    app.include_router(judging.router, prefix="/api")
    app.include_router(own_rules.router, prefix="/api")
    app.include_router(jobs.router, prefix="/api")
    app.include_router(bays.router, prefix="/api")
    app.include_router(training.router, prefix="/api")
    app.include_router(comparing.router, prefix="/api")
    app.include_router(table.router, prefix="/api")
    app.include_router(sharing.router, prefix="/api")
    app.include_router(searching.router, prefix="/api")
    app.include_router(putting.router, prefix="/api")
    app.include_router(rounds.router, prefix="/api")
    app.include_router(practice.router, prefix="/api")
    app.include_router(practice.by_link, prefix="/api")
    app.include_router(sharing.shared)
    app.include_router(link.router)
    app.include_router(feed.router)

    app.include_router(watch.router)

    @app.get("/api/health", tags=["health"])
    def health() -> dict[str, str]:
        """Whether the application answers."""
        return {"status": "ok", "version": __version__}

    @app.api_route("/api/{rest:path}", methods=["GET", "POST", "PUT", "PATCH", "DELETE"], include_in_schema=False)
    def nothing(rest: str) -> Response:
        return problem(404, "not_found", f"/api/{rest}: there is nothing here.")

    described = app.openapi
    app.openapi = lambda: app.openapi_schema or named_enums(described())  # type: ignore[method-assign]
    if web is not None and (web / "index.html").exists():
        _serve_interface(app, web)
    return app


class Precompressed(StaticFiles):
    """Hashed files, the ``.br`` or ``.gz`` beside them when the browser takes it, kept for ever."""

    async def get_response(self, path: str, scope: Any) -> Response:
        if "\0" in path:
            raise HTTPException(404)
        accepts = Headers(scope=scope).get("accept-encoding", "")
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
    root = web.resolve()
    private = {"Cache-Control": "no-cache", "X-Robots-Tag": "noindex, nofollow"}

    @app.get("/p/sw.js", include_in_schema=False)
    def practice_offline() -> FileResponse:
        return FileResponse(root / "practice-sw.js", media_type="text/javascript", headers=private)

    @app.get("/p/{token}", include_in_schema=False)
    def practice_by_link(token: str) -> FileResponse:
        return FileResponse(root / "practice.html", headers=private)

    @app.get("/{path:path}", include_in_schema=False)
    def interface(path: str) -> FileResponse:
        return FileResponse(_file_of(root, path) or root / "index.html", headers={"Cache-Control": "no-cache"})


def _file_of(root: Path, path: str) -> Path | None:
    """A file of the interface, None for an address of one of its screens."""
    try:
        candidate = (root / path).resolve()
        there = candidate.is_relative_to(root) and candidate.is_file()
    except (OSError, ValueError):  # no name that a file can have
        return None
    return candidate if there and path != "index.html" else None
