"""Valid plan files at the ends of what may be said, out of a seed: the plan file's own schema is walked.

Every number is drawn at a bound, near one, or anywhere between; lists are empty, short or full. What refers to
something else is made to refer to what there is, and what is still refused is taken out again.
"""

from __future__ import annotations

import random
from typing import Any

from larder.base.errors import RefusedMany
from larder.laws.layout import LAYOUTS, parse_layout
from larder.plan.bundle import Bundle
from larder.plan.glossary import bundle_schema
from larder.readers.plan_file import bundle_from

SMALL, LARGE = 1e-9, 1e12
REPAIRS = 60
IDS = ("format_id", "item_id", "pool_id", "part_id", "drive_id", "model_id", "spares_of",
       "works_on", "mounts_by", "seat_id", "to_pool_id", "enters_at", "near_ports", "far_ports")  # fmt: skip
SANE: dict[str, Any] = {
    "drive_read_bytes_per_s": 2e8, "drive_write_bytes_per_s": 2e8, "drive_bytes": 10**12, "budget": "100.00",
    "layout": "span",
    "hours": 1.0, "mixed_sizes": "", "drive_count": 12, "spares": 0, "is_mirrored": False,
    "priced_on": "2026-01-01", "schema": "grand-larder/bundle/6", "horizon_date": "2029-01-01",
}  # fmt: skip
FULL = {"seats": 60, "day_parts": 8, "at_peak": 8, "pools": 24, "services": 20}
"""Lists that cost the most, filled to the brim where a full one is drawn; others stay shorter."""


class WorstPlans:
    """Draws documents out of one seed; equal seeds draw equal documents."""

    def __init__(self, seed: int) -> None:
        self.random = random.Random(seed)
        self.number = 0
        self.is_heavy = self.random.random() < 0.5

    def bundle(self) -> Bundle | None:
        """A valid bundle, or None where this seed's document cannot be made valid."""
        document = self._object(bundle_schema())
        self._tie(document)
        for _ in range(REPAIRS):
            try:
                return bundle_from(document)
            except RefusedMany as refused:
                for problem in refused.problems:
                    self._repair(document, problem.field)
        return None

    def _object(self, schema: dict[str, Any]) -> dict[str, Any]:
        wanted = set(schema.get("required", ()))
        made = {
            name: self._value(field, name)
            for name, field in schema["properties"].items()
            if name in wanted or self.random.random() < 0.8
        }
        if "id" in schema["properties"]:
            self.number += 1
            made["id"] = f"i{self.number}"
        return made

    def _value(self, field: dict[str, Any], name: str) -> Any:
        if "$ref" in field:
            return self._object(bundle_schema()["$defs"][field["$ref"].rsplit("/", 1)[-1]])
        if "const" in field:
            return field["const"]
        if "enum" in field:
            return self.random.choice(field["enum"])
        if "oneOf" in field:
            return self._value(self.random.choice(field["oneOf"]), name)
        if "anyOf" in field:
            return self._value(self.random.choice(field["anyOf"]), name)
        match field.get("type"):
            case "array":
                return [self._value(field["items"], name) for _ in range(self._length(field, name))]
            case "integer" | "number":
                return self._number(field)
            case "boolean":
                return self.random.random() < 0.5
            case "null":
                return None
        return self._text(field, name)

    def _length(self, field: dict[str, Any], name: str) -> int:
        most = min(field.get("maxItems", 60), FULL.get(name, 12))
        if self.is_heavy and name in FULL and self.random.random() < 0.7:
            return most
        return self.random.choice((0, 1, 2, self.random.randint(0, most)))

    def _number(self, field: dict[str, Any]) -> float:
        low = field.get("minimum", field.get("exclusiveMinimum", 0))
        high = field.get("maximum", field.get("exclusiveMaximum", LARGE))
        end = self.random.random()
        if end < 0.25:
            value = low
        elif end < 0.5:
            value = high
        elif end < 0.6:
            value = low + SMALL
        else:
            # Evenly over the orders of magnitude.
            value = min(high, max(low, low + 10 ** self.random.uniform(-9, 12) * min(high - low, 1)))
            value = low + (high - low) * self.random.random() ** 8 if end < 0.8 else value
        if field["type"] == "integer":
            return min(max(round(value), low), high)
        inside = high - low
        if value == field.get("exclusiveMinimum"):
            return float(low + min(inside / 2, 1e-6))
        return float(value if value != field.get("exclusiveMaximum") else low + inside * 0.999)

    def _text(self, field: dict[str, Any], name: str) -> str:
        if field.get("format") == "date":
            return self.random.choice(("1970-01-01", "2026-11-25", "2029-03-01", "2031-12-31", "2199-12-31"))
        match name:
            case "layout":
                return self.random.choice([*LAYOUTS, "raid50:2", "raid60:2"])
            case "currency":
                return "EUR"
            case "mixed_sizes":
                return self.random.choice(("", "", "1TB+3x8TB+20TB", "2x1GB+300x1000TB"))
            case "ports":
                return self.random.choice(("", "8x10GbE", "1GbE 2x100GbE"))
            case "near" | "far":
                return "outside" if name == "near" else "storage"
            case "bays":
                return ""
            case _ if name in IDS:
                return ""
        if "anyOf" in field or field.get("pattern", "").startswith("^(?!"):  # an amount of money
            return "100.00"
        return "12.50" if "price" in name or name in ("amount", "budget") else "Anything"

    def _tie(self, document: dict[str, Any]) -> None:
        """Let what refers to something refer to what there is."""
        plan, catalogue = document["plan"], document.setdefault("catalogue", {})
        formats = catalogue.get("formats") or [
            self._value(bundle_schema()["$defs"]["Catalogue"]["properties"]["formats"]["items"], "formats")
        ]
        catalogue["formats"] = formats
        classes = [item["id"] for key in ("drives", "boxes") for item in catalogue.get(key, ())]
        catalogue["prices"] = [
            p | {"item_id": self.random.choice(classes), "currency": document.get("currency", "EUR")}
            for p in catalogue.get("prices", ())
            if classes
        ]
        parts = [part["id"] for part in plan["brief"].get("day_parts", ())]
        self._name_formats(plan["brief"], [f["id"] for f in formats])
        for part in plan["brief"].get("day_parts", ()):
            part["hours"] = min(part["hours"], 24 / len(parts))
        for seat in plan["brief"].get("seats", ()):
            seat["at_peak"] = [
                {"id": part, "probability": self._odds()} for part in parts if self.random.random() < 0.9
            ]
        for production in plan["brief"].get("productions", ()):
            starts = self.random.choice(("1970-01-01", "2026-11-25", "2027-02-03", "2180-01-01"))
            ends = self.random.choice(("2191-01-01", "2199-12-31"))
            production |= {"starts_on": starts, "delivers_on": ends, "archived_on": "2199-12-31"}
        for service in plan["brief"].get("services", ()):
            service["part_id"] = self.random.choice(["", *parts])
        pools = [pool["id"] for pool in plan.get("pools", ())]
        plan["caches"] = [c | {"pool_id": p} for c, p in zip(plan.get("caches", ()), pools, strict=False)]
        for volume in plan.get("volumes", ()):
            volume["pool_id"] = self.random.choice(pools or ["none"])
        for pool in plan.get("pools", ()):
            layout = parse_layout(pool["layout"])
            unit = max(layout.copies if layout.copies > 1 else layout.groups, 1)
            most = 2000 // len(pools)
            pool["spares"] = min(pool.get("spares", 0), 5)
            members = max(layout.fewest_members, min(pool["drive_count"], most) - pool["spares"])
            pool["drive_count"] = -(-members // unit) * unit + pool["spares"]
            pool["parity_bytes"] = pool["spare_bytes"] = None
        self._wire(plan)
        self._fill_the_day(plan, pools)
        for box in plan.get("boxes", ()):
            box["bays"] = min(box.get("bays", 8), 2000 // len(plan["boxes"]) - 32)

    def _wire(self, plan: dict[str, Any]) -> None:
        """Let links run between what there is; switches lead on to those before them, so that none closes a loop."""
        switches = [f"switch:{each['id']}" for each in plan.get("wiring", {}).get("switches", ())]
        seats = [f"seat:{each['id']}" for each in plan["brief"].get("seats", ())]
        stores = ["storage", *(f"box:{each['id']}" for each in plan.get("boxes", ()))]
        upwards = dict(zip(switches[1:], switches, strict=False))
        for link in plan.get("wiring", {}).get("links", ()):
            link["near"] = self.random.choice([*seats[:8], *switches] or ["outside"])
            link["far"] = self.random.choice(stores)
            if link["near"] in upwards and self.random.random() < 0.5:
                link["far"] = upwards.pop(link["near"])
            elif link["near"] in seats and switches:
                link["far"] = self.random.choice([*switches, *stores])
            elif link["near"] == "outside":
                link["far"] = self.random.choice(switches or ["switch:none"])

    def _fill_the_day(self, plan: dict[str, Any], pools: list[str]) -> None:
        """Let sessions and jobs be of whom and what there is, within a day from any minute on."""
        timetable = plan["brief"].get("timetable", {})
        begins = timetable.get("begins_minute", 540)
        seats = [seat for seat in plan["brief"].get("seats", ()) if seat.get("count", 1)]
        stations = [seat["id"] for seat in seats if seat["kind"] == "ingest"]

        def times() -> tuple[int, int]:
            start = self.random.randint(0, 1438)
            return (begins + start) % 1440, (begins + self.random.randint(start + 1, 1440)) % 1440

        sessions = []
        for session in timetable.get("sessions", ()) if seats else ():
            seat, (start, stop) = self.random.choice(seats), times()
            number = self.random.randint(1, min(seat.get("count", 1), 1000))
            sessions.append(
                session | {"seat_id": seat["id"], "number": number, "from_minute": start, "to_minute": stop}
            )
        jobs = []
        for job in timetable.get("jobs", ()):
            start, stop = times()
            who = stations if job["kind"] == "cards" else [seat["id"] for seat in seats]
            by_seat = job["kind"] in ("cards", "render")
            if not (who if by_seat else pools[job["kind"] == "copy" :]):
                continue
            job |= {"from_minute": start, "by_minute": self.random.choice((None, stop))}
            job |= {
                "bytes": max(job.get("bytes", 0), 1),
                "seat_id": self.random.choice(who) if by_seat else "",
            }
            job |= {"pool_id": "" if by_seat else pools[0]}
            jobs.append(job | {"to_pool_id": pools[-1] if job["kind"] == "copy" else ""})
        if timetable:
            plan["brief"]["timetable"] = {"begins_minute": begins, "sessions": sessions, "jobs": jobs}

    def _odds(self) -> float:
        return self.random.choice((0.0, 1.0, 1e-9, 1e-6, 0.03, self.random.random(), self.random.random()))

    def _name_formats(self, node: Any, formats: list[str]) -> None:
        if isinstance(node, dict):
            if "format_id" in node:
                node["format_id"] = self.random.choice(formats)
            for value in node.values():
                self._name_formats(value, formats)
        elif isinstance(node, list):
            for item in node:
                self._name_formats(item, formats)

    def _repair(self, document: dict[str, Any], field: str) -> None:
        """Take out the refused field, or the item around it."""
        here: Any = document
        trail: list[tuple[Any, Any]] = []
        for part in field.split("/"):
            if isinstance(here, list):
                key: Any = next(
                    (i for i, item in enumerate(here) if isinstance(item, dict) and item.get("id") == part),
                    None,
                )
            else:
                key = part if isinstance(here, dict) and part in here else None
            if key is None:
                break
            trail.append((here, key))
            here = here[key]
        for holder, key in reversed(trail):
            if isinstance(holder, dict) and key in SANE:
                holder[key] = SANE[key]
                return
            if isinstance(holder, list):
                del holder[key]
                return
            if isinstance(holder, dict) and key not in ("plan", "brief"):
                del holder[key]
                return
