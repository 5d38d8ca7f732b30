"""The page as HTML and as PDF."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, select_autoescape

HERE = Path(__file__).parent
PAGE_STYLE = HERE / "page.css"


class Pages:
    """Implements ``PageMaker``. The PDF library loads on first use: it takes seconds."""

    def __init__(self) -> None:
        environment = Environment(loader=FileSystemLoader(HERE), autoescape=select_autoescape(["html"]))
        self._template = environment.get_template("page.html")
        self._style = PAGE_STYLE.read_text(encoding="utf-8")

    def html(self, page: Mapping[str, Any]) -> str:
        return self._template.render(page=page)

    def pdf(self, page: Mapping[str, Any]) -> bytes:
        from weasyprint import CSS, HTML

        made = HTML(string=self.html(page), base_url=str(HERE)).write_pdf(
            stylesheets=[CSS(string=self._style)], pdf_variant="pdf/ua-1"
        )
        return bytes(made)
