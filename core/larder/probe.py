"""Read what ffprobe prints as JSON: the clip's mean rate, and its peak over a sliding second.

Variable-rate files stutter on the peak, not on the mean, so with ``-show_packets`` the peak is
measured. The JSON is read as a stream: an hour of packets is about 100 MB of it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from decimal import Decimal, InvalidOperation
from fractions import Fraction
from typing import IO, Any

import ijson
import numpy as np

from .errors import Refused
from .media import codec_class

LARGEST_PROBE_BYTES = 400_000_000
"""About four hours of packets; a longer clip's rates can be told from a part of it."""

PROBE_ACCEPTED = (
    "the JSON that ffprobe prints with -show_format -show_streams (and -show_packets for the peak)"
)
_SECOND_US = 1_000_000


@dataclass(frozen=True)
class VideoStream:
    """One picture stream; ``codec_class`` names the open standard."""

    codec_class: str
    width: int
    height: int
    fps: float | None


@dataclass(frozen=True)
class Clip:
    """One probed file. Rates are null where the file does not tell them (a still, no packets)."""

    name: str
    duration_s: float | None
    bytes: int
    mean_bytes_per_s: float | None
    peak_bytes_per_s: float | None
    video: tuple[VideoStream, ...]
    is_still: bool = False


@dataclass
class _Reading:
    """What has been gathered while the JSON streams by."""

    format: dict[str, Any] | None = None
    streams: list[dict[str, Any]] = field(default_factory=list)
    times_us: list[int] = field(default_factory=list)
    sizes: list[int] = field(default_factory=list)


def read_probe(stream: IO[bytes]) -> Clip:
    """The clip in an ffprobe JSON ``stream``.

    Raises :class:`Refused` where the file is no JSON, is cut short, or is not ffprobe's.
    """
    reading = _read(stream)
    if reading.format is None and not reading.streams:
        raise Refused("probe file", "without format and streams", PROBE_ACCEPTED)
    head = reading.format or {}
    size_bytes = _whole(head.get("size"), "size") if "size" in head else sum(reading.sizes)
    duration_s = _duration(head, reading.streams)
    video = tuple(_video(reading.streams))
    return Clip(
        name=str(head.get("filename", "clip")).replace("\\", "/").rsplit("/", 1)[-1],
        duration_s=duration_s,
        bytes=size_bytes,
        mean_bytes_per_s=size_bytes / duration_s if duration_s else None,
        peak_bytes_per_s=_peak(reading),
        video=video,
        is_still=_is_still(duration_s, video, len(reading.streams)),
    )


def _read(stream: IO[bytes]) -> _Reading:
    reading = _Reading()
    try:
        for prefix, value in _pieces(stream):
            if prefix == "format":
                reading.format = _object(value)
            elif prefix == "streams.item":
                reading.streams.append(_object(value))
            else:
                _add_packet(reading, _object(value))
    except (ijson.JSONError, UnicodeDecodeError) as error:
        cut = isinstance(error, ijson.IncompleteJSONError)
        raise Refused("probe file", "cut short" if cut else "not JSON", PROBE_ACCEPTED) from None
    return reading


def _pieces(stream: IO[bytes]) -> Iterator[tuple[str, Any]]:
    """(where, value) for each part of the JSON that matters, one at a time."""
    wanted = ("format", "streams.item", "packets.item", "packets_and_frames.item")
    events = ijson.parse(stream)
    for prefix, event, value in events:
        if prefix == "" and event not in ("start_map", "map_key", "end_map"):
            raise Refused("probe file", "a list or a bare value", PROBE_ACCEPTED)
        if prefix not in wanted:
            continue
        if event != "start_map":
            raise Refused("probe file", f"{prefix} of the wrong kind", PROBE_ACCEPTED)
        builder = ijson.ObjectBuilder()
        builder.event(event, value)
        for inner_prefix, inner_event, inner_value in events:
            builder.event(inner_event, inner_value)
            if inner_prefix == prefix and inner_event == "end_map":
                break
        yield prefix, builder.value


def _object(value: Any) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise Refused("probe file", value, PROBE_ACCEPTED)
    return value


def _add_packet(reading: _Reading, packet: dict[str, Any]) -> None:
    if packet.get("type", "packet") != "packet":
        return
    size = _whole(packet.get("size", 0), "packet size")
    reading.sizes.append(size)
    # Some containers give no decoding time for some packets; the display time stands in.
    time = packet.get("dts_time", packet.get("pts_time"))
    reading.times_us.append(int(_number(time, "packet time") * _SECOND_US) if time is not None else -(2**62))


def _peak(reading: _Reading) -> float | None:
    """Largest bytes of all streams' packets in [t, t + 1 s), with t at each packet's time."""
    times = np.asarray(reading.times_us, dtype=np.int64)
    placed = times > -(2**62)
    if not placed.any():
        return None
    order = np.argsort(times[placed], kind="stable")
    times = times[placed][order]
    running = np.concatenate(([0], np.cumsum(np.asarray(reading.sizes, dtype=np.int64)[placed][order])))
    first = np.searchsorted(times, times, side="left")
    after = np.searchsorted(times, times + _SECOND_US, side="left")
    return float((running[after] - running[first]).max())


def _duration(head: dict[str, Any], streams: list[dict[str, Any]]) -> float | None:
    given = [head["duration"]] if "duration" in head else [s["duration"] for s in streams if "duration" in s]
    seconds = max((float(_number(text, "duration")) for text in given), default=0.0)
    return seconds if seconds > 0 else None


def _video(streams: list[dict[str, Any]]) -> Iterator[VideoStream]:
    for stream in streams:
        if stream.get("codec_type") != "video" or _is_cover(stream):
            continue
        yield VideoStream(
            codec_class=codec_class(str(stream.get("codec_name", ""))),
            width=_whole(stream.get("width", 0), "width"),
            height=_whole(stream.get("height", 0), "height"),
            fps=_fps(stream),
        )


def _is_still(duration_s: float | None, video: tuple[VideoStream, ...], streams: int) -> bool:
    """One picture and nothing else: ffprobe tells no duration for it, or that of a single frame."""
    if len(video) != 1 or streams != 1:
        return False
    return duration_s is None or duration_s * (video[0].fps or 0.0) <= 1.001


def _is_cover(stream: dict[str, Any]) -> bool:
    """A picture attached to a sound file is no footage."""
    disposition = stream.get("disposition")
    return isinstance(disposition, dict) and disposition.get("attached_pic") == 1


def _fps(stream: dict[str, Any]) -> float | None:
    for key in ("avg_frame_rate", "r_frame_rate"):
        try:
            rate = Fraction(str(stream.get(key, "0")))
        except (ValueError, ZeroDivisionError):
            continue
        if rate > 0:
            return float(rate)
    return None


def _number(text: Any, what: str) -> Decimal:
    try:
        number = Decimal(str(text))
    except InvalidOperation:
        number = Decimal("NaN")
    if not number.is_finite() or abs(number) > 10**12:
        raise Refused(f"probe file's {what}", text, "a number as ffprobe prints it")
    return number


def _whole(text: Any, what: str) -> int:
    number = _number(text, what) if not isinstance(text, int) else Decimal(text)
    if number < 0 or number != int(number) or number > 10**18:
        raise Refused(f"probe file's {what}", text, "a whole number as ffprobe prints it")
    return int(number)
