"""Read what ffprobe prints as JSON: the clip's mean rate, and its peak over a sliding second.

Variable-rate files stutter on the peak, not on the mean, so with ``-show_packets`` the peak is
measured. The JSON is read as a stream: an hour of packets is about 100 MB of it.
"""

from __future__ import annotations

import re
from array import array
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from typing import IO, Any

import ijson
import numpy as np

from larder.base.errors import Refused
from larder.base.guard import GuardedStream, Wanted, guarded_number, plain_text
from larder.laws.media import codec_class

LARGEST_PROBE_BYTES = 400_000_000
"""About four hours of packets; a longer clip's rates can be told from a part of it."""
PROBE_ACCEPTED = (
    "the JSON that ffprobe prints with -show_format -show_streams (and -show_packets for the peak)"
)
_WANTED = Wanted("probe file", PROBE_ACCEPTED, LARGEST_PROBE_BYTES)
_SECOND_US = 1_000_000
MOST_PACKETS = 4_000_000
"""More than four hours of picture and sound have."""
FASTEST_FPS = 1_000_000
SHORT_DIGITS = 18
MOST_STREAMS, MOST_VALUES_A_PIECE = 1_000, 10_000
_SECONDS = re.compile(r"(?P<minus>-?)(?P<whole>\d{1,9})\.(?P<part>\d{1,12})", re.ASCII)
_NO_TIME = -(2**62)


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
    times_us: array[int] = field(default_factory=lambda: array("q"))
    sizes: array[int] = field(default_factory=lambda: array("q"))


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
        name=plain_text(str(head.get("filename", "clip")).replace("\\", "/").rsplit("/", 1)[-1]),
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
                if len(reading.streams) > MOST_STREAMS:
                    raise _WANTED.refused(f"more than {MOST_STREAMS} streams")
            else:
                _add_packet(reading, _object(value))
    except (ijson.JSONError, UnicodeError, ValueError, ArithmeticError) as error:
        if isinstance(error, Refused):
            raise
        cut = isinstance(error, ijson.IncompleteJSONError)
        raise _WANTED.refused("cut short" if cut else "not JSON") from None
    return reading


def _pieces(stream: IO[bytes]) -> Iterator[tuple[str, Any]]:
    """(where, value) for each part of the JSON that matters, one at a time."""
    wanted = ("format", "streams.item", "packets.item", "packets_and_frames.item")
    events = ijson.parse(GuardedStream(stream, _WANTED))
    for prefix, event, value in events:
        if prefix == "" and event not in ("start_map", "map_key", "end_map"):
            raise Refused("probe file", "a list or a bare value", PROBE_ACCEPTED)
        if prefix not in wanted:
            continue
        if event != "start_map":
            raise Refused("probe file", f"{prefix} of the wrong kind", PROBE_ACCEPTED)
        builder = ijson.ObjectBuilder()
        builder.event(event, value)
        for count, (inner_prefix, inner_event, inner_value) in enumerate(events):
            if count > MOST_VALUES_A_PIECE:
                raise _WANTED.refused(f"{prefix} of more than {MOST_VALUES_A_PIECE} values")
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
    if "size" not in packet:
        raise _WANTED.refused("a packet without its size")
    size = _whole(packet["size"], "packet size")
    reading.sizes.append(size)
    if len(reading.sizes) > MOST_PACKETS:
        raise _WANTED.refused(f"more than {MOST_PACKETS} packets")
    # Some containers give no decoding time for some packets; the display time stands in.
    time = packet.get("dts_time", packet.get("pts_time"))
    reading.times_us.append(_NO_TIME if time is None else _microseconds(time))


def _microseconds(time: Any) -> int:
    """A packet's time as a whole number; what is finer is dropped."""
    match = _SECONDS.fullmatch(time) if isinstance(time, str) else None
    if match is None:
        return int(_number(time, "packet time") * _SECOND_US)
    whole = int(match["whole"]) * _SECOND_US + int(match["part"][:6].ljust(6, "0"))
    return -whole if match["minus"] else whole


def _peak(reading: _Reading) -> float | None:
    """Largest bytes of all streams' packets in [t, t + 1 s), with t at each packet's time."""
    times = np.asarray(reading.times_us, dtype=np.int64)
    placed = times > _NO_TIME
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
            rate = guarded_number(stream.get(key, "0"), _WANTED, "frame rate")
        except Refused:
            continue  # a stream of pictures without a rate says 0/0
        if 0 < rate <= FASTEST_FPS:
            return float(rate)
    return None


def _number(text: Any, what: str) -> Fraction:
    number = guarded_number(text, _WANTED, what)
    if abs(number) > 10**12:
        raise Refused(f"probe file's {what}", text, "a number as ffprobe prints it")
    return number


def _whole(text: Any, what: str) -> int:
    if isinstance(text, str) and text.isdecimal() and text.isascii() and len(text) <= SHORT_DIGITS:
        return int(text)  # nearly all of a file's numbers
    number = guarded_number(text, _WANTED, what)
    if not 0 <= number <= 10**18 or number.denominator != 1:
        raise Refused(f"probe file's {what}", text, "a whole number as ffprobe prints it")
    return int(number)
