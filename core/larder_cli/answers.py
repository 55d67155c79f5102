"""The commands: for each its arguments, and the call of the core that answers it."""

from __future__ import annotations

import re
import stat
from argparse import ArgumentParser, Namespace
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import IO, Any

from larder import (
    SeatClass,
    evaluate,
    format_rate,
    joint_load,
    parse_layout,
    parse_path,
    path_rate,
    pool_capacity,
    pool_throughput,
    read_bundle,
    read_probe,
    write_burst,
)
from larder.base.errors import Refused, RefusedMany
from larder.base.guard import Wanted, guarded_json, guarded_number
from larder.base.units import LARGEST_BYTES_PER_S, parse_drives, parse_rate, parse_size
from larder.laws.capacity import FILESYSTEM_PERCENT
from larder.laws.device import MECHANICS
from larder.laws.media import PACKINGS, SAMPLES_PER_PIXEL
from larder.laws.throughput import Range
from larder.readers.ffprobe import LARGEST_PROBE_BYTES, PROBE_ACCEPTED
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES

JsonObject = dict[str, Any]
LARGEST_SEATS_BYTES = 5_000_000
_WHOLE_NUMBER = re.compile(r"-?[0-9]{1,18}")
_PROBABILITY = re.compile(r"(?:[0-9]{1,3}(?:\.[0-9]{0,40})?|\.[0-9]{1,40})(?:[eE]-?[0-9]{1,3})?")
_PLAIN_NUMBER = re.compile(r"[0-9]{1,3}(?:\.[0-9]{1,15})?")


@dataclass(frozen=True)
class Answer:
    """One command."""

    help: str
    add_arguments: Callable[[ArgumentParser], None]
    run: Callable[[Namespace], JsonObject]


def whole(text: str, field: str, lowest: int, highest: int) -> int:
    """A whole number in bounds, or the sentence that says which are."""
    number = int(text) if _WHOLE_NUMBER.fullmatch(text) else lowest - 1
    if not lowest <= number <= highest:
        raise Refused(field, text, f"a whole number from {lowest} to {highest}")
    return number


def percent(text: str, field: str) -> Decimal:
    """A percentage from 0 to below 100."""
    number = Decimal(text) if _PLAIN_NUMBER.fullmatch(text) else Decimal(-1)
    if not 0 <= number < 100:
        raise Refused(field, text, "a percentage from 0 to below 100")
    return number


def fraction(text: str, field: str, accepted: str) -> Fraction:
    """A number such as 23.976 or 24000/1001, exactly."""
    try:
        return guarded_number(text, Wanted(field, accepted, 0), field)
    except Refused:
        raise Refused(field, text, accepted) from None


def positive_rate(text: str, field: str) -> float:
    """A rate above zero, bytes/s."""
    rate = parse_rate(text, field)
    if rate <= 0:
        raise Refused(field, text, "a rate above 0, such as 450MB/s")
    return rate


def choice(text: str, field: str, choices: tuple[str, ...]) -> str:
    """One of ``choices``."""
    if text not in choices:
        raise Refused(field, text, "one of " + " ".join(choices))
    return text


@contextmanager
def opened(path: str, field: str, accepted: str, largest_bytes: int) -> Iterator[IO[bytes]]:
    """The file at ``path``, bounded in size; refuses what cannot be read with a sentence."""
    try:
        # Looked at before it is opened: opening a pipe waits, and a device never ends.
        status = Path(path).stat()
        if not stat.S_ISREG(status.st_mode):
            raise Refused(field, f"{path} (no ordinary file)", accepted)
        if status.st_size > largest_bytes:
            raise Refused(
                field, f"{path}, {status.st_size} bytes", f"a file of at most {largest_bytes} bytes"
            )
        with Path(path).open("rb") as stream:
            yield stream
    except (OSError, ValueError) as error:
        if isinstance(error, Refused | RefusedMany):
            raise
        reason = getattr(error, "strerror", None) or "not readable"
        raise Refused(field, f"{path} ({reason})", accepted) from None


def _capacity_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("--layout", required=True)
    sub.add_argument("--drives", required=True, help="7x16TB or 20TB+3x8TB")
    sub.add_argument("--spares", default="0")
    sub.add_argument("--filesystem", help="journal, cow or none; cow for cow layouts, else journal")
    sub.add_argument("--headroom", default="20", help="free space kept, percent")
    sub.add_argument("--record", default="1MiB")
    sub.add_argument("--sector", default="4KiB")


def _capacity(options: Namespace) -> JsonObject:
    filesystem = options.filesystem
    capacity = pool_capacity(
        parse_layout(options.layout),
        parse_drives(options.drives),
        spares=whole(options.spares, "spares", 0, 1999),
        filesystem=filesystem and choice(filesystem, "filesystem", tuple(FILESYSTEM_PERCENT)),
        headroom_percent=percent(options.headroom, "headroom"),
        record_bytes=parse_size(options.record, "record"),
        sector_bytes=parse_size(options.sector, "sector"),
    )
    return asdict(capacity) | {
        "layout_tib": capacity.layout_tib,
        "usable_tib": capacity.usable_tib,
        "plannable_tib": capacity.plannable_tib,
    }


def _speed_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("--layout", required=True)
    sub.add_argument("--members", required=True, help="drives in the layout, without spares")
    sub.add_argument("--read", required=True, help="rate of one drive, 250MB/s")
    sub.add_argument("--write", required=True, help="rate of one drive, 250MB/s")
    sub.add_argument("--streams", default="1")
    sub.add_argument("--kind", default="hdd", help="hdd (default) or ssd")
    sub.add_argument("--degraded", action="store_true", help="with a drive dead")


def _speed(options: Namespace) -> JsonObject:
    kind = choice(options.kind, "kind", ("hdd", "ssd"))
    rates = pool_throughput(
        parse_layout(options.layout),
        whole(options.members, "members", 1, 2000),
        positive_rate(options.read, "read"),
        positive_rate(options.write, "write"),
        streams=whole(options.streams, "streams", 1, 100_000),
        mechanics=MECHANICS["hdd" if kind == "hdd" else "ssd"],
        degraded=options.degraded,
    )
    return _range("read", rates.read) | _range("write", rates.write)


def _range(way: str, rate: Range) -> JsonObject:
    return {
        f"{way}_bytes_per_s": rate.middle,
        f"{way}_bytes_per_s_low": rate.low,
        f"{way}_bytes_per_s_high": rate.high,
    }


def _path_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("hops", nargs="+", metavar="HOP")
    sub.add_argument("--mtu", default="1500", help="1500 (default) or 9000")
    sub.add_argument("--flows", default="1")


def _path(options: Namespace) -> JsonObject:
    mtu = int(choice(options.mtu, "mtu", ("1500", "9000")))
    rate = path_rate(parse_path(options.hops, mtu), whole(options.flows, "flows", 1, 100_000))
    return {
        "bytes_per_s": rate.bytes_per_s,
        "per_flow_bytes_per_s": rate.per_flow_bytes_per_s,
        "limiting_hop": rate.limiting_hop,
        "hops": [{"hop": name, "bytes_per_s": each} for name, each in rate.hops],
    }


def _burst_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("--size", required=True)
    sub.add_argument("--arrive", required=True, help="rate into the cache")
    sub.add_argument("--drain", required=True, help="rate out of it")
    sub.add_argument("--cache", required=True)


def _burst(options: Namespace) -> JsonObject:
    size_bytes = parse_size(options.size, "size")
    if size_bytes == 0:
        raise Refused("size", options.size, "a size above 0")
    return asdict(
        write_burst(
            size_bytes,
            positive_rate(options.arrive, "arrive"),
            positive_rate(options.drain, "drain"),
            parse_size(options.cache, "cache"),
        )
    )


def _format_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("--width", required=True)
    sub.add_argument("--height", required=True)
    sub.add_argument("--fps", required=True, help="25, 23.976 or 24000/1001")
    sub.add_argument("--sampling", required=True)
    sub.add_argument("--bits", required=True)
    sub.add_argument("--ratio", default="1", help="compression, 8 for 8:1")
    sub.add_argument("--packing", default="none")


def _format(options: Namespace) -> JsonObject:
    return asdict(
        format_rate(
            whole(options.width, "width", 1, 65_536),
            whole(options.height, "height", 1, 65_536),
            fraction(options.fps, "fps", "frames per second such as 25, 23.976 or 24000/1001"),
            choice(options.sampling, "sampling", tuple(SAMPLES_PER_PIXEL)),
            whole(options.bits, "bits", 1, 32),
            fraction(options.ratio, "ratio", "a compression ratio from 1 to 1000"),
            choice(options.packing, "packing", PACKINGS),
        )
    )


def _probe_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("file", metavar="FFPROBE.json")


def _probe(options: Namespace) -> JsonObject:
    with opened(options.file, "probe file", PROBE_ACCEPTED, LARGEST_PROBE_BYTES) as stream:
        return {"clips": [asdict(read_probe(stream))]}


def _coincide_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("file", metavar="SEATS.json")
    sub.add_argument("--common", default="0", help="probability that all peak together")


SEATS_ACCEPTED = 'a JSON list of {"name", "count", "bytes_per_s", "probability"}'


def _coincide(options: Namespace) -> JsonObject:
    common = float(options.common) if _PROBABILITY.fullmatch(options.common) else -1.0
    if not 0 <= common <= 1:
        raise Refused("common", options.common, "a probability from 0 to 1")
    with opened(options.file, "seats file", SEATS_ACCEPTED, LARGEST_SEATS_BYTES) as stream:
        rows = guarded_json(stream.read(), Wanted("seats file", SEATS_ACCEPTED, LARGEST_SEATS_BYTES))
    if not isinstance(rows, list) or not rows:
        raise Refused("seats file", options.file, SEATS_ACCEPTED)
    load = joint_load(tuple(_seat_class(row, i) for i, row in enumerate(rows, 1)), common)
    return {
        "mean_bytes_per_s": load.mean_bytes_per_s,
        "p95_bytes_per_s": load.quantile(0.95),
        "p99_bytes_per_s": load.quantile(0.99),
        "max_bytes_per_s": load.max_bytes_per_s,
        "error_bound_bytes_per_s": load.error_bound_bytes_per_s,
    }


def _seat_class(row: Any, position: int) -> SeatClass:
    keys = ("name", "count", "bytes_per_s", "probability")
    if not isinstance(row, dict):
        raise Refused(f"seat {position}", row, "an object with " + ", ".join(keys))
    missing = [key for key in keys if key not in row]
    if missing:
        raise Refused(f"seat {position}: {missing[0]}", None, "a value, which is missing")
    name, count = str(row["name"])[:80], row["count"]
    if not isinstance(count, int) or isinstance(count, bool):
        raise Refused(f"{name}: count", count, "a whole number from 0 to 10000")
    for key in ("bytes_per_s", "probability"):
        if not isinstance(row[key], int | float) or isinstance(row[key], bool):
            raise Refused(f"{name}: {key}", row[key], "a number")
    if not 0 <= row["bytes_per_s"] <= LARGEST_BYTES_PER_S:
        raise Refused(f"{name}: bytes_per_s", row["bytes_per_s"], "a rate from 0 to 10^13 bytes/s")
    return SeatClass(name, count, float(row["bytes_per_s"]), float(row["probability"]))


def _evaluate_arguments(sub: ArgumentParser) -> None:
    sub.add_argument("file", metavar="BUNDLE.json")


def _evaluate(options: Namespace) -> JsonObject:
    accepted = "the path of a plan file"
    with opened(options.file, "plan file", accepted, LARGEST_BUNDLE_BYTES) as stream:
        return evaluate(read_bundle(stream.read())).model_dump(mode="json")


ANSWERS: dict[str, Answer] = {
    "capacity": Answer("From carton bytes to what may be planned with.", _capacity_arguments, _capacity),
    "speed": Answer("Sequential rates of a layout, with their range.", _speed_arguments, _speed),
    "path": Answer("What a chain of hops carries, and the hop that limits.", _path_arguments, _path),
    "burst": Answer("A copy into a write-back cache.", _burst_arguments, _burst),
    "format": Answer("The data rate of a footage format.", _format_arguments, _format),
    "probe": Answer("Mean and peak rate of a clip that ffprobe read.", _probe_arguments, _probe),
    "coincide": Answer("The joint load of seats.", _coincide_arguments, _coincide),
    "evaluate": Answer("Every verdict, figure and finding of a plan file.", _evaluate_arguments, _evaluate),
}
