"""Read what smartctl prints as JSON: hours, reallocated sectors, temperature, size, serial.

Follows the JSON structure of smartctl 7.3 for ATA, SCSI and NVMe devices. Where there is no such device or
it tells nothing, the answer reads as "no health data", never as good health.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from larder.base.errors import Refused
from larder.base.guard import Wanted, guarded_json, plain_text

LARGEST_REPORT_BYTES = 2_000_000
REPORT_ACCEPTED = "the JSON that smartctl --json --all prints for one device"
_WANTED = Wanted("drive report", REPORT_ACCEPTED, LARGEST_REPORT_BYTES)
REALLOCATED_ATTRIBUTE_ID = 5
"""ATA attribute 5, reallocated sectors count."""


@dataclass(frozen=True)
class DriveReport:
    """What a device told of itself; null for what it did not tell."""

    serial: str | None
    size_bytes: int | None
    hours_run: int | None
    reallocated_sectors: int | None
    temperature_c: float | None
    is_rotating: bool | None
    message: str

    @property
    def has_health(self) -> bool:
        """Whether there is anything to judge health by."""
        return self.hours_run is not None or self.reallocated_sectors is not None


def read_drive_report(raw: bytes) -> DriveReport:
    """The report in ``raw``; raises :class:`Refused` for what is no smartctl JSON."""
    document = guarded_json(raw, _WANTED)
    if not isinstance(document, dict) or not isinstance(document.get("smartctl"), dict):
        raise Refused("drive report", "without a smartctl part", REPORT_ACCEPTED)
    rotation = _whole(document, "rotation_rate")
    hours = _whole(document, "power_on_time", "hours")
    reallocated = _reallocated(document)
    result = hours is not None or reallocated is not None
    return DriveReport(
        serial=_text(document, "serial_number"),
        size_bytes=_whole(document, "user_capacity", "bytes"),
        hours_run=hours,
        reallocated_sectors=reallocated,
        temperature_c=_number(document, "temperature", "current"),
        is_rotating=None if rotation is None else rotation > 0,
        message="" if result else _no_health(document["smartctl"]),
    )


def _no_health(part: dict[str, Any]) -> str:
    messages = part.get("messages")
    said = (
        [m["string"] for m in messages if isinstance(m, dict) and isinstance(m.get("string"), str)]
        if isinstance(messages, list)
        else []
    )
    return "no health data" + (f": {plain_text(said[0])[:200]}" if said else "")


def _reallocated(document: dict[str, Any]) -> int | None:
    table = _at(document, "ata_smart_attributes", "table")
    for row in table if isinstance(table, list) else ():
        if isinstance(row, dict) and row.get("id") == REALLOCATED_ATTRIBUTE_ID:
            return _whole(row, "raw", "value")
    grown = _whole(document, "scsi_grown_defect_list")
    return (
        grown if grown is not None else _whole(document, "nvme_smart_health_information_log", "media_errors")
    )


def _at(document: Any, *path: str) -> Any:
    for key in path:
        document = document.get(key) if isinstance(document, dict) else None
    return document


def _whole(document: Any, *path: str) -> int | None:
    value = _at(document, *path)
    return value if isinstance(value, int) and not isinstance(value, bool) and value >= 0 else None


def _number(document: Any, *path: str) -> float | None:
    value = _at(document, *path)
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None


def _text(document: Any, *path: str) -> str | None:
    value = _at(document, *path)
    return plain_text(value).strip() or None if isinstance(value, str) else None
