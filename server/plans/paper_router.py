"""The page for the owner: on the screen, as a PDF, as Markdown."""

from __future__ import annotations

from uuid import UUID

from csp.constants import NONE, UNSAFE_INLINE
from csp.decorators import csp
from django.http import HttpRequest, HttpResponse
from ninja import Router

from accounts.scope import scope_of
from api.envelope import ERRORS
from larder.asks.owner_page import OwnerPage, as_markdown, owner_page

from . import actions
from .asked import PLAN
from .paper.printed import html_of, pdf_of

router = Router(tags=["plans"], by_alias=True)
POLICY = {
    "default-src": [NONE], "style-src": [UNSAFE_INLINE], "font-src": ["data:"],
    "base-uri": [NONE], "form-action": [NONE], "frame-ancestors": [NONE],
}  # fmt: skip
"""Of a page that brings its own style and runs nothing."""


def _page(request: HttpRequest, studio: str, plan_id: UUID) -> tuple[OwnerPage, str]:
    scope = scope_of(request, studio)
    return owner_page(actions.newest_bundle(scope, plan_id)), scope.studio.name


def _kept(content: bytes | str, kind: str, name: str) -> HttpResponse:
    shown = "inline" if name.endswith(".pdf") else "attachment"
    headers = {"Content-Disposition": f'{shown}; filename="{name}"'}
    return HttpResponse(content, content_type=kind, headers=headers)


@router.get(f"{PLAN}/owner-page.html", response={200: None, **ERRORS}, operation_id="show_owner_page")
def show_owner_page(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The page of the plan's newest revision, to be read and printed."""
    html = html_of(*_page(request, studio, plan_id))
    return csp(POLICY)(lambda _: HttpResponse(html))(request)


@router.get(f"{PLAN}/owner-page.pdf", response={200: None, **ERRORS}, operation_id="print_owner_page")
def print_owner_page(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The page of the plan's newest revision as PDF."""
    pdf = pdf_of(html_of(*_page(request, studio, plan_id)))
    return _kept(pdf, "application/pdf", "owner-page.pdf")


@router.get(f"{PLAN}/owner-page.md", response={200: None, **ERRORS}, operation_id="write_owner_page")
def write_owner_page(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The page of the plan's newest revision as Markdown."""
    page, _ = _page(request, studio, plan_id)
    return _kept(as_markdown(page), "text/markdown; charset=utf-8", "owner-page.md")
