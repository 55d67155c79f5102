"""Version 2 bounds what a plan may say, so that every plan can be judged.

The bounds stand here as they were when the version was made, whatever becomes of today's.
"""

from __future__ import annotations

from typing import Any

from larder.base.units import GB

from .change import Change, Document, clamp, is_number, items_at

_DAYS = (
    "as_of",
    "horizon_date",
    "starts_on",
    "delivers_on",
    "archived_on",
    "priced_on",
    "ready_by",
    "taken_on",
)
_FIRST_DAY, _LAST_DAY = "1970-01-01", "2199-12-31"
_SMALLEST_NUMBER, _SMALLEST_PER_BIT = 1e-12, 1e-30
_FORMAT_RATES = ("bytes_per_s", "mean_bytes_per_s", "peak_bytes_per_s", "low_bytes_per_s", "high_bytes_per_s")
_FASTEST_FORMAT, _LARGEST_PICTURE = 100 * GB, 100 * GB
_SHORTEST_PART_HOURS, _SHORTEST_INTERVAL_S = 0.25, 0.01
_SAMPLES = {"420": 1.5, "422": 2.0, "444": 3.0, "4444": 4.0, "bayer": 1.0}


def step(document: Document, changes: list[Change]) -> Document:
    """The document with every field within version 2's bounds."""
    made: Document = _copied(document, (), changes)
    for path, part in items_at(made, "plan/brief/day_parts"):
        clamp(part, path, "hours", _SHORTEST_PART_HOURS, 24, changes)
    for path, seat in items_at(made, "plan/brief/seats"):
        for field in ("image_bytes", "export_bytes"):
            clamp(seat, path, field, 0, _LARGEST_PICTURE, changes)
    for path, media in items_at(made, "catalogue/formats"):
        for field in _FORMAT_RATES:
            clamp(media, path, field, 1.0, float(_FASTEST_FORMAT), changes)
        clamp(media, path, "image_bytes", 1, _LARGEST_PICTURE, changes)
        clamp(media, path, "interval_s", _SHORTEST_INTERVAL_S, 86_400, changes)
        if media.get("kind") == "computed":
            _slow_down(media, path, changes)
    return made


def _copied(node: Any, path: tuple[str, ...], changes: list[Change]) -> Any:
    """A copy in which days lie within the calendar and no number is nearer to 0 than can be told."""
    if isinstance(node, dict):
        return {key: _copied(value, (*path, str(key)), changes) for key, value in node.items()}
    if isinstance(node, list):
        names = [str(item.get("id", n)) if isinstance(item, dict) else str(n) for n, item in enumerate(node)]
        return [_copied(item, (*path, name), changes) for name, item in zip(names, node, strict=True)]
    field, new = path[-1] if path else "", node
    if isinstance(node, str) and field in _DAYS and len(node) == len(_FIRST_DAY):
        new = min(max(node, _FIRST_DAY), _LAST_DAY)
    elif isinstance(node, float):
        smallest = _SMALLEST_PER_BIT if field == "unreadable_per_bit" else _SMALLEST_NUMBER
        smallest = 1.0 if field.endswith("bytes_per_s") else smallest
        new = 0.0 if 0 < abs(node) < smallest else node
    if new != node:
        changes.append(Change("/".join(path), node, new))
    return new


def _slow_down(media: Document, path: str, changes: list[Change]) -> None:
    """Frames a second are what is brought down where a geometry asks more than any format may."""
    result: list[Any] = [media.get(key) for key in ("width", "height", "fps", "bits", "ratio")]
    width, height, fps, bits, ratio = (float(v) if is_number(v) else 1.0 for v in result)
    # Packed pixels take at most four bytes; the larger estimate is taken, so that the result is accepted.
    per_frame = width * height * max(_SAMPLES.get(str(media.get("sampling")), 4.0) * bits / 8, 4.0)
    rate = per_frame * fps / max(ratio, 1.0)
    if rate > _FASTEST_FORMAT:
        clamp(media, path, "fps", 0.0, fps * _FASTEST_FORMAT / rate * 0.99, changes)
