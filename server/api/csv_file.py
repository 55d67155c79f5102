"""A table as a file that a browser keeps."""

from __future__ import annotations

from django.http import HttpResponse


def csv_file(name: str, text: str) -> HttpResponse:
    """The answer that is kept under ``name``."""
    return HttpResponse(
        text,
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )
