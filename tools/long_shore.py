"""Write demo/long-shore.json: the large made-up plan that speed is measured on: 40 seats, 120 drives."""

from __future__ import annotations

import json
import sys
from datetime import date, timedelta
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "core"))
from larder.plan.upgrade import NEWEST  # noqa: E402

TARGET = ROOT / "demo" / "long-shore.json"
TB, GB, MB = 10**12, 10**9, 10**6
AS_OF = date(2026, 11, 23)
PRICED = "2026-11-02"

FORMATS = [
    {"id": "mezzanine", "kind": "class", "name": "RDD 36 class 220, 1080p29.97", "bytes_per_s": 27.5e6},
    {"id": "fine", "kind": "class", "name": "RDD 36 class 330, 1080p29.97", "bytes_per_s": 41.25e6},
    {"id": "proxy", "kind": "class", "name": "H.264 proxy, 10 Mb/s", "bytes_per_s": 1.25e6},
    {"id": "camera", "kind": "class", "name": "Camera H.265, 300 Mb/s", "bytes_per_s": 37.5e6},
    {
        "id": "grade", "kind": "computed", "name": "Grading, 3840×2160 10-bit 4:2:2 at 4:1", "width": 3840,
        "height": 2160, "fps": 25, "sampling": "422", "bits": 10, "ratio": 4,
    },
    {"id": "stems", "kind": "audio", "name": "Sound stems, 64 channels", "channels": 64},
    {"id": "hides", "kind": "stills", "name": "Hide stills", "image_bytes": 48 * MB, "interval_s": 15},
]  # fmt: skip


def footage(name: str, count: int, format_id: str, probability: float, **fields: Any) -> dict[str, Any]:
    """A class of footage seats; nobody works at night but those who are told to."""
    seat = {
        "kind": "footage",
        "name": name,
        "count": count,
        "format_id": format_id,
        "probability": probability,
    }
    idle = [{"id": "night", "probability": 0}]
    return {"id": name.lower().replace(" ", "-"), "at_peak": idle} | seat | fields


def seats() -> list[dict[str, Any]]:
    """Forty seats of thirteen kinds."""
    render = {"id": "render", "name": "Renders", "format_id": "fine", "speed_factor": 0.5}
    night = [{"id": "day", "probability": 0.2}]
    return [
        footage("Series edit", 8, "mezzanine", 0.6, streams=2, archive_share=0.2, activities=[render]),
        footage("Short edit", 5, "mezzanine", 0.5, archive_share=0.1),
        footage("Multicam edit", 2, "mezzanine", 0.4, angles=4, decoded_streams_max=6),
        footage("Assist", 6, "proxy", 0.5, streams=2),
        footage("Grading", 2, "grade", 0.5, shuttle_factor=1.2),
        footage("Online", 1, "grade", 0.3, activities=[render]),
        footage("Sound", 2, "stems", 0.6),
        footage("Render node", 4, "fine", 0.9, direction="write", seated="inside", at_peak=night),
        {
            "id": "stills", "kind": "photo", "name": "Stills", "count": 3, "image_bytes": 48 * MB,
            "images_per_s": 2, "export_bytes": 9 * MB, "exports_per_s": 0.5, "probability": 0.4,
        },
        {
            "id": "ingest", "kind": "ingest", "name": "Ingest", "count": 3, "readers": 2,
            "card_bytes_per_s": 200 * MB, "probability": 0.25,
        },
        {
            "id": "far-proxies", "kind": "remote", "name": "Far edit", "count": 2, "way": "proxies",
            "format_id": "proxy", "footage_hours_per_day": 4, "down_bytes_per_s": 6 * MB,
        },
        {
            "id": "far-picture", "kind": "remote", "name": "Far director", "way": "remote control",
            "format_id": "mezzanine", "down_bytes_per_s": 12 * MB,
            "probability": 0.3,
        },
        {
            "id": "producer", "kind": "remote", "name": "Far producer", "count": 1, "way": "files",
            "format_id": "proxy", "down_bytes_per_s": 5 * MB, "probability": 0.2,
        },
    ]  # fmt: skip


def productions() -> list[dict[str, Any]]:
    """A dozen productions over two years, three or four of them hot at once."""
    made = []
    for n in range(12):
        start = AS_OF + timedelta(weeks=8 * n)
        wrap = start + timedelta(weeks=4 + n % 4)
        made.append(
            {
                "id": f"production-{n + 1}", "name": f"Shore {n + 1}", "starts_on": start.isoformat(),
                "shooting_weeks": 4 + n % 4, "hours_per_day": 1.5, "cameras": 2 + n % 2,
                "format_id": "camera", "kept_ratio": 0.7, "versions": 3, "version_bytes": 250 * GB,
                "delivers_on": (wrap + timedelta(weeks=14)).isoformat(),
                "archived_on": (wrap + timedelta(weeks=18)).isoformat(),
            }
        )  # fmt: skip
    return made


def pool(
    name: str, tier: str, count: int, size: int, layout: str, bays: str, *, flash: bool = False
) -> dict[str, Any]:
    """A pool; disks of the archive class, or flash."""
    read, write, price = (2200 * MB, 1400 * MB, "640.00") if flash else (265 * MB, 260 * MB, "355.00")
    return {
        "id": name.lower().replace(" ", "-"), "name": name, "tier": tier, "drive_count": count,
        "drive_bytes": size * TB, "drive_kind": "ssd" if flash else "hdd", "drive_read_bytes_per_s": read,
        "drive_write_bytes_per_s": write, "drive_unit_price": price, "layout": layout,
        "bays": bays, "spares": 0 if flash else 2,
        "filesystem": "cow" if layout.startswith("cow") else "journal",
    }  # fmt: skip


def wiring() -> dict[str, Any]:
    """Two floors of seats on switches of their own, a core switch, and the boxes on it."""
    floors = {
        "north-floor": ("series-edit", "multicam-edit", "grading", "online", "sound", "far-picture"),
        "south-floor": ("short-edit", "assist", "stills", "ingest"),
    }
    switches = [
        {"id": floor, "name": f"{floor.split('-')[0].capitalize()} floor switch",
         "ports": "24x10GbE 2x100GbE", "noise_dba": 35}
        for floor in floors
    ]  # fmt: skip
    switches.append({"id": "core", "name": "Core switch", "ports": "16x25GbE 4x100GbE", "noise_dba": 52})
    links = [
        {"id": f"plug-{seat}", "near": f"seat:{seat}", "far": f"switch:{floor}", "speed": "10GbE",
         "category": "cat6a", "length_m": 30}
        for floor, names in floors.items()
        for seat in names
    ]  # fmt: skip
    links += [
        {"id": f"uplink-{floor}", "near": f"switch:{floor}", "far": "switch:core", "speed": "100GbE",
         "category": "fibre", "length_m": 60}
        for floor in floors
    ]  # fmt: skip
    links += [
        {"id": f"port-{box}", "near": "switch:core", "far": f"box:{box}", "speed": "25GbE", "links": count,
         "category": "direct attach", "length_m": 3}
        for box, count in (("flash", 4), ("east", 2), ("west", 2), ("cold", 1), ("spare", 1))
    ]  # fmt: skip
    links.append({"id": "outside-line", "near": "outside", "far": "switch:south-floor", "speed": "10GbE"})
    return {"switches": switches, "links": links, "mtu": 9000, "protocol": "smb"}


def document() -> dict[str, Any]:
    """The whole plan file."""
    brief = {
        "seats": seats(),
        "day_parts": [
            {"id": "day", "name": "Day", "hours": 10},
            {"id": "night", "name": "Night", "hours": 8},
        ],
        "services": [
            {
                "id": "backups", "name": "Workstation backups", "count": 36, "kept_bytes": 400 * GB,
                "written_bytes_per_day": 30 * GB, "part_id": "night", "enters_at": "north-floor",
            },
            {"id": "review", "name": "Review server", "kept_bytes": 6 * TB, "read_bytes_per_day": 200 * GB},
        ],
        "shoots": [{"id": "harbour", "name": "Harbour unit", "format_id": "camera", "hours_per_week": 6}],
        "productions": productions(),
        "stills_bytes_per_week": 150 * GB, "exports_bytes_per_week": 300 * GB, "proxy_ratio": 0.04,
        "preview_ratio": 0.12, "kept_today_bytes": 310 * TB, "projects_live": "on a database server",
        "limits": {
            "line": {"up_bytes_per_s": 62.5e6, "down_bytes_per_s": 125e6},
            "upkeep_hours_per_month": 40, "skill": "practised",
        },
        "budget": "140000.00", "horizon_date": "2028-11-23",
    }  # fmt: skip
    caches = [
        {
            "id": "archive-cache", "name": "Archive cache", "pool_id": "archive-east", "drive_count": 2,
            "drive_bytes": 8 * TB, "read_bytes_per_s": 2.2e9, "write_bytes_per_s": 1.4e9,
            "endurance_bytes": 14_000 * TB, "drive_unit_price": "640.00", "bays": "east:f1-2",
        }
    ]  # fmt: skip
    boxes = [
        {"id": "flash", "name": "Flash box", "bays": 24},
        *(
            {"id": name, "name": f"{name.capitalize()} box", "bays": 36, "flash_slots": 2}
            for name in ("east", "west", "cold", "spare")
        ),
    ]
    safekeeping = {
        "places": [
            {"id": "dock", "name": "Dock office"},
            {"id": "vault", "name": "Vault upriver"},
        ],
        "stores": [
            {
                "id": "mirror", "name": "Mirror box at the dock", "kind": "a box", "place_id": "dock",
                "access": "online", "survives_drives": 2, "size_bytes": 700 * TB,
            },
            {
                "id": "tapes", "name": "Tapes in the vault", "kind": "linear tape", "place_id": "vault",
                "read_bytes_per_s": 290e6, "write_bytes_per_s": 290e6, "fetch_hours": 5, "locate_seconds": 90,
                "generation": 8, "drive_generation": 9,
            },
        ],
        "copies": [
            {
                "id": "work-nightly", "name": "Work to the cold archive",
                "material_ids": "hot projects settings",
                "to": "pool:archive-cold", "way": "keeps versions", "versions_days": 21, "from_minute": 1320,
                "people_can_work_on_it": True,
            },
            {
                "id": "to-the-dock", "name": "All to the dock",
                "material_ids": "hot archive exports projects settings",
                "to": "store:mirror", "way": "keeps versions", "versions_days": 30, "from_minute": 1260,
                "first_by_hand": True,
            },
            {
                "id": "to-tape", "name": "Archive to tape",
                "material_ids": "archive exports", "to": "store:tapes",
                "every_hours": 168, "newest_on": "2026-11-20", "read_back_on": "2026-06-12",
            },
        ],
        "sign_in": "each their own, administrator apart",
        "alerts": "by mail and telephone",
    }  # fmt: skip
    plan = {
        "name": "Long Shore",
        "note": "A large generated plan: forty seats, six pools, a hundred and twenty drives.",
        "brief": brief,
        "pools": [
            pool("Work north", "work", 12, 8, "raid5", "flash:1-12", flash=True),
            pool("Work south", "work", 12, 8, "raid10", "flash:13-24", flash=True),
            pool("Archive east", "archive", 26, 20, "raid60:2", "east:1-26"),
            pool("Archive west", "archive", 26, 20, "raid60:2", "west:1-26"),
            pool("Archive cold", "archive", 24, 20, "cow2", "cold:1-24"),
            pool("Archive spare", "archive", 20, 20, "triple", "spare:1-20"),
        ],
        "boxes": boxes,
        "caches": caches,
        "safekeeping": safekeeping,
        "wiring": wiring(),
        "purchases": [
            {
                "id": "boxes",
                "name": "Rack box, 36 bays",
                "count": 4,
                "unit_price": "6900.00",
                "priced_on": "2026-11-02",
            },
            {
                "id": "cables",
                "name": "Category 6A cable, 15 m",
                "part": "cable",
                "count": 48,
                "unit_price": "16.50",
                "priced_on": "2026-11-02",
            },
        ],
    }
    return {
        "schema": NEWEST, "as_of": AS_OF.isoformat(), "currency": "EUR", "plan": plan,
        "catalogue": {"formats": FORMATS}, "house_rules": {},
    }  # fmt: skip


def main() -> int:
    """Write the file."""
    TARGET.write_text(json.dumps(document(), indent=1, ensure_ascii=False) + "\n")
    print(f"written: {TARGET.relative_to(ROOT)}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
