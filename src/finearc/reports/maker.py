"""The page as HTML and as PDF."""

from __future__ import annotations

from base64 import b64encode
from collections.abc import Mapping
from hashlib import sha256
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, select_autoescape
from markupsafe import Markup

from finearc.wording import manner, tr, trn

HERE = Path(__file__).parent
PAGE_STYLE = HERE / "page.css"
FONT = HERE / "fonts" / "atkinson-hyperlegible-next-latin-wght-normal.woff2"
FACE = (
    '@font-face {{ font-family: "Atkinson Hyperlegible Next"; font-weight: 200 800; '
    "src: url(data:font/woff2;base64,{font}) format('woff2'); }}\n"
)


KINDS = ("page", "record", "practice", "gone")


def titled(svg: str, title: str) -> Markup:
    """A drawing of our own with what it shows in words, which is its alternate text in the PDF too (Matterhorn Protocol
    1.1, checkpoint 13; from memory)."""
    start = svg.index(">") + 1
    return Markup("{}<title>{}</title>{}").format(Markup(svg[:start]), title, Markup(svg[start:]))


class Pages:
    """Implements ``PageMaker``: pages that need nothing beside them, their font included; which template is used says
    the content's ``kind``. ``policy``: what a browser that shows one may load, which is nothing
    (Content-Security-Policy). The PDF library loads on first use: it takes seconds."""

    def __init__(self) -> None:
        environment = Environment(loader=FileSystemLoader(HERE), autoescape=select_autoescape(["html"]))
        environment.filters["titled"] = titled
        environment.globals.update(tr=tr, trn=trn, manner=manner)
        self._templates = {kind: environment.get_template(f"{kind}.html") for kind in KINDS}
        font = b64encode(FONT.read_bytes()).decode("ascii")
        self._style = FACE.format(font=font) + PAGE_STYLE.read_text(encoding="utf-8")
        digest = b64encode(sha256(self._style.encode("utf-8")).digest()).decode("ascii")
        self.policy = f"default-src 'none'; style-src 'sha256-{digest}'; font-src data:; frame-ancestors 'none'"

    def html(self, page: Mapping[str, Any]) -> str:
        return self._templates[page["kind"]].render(page=page, style=Markup(self._style))

    def pdf(self, page: Mapping[str, Any]) -> bytes:
        from weasyprint import HTML

        made = HTML(string=self.html(page), base_url=str(HERE)).write_pdf(pdf_variant="pdf/ua-1")
        return bytes(made)
