"""Plans of our own making to start from: a brief in one line, and storage that serves it.

They are examples of a size, not advice: every figure in them is there to be changed.
"""

from __future__ import annotations

from datetime import date
from typing import Any

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import TB
from larder.plan.bundle import Bundle
from larder.readers.brief_line import brief_of, understand
from larder.readers.plan_file import bundle_from

from .begin import begun
from .standards import Standards

_DISK = {"drive_kind": "hdd", "drive_read_bytes_per_s": 240_000_000, "drive_write_bytes_per_s": 235_000_000}
_FLASH = {
    "drive_kind": "ssd",
    "drive_read_bytes_per_s": 2_800_000_000,
    "drive_write_bytes_per_s": 1_600_000_000,
}


UPKEEP_HOURS = 8.0
"""Two hours a week: two carried copies and all that is kept want them."""


class StartingPoint(Result):
    """A size of house: its brief as one says it, its pools, and the port that the storage is reached by."""

    id: str
    title: str
    line: str
    pools: tuple[dict[str, Any], ...]
    safekeeping: dict[str, Any]
    storage_port: str = "10GbE"


def _pool(
    pool_id: str, layout: str, count: int, size_tb: int, kind: dict[str, Any], tier: str = "work"
) -> dict[str, Any]:
    return {
        "id": pool_id, "name": pool_id.capitalize(), "tier": tier, "layout": layout, "drive_count": count,
        "drive_bytes": size_tb * TB, **kind,
    }  # fmt: skip


_ALL = "hot archive exports projects settings"


def _kept(workable: str, beside: str) -> dict[str, Any]:
    """Three copies: one elsewhere that people can work on, and one on another kind of medium in the house."""
    twin, shelf = workable.capitalize(), beside.capitalize()
    return {
        "places": [{"id": "elsewhere", "name": "A place elsewhere"}],
        "stores": [
            {
                "id": "elsewhere", "name": f"{twin} kept elsewhere", "kind": workable,
                "place_id": "elsewhere", "survives_drives": int(workable == "a box"), "fetch_hours": 2,
            },
            {"id": "shelf", "name": f"{shelf} on the shelf", "kind": beside},
        ],
        "copies": [
            {
                "id": "carried", "name": "Carried elsewhere every week", "material_ids": _ALL,
                "to": "store:elsewhere", "every_hours": 168, "people_can_work_on_it": True,
                "switch_hours": 6,
            },
            {"id": "nightly", "name": "Every night", "material_ids": _ALL, "to": "store:shelf"},
        ],
        "alerts": "by mail",
    }  # fmt: skip


STARTING_POINTS = (
    StartingPoint(
        id="one-who-travels",
        title="One person who travels",
        line="1 edit seat plays 2 streams 100 Mb/s, 1 h a week, 1 TB today, 3 years, budget 6000, quiet",
        pools=(_pool("pair", "mirror", 2, 12, _FLASH),),
        safekeeping=_kept("loose flash drives", "loose disks"),
    ),
    StartingPoint(
        id="two-who-photograph",
        title="Two who photograph schools",
        line="2 photo seats 45MB raw, 1 ingest with 2 readers, 180 GB stills a week, 30 GB exports a week, "
        "6 TB today, 3 years, budget 9000, quiet, closet",
        pools=(_pool("work", "mirror", 2, 4, _FLASH), _pool("archive", "raid6", 6, 16, _DISK, "archive")),
        safekeeping=_kept("a box", "linear tape"),
    ),
    StartingPoint(
        id="film-team-of-six",
        title="A film team of six",
        line="4 edit seats play 2 streams RDD 36 class 147 at 25 fps, 1 colour 4K 10-bit 422, "
        "1 assist 10 Mb/s, 1 ingest with 2 readers, 12 h a week, 20 TB today, 3 years, budget 30000",
        pools=(_pool("work", "raid6", 6, 4, _FLASH), _pool("archive", "raid6", 12, 18, _DISK, "archive")),
        safekeeping=_kept("a box", "linear tape"),
    ),
    StartingPoint(
        id="floor-of-forty",
        title="A floor of forty seats",
        line="24 edit seats play 2 streams RDD 36 class 147 at 25 fps, 6 assist 10 Mb/s, "
        "3 colour 4K 10-bit 422, 2 sound 64 channels, 3 graphics RDD 36 class 330 at 25 fps, "
        "2 ingest with 3 readers, 40 h a week, hot for 12 weeks, 150 TB today, 3 years, budget 250000, rack",
        pools=(_pool("work", "raid6", 12, 8, _FLASH), _pool("archive", "triple", 36, 24, _DISK, "archive")),
        safekeeping=_kept("a box", "linear tape"),
        storage_port="100GbE",
    ),
)


def started(starting_point_id: str, name: str, today: date, standards: Standards) -> Bundle:
    """A plan from a starting point, in the studio's currency. Raises :class:`Refused` for none there is."""
    found = next((each for each in STARTING_POINTS if each.id == starting_point_id), None)
    if found is None:
        listed = ", ".join(each.id for each in STARTING_POINTS)
        raise Refused("starting_point", starting_point_id, f"one of {listed}")
    brief = brief_of(understand(found.line, today, standards.currency))
    document = begun(name, brief, today, standards).document()
    document["plan"]["pools"] = list(found.pools)
    document["plan"]["safekeeping"] = found.safekeeping
    document["plan"]["brief"]["limits"]["upkeep_hours_per_month"] = UPKEEP_HOURS
    wiring = document["plan"]["wiring"]
    if found.storage_port != wiring["links"][0]["speed"]:
        wiring["links"][0]["speed"] = found.storage_port
        wiring["switches"][0]["ports"] += f" 2x{found.storage_port}"
    return bundle_from(document)
