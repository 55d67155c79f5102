"""The owner's page laid out: as HTML that stands by itself, and as a PDF of it."""

from __future__ import annotations

from base64 import b64encode
from functools import cache
from pathlib import Path
from typing import Any

from django.conf import settings
from django.template import Context, Engine
from django.utils.safestring import SafeString, mark_safe

from larder.asks.owner_page import SAID, OwnerPage
from larder.base.units import day_text

from . import drawings

HERE = Path(__file__).parent
FONTS = {
    "Commissioner Variable": "commissioner-latin-wght-normal",
    "Bricolage Grotesque Variable": "bricolage-grotesque-latin-wght-normal",
}


@cache
def _style() -> SafeString:
    """The sheet, with the interface's own fonts in it where it has been built."""
    faces = []
    for family, name in FONTS.items():
        for path in sorted((settings.FRONTEND_DIST / "assets").glob(f"{name}-*.woff2"))[:1]:
            data = b64encode(path.read_bytes()).decode()
            faces.append(
                f'@font-face {{ font-family: "{family}"; src: url(data:font/woff2;base64,{data}); }}'
            )
    sheet = (HERE / "page.css").read_text()
    return mark_safe("\n".join([*faces, sheet]))  # noqa: S308  (both are files of ours)


@cache
def _engine() -> Engine:
    return Engine(dirs=[str(HERE)], autoescape=True)


def html_of(page: OwnerPage, studio: str) -> str:
    """The page as one file of HTML: nothing in it is fetched, and whatever was typed is escaped."""
    return (
        _engine()
        .get_template("page.html")
        .render(
            Context(
                {
                    "page": page,
                    "studio": studio,
                    "style": _style(),
                    "day": day_text(page.written_on),
                    "scales": [
                        {**scale.model_dump(), "said": SAID[scale.verdict], "beam": drawings.beam(scale)}
                        for scale in page.scales
                    ],
                    "sections": [_section(page, n) for n in range(len(page.sections))],
                }
            )
        )
    )


def _section(page: OwnerPage, number: int) -> dict[str, Any]:
    section = page.sections[number]
    drawn = {"drawing": "", "caption": ""}
    if section.id == "costs" and page.months:
        drawn = {
            "drawing": drawings.costs(page),
            "caption": f"What has been paid by each month, {page.currency}.",
        }
    if section.id == "dates" and page.fill:
        drawn = {
            "drawing": drawings.fill(page),
            "caption": f"{page.fill_name}, full first: what is kept, 8 times in 10 within the band.",
        }
    return {**section.model_dump(), **drawn}


def pdf_of(html: str) -> bytes:
    """The page on A4; nothing but what is in it is read."""
    from weasyprint import HTML  # a second to load, wanted by this alone
    from weasyprint.urls import URLFetcher

    return bytes(HTML(string=html, url_fetcher=URLFetcher(allowed_protocols=("data",))).write_pdf())
