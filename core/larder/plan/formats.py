"""The footage library: what a format weighs, by published rate, by geometry, or measured on real clips.

A published target rate says what an encoder aims at for one frame size and rate; a measured class says what
the studio's own clips came to, with their spread.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from larder.base.errors import Refused
from larder.base.fields import (
    LARGEST_FORMAT_BYTES_PER_S,
    FormatBytesPerS,
    Item,
    Name,
    Note,
    Number,
    PictureBytes,
    Value,
    labelled,
)
from larder.base.units import GB, MBIT
from larder.laws.media import NTSC_FPS, RDD36_TARGET_MBIT_PER_S, VC3_TARGET_FPS, format_rate

MOST_CLIPS_A_CLASS = 100


class ClassFormat(Item):
    """Footage by the published target rate of an open standard."""

    kind: Literal["class"]
    name: Annotated[Name, labelled("Format")]
    bytes_per_s: Annotated[FormatBytesPerS, labelled("Rate", "Mb/s", 5)]


class ComputedFormat(Item):
    """Footage by its geometry; :func:`larder.laws.media.format_rate` gives its rate, sound comes on top."""

    kind: Literal["computed"]
    name: Annotated[Name, labelled("Format")]
    width: Annotated[int, Field(ge=1, le=65_536), labelled("Width", "px", 16)]
    height: Annotated[int, Field(ge=1, le=65_536), labelled("Height", "px", 16)]
    fps: Annotated[Number, Field(gt=0, le=10_000), labelled("Frames per second", "fps", 1)]
    sampling: Annotated[Literal["420", "422", "444", "4444", "bayer"], labelled("Sampling")]
    bits: Annotated[int, Field(ge=1, le=32), labelled("Bits per sample", "bit", 2)]
    ratio: Annotated[Number, Field(ge=1, le=1000), labelled("Compression", ": 1", 0.5)] = 1.0
    packing: Annotated[Literal["none", "rgb32", "v16per6"], labelled("Packing")] = "none"
    audio_channels: Annotated[int, Field(ge=0, le=128), labelled("Sound, 48 kHz 24 bit", "channels")] = 0
    one_file_a_frame: Annotated[bool, labelled("One file a frame")] = False

    def check(self) -> None:
        if (rate := rates_of(self)[0]) > LARGEST_FORMAT_BYTES_PER_S:
            said = (
                f"{self.width} × {self.height} at {self.fps:g} fps and {self.bits} bits, {rate / GB:.0f} GB/s"
            )
            raise Refused("width", said, f"a format of at most {LARGEST_FORMAT_BYTES_PER_S // GB} GB/s")


class MeasuredFormat(Item):
    """The studio's own footage, as ffprobe measured it; low and high are the spread of the clips' means."""

    kind: Literal["measured"]
    name: Annotated[Name, labelled("Format")]
    mean_bytes_per_s: Annotated[FormatBytesPerS, labelled("Mean rate", "Mb/s", 5)]
    peak_bytes_per_s: Annotated[FormatBytesPerS | None, labelled("Peak over a second", "Mb/s", 5)] = None
    low_bytes_per_s: Annotated[FormatBytesPerS | None, labelled("Lightest clip", "Mb/s", 5)] = None
    high_bytes_per_s: Annotated[FormatBytesPerS | None, labelled("Heaviest clip", "Mb/s", 5)] = None
    clip_count: Annotated[int, Field(ge=1, le=MOST_CLIPS_A_CLASS), labelled("Clips")] = 1
    codec_class: Annotated[Name, labelled("Codec class")] = "other"
    clip: Annotated[Note, labelled("Measured on")] = ""


class AudioFormat(Item):
    """Uncompressed sound: channels × samples a second × bits."""

    kind: Literal["audio"]
    name: Annotated[Name, labelled("Format")]
    channels: Annotated[int, Field(ge=1, le=512), labelled("Channels")] = 2
    sample_rate_hz: Annotated[int, Field(ge=8_000, le=768_000), labelled("Samples a second", "Hz", 1000)] = (
        48_000
    )
    bits: Annotated[int, Field(ge=8, le=64), labelled("Bits per sample", "bit", 8)] = 24


class StillsFormat(Item):
    """Stills in a row: one picture every so many seconds, as time-lapse and hides shoot them."""

    kind: Literal["stills"]
    name: Annotated[Name, labelled("Format")]
    image_bytes: Annotated[PictureBytes, Field(gt=0), labelled("Picture", "MB", 5)]
    interval_s: Annotated[Number, Field(ge=0.01, le=86_400), labelled("One picture every", "s", 1)]


Format = Annotated[
    ClassFormat | ComputedFormat | MeasuredFormat | AudioFormat | StillsFormat, Field(discriminator="kind")
]


def audio_bytes_per_s(channels: int, sample_rate_hz: int = 48_000, bits: int = 24) -> float:
    """Rate of uncompressed sound (IEC 60958's linear samples, without framing)."""
    return channels * sample_rate_hz * bits / 8


def rates_of(media: Format) -> tuple[float, float]:
    """(mean, peak) bytes/s of a format. Space stands on the mean, speed on the peak."""
    if isinstance(media, MeasuredFormat):
        return media.mean_bytes_per_s, max(media.peak_bytes_per_s or 0.0, media.mean_bytes_per_s)
    if isinstance(media, ComputedFormat):
        picture = format_rate(
            media.width,
            media.height,
            Fraction(str(media.fps)),
            media.sampling,
            media.bits,
            Fraction(str(media.ratio)),
            media.packing,
        ).bytes_per_s
        rate = picture + audio_bytes_per_s(media.audio_channels)
    elif isinstance(media, AudioFormat):
        rate = audio_bytes_per_s(media.channels, media.sample_rate_hz, media.bits)
    elif isinstance(media, StillsFormat):
        rate = media.image_bytes / media.interval_s
    else:
        rate = media.bytes_per_s
    return rate, rate


class PublishedClass(Value):
    """A class of an open standard with the target rate that is published for it."""

    name: str
    bytes_per_s: float
    source: str


def _published(source: str, name: str, *mbit_per_s: int) -> tuple[PublishedClass, ...]:
    return tuple(
        PublishedClass(name=name.format(rate), bytes_per_s=rate * MBIT, source=source) for rate in mbit_per_s
    )


def _vc3(fps: float) -> Iterator[int]:
    return (mbit for mbit, published_fps in VC3_TARGET_FPS.items() if published_fps == fps)


PUBLISHED_CLASSES = (
    *_published("SMPTE RDD 36", "RDD 36 class {}, 1080p29.97", *RDD36_TARGET_MBIT_PER_S),
    *_published("SMPTE ST 2019-1", "VC-3 class {}, 1080p25", *_vc3(25.0)),
    *_published("SMPTE ST 2019-1", "VC-3 class {}, 1080i59.94", *_vc3(NTSC_FPS)),
    *_published("SMPTE RP 2027", "H.264 intra class {}, 1080i", 50, 100),
    *_published("SMPTE ST 356", "MPEG-2 4:2:2 intra, {} Mb/s", 30, 40, 50),
    *_published("SMPTE ST 429-4", "JPEG 2000 for cinema, at most {} Mb/s", 250),
)
"""Target rates at one frame size and rate each; other sizes scale with pixels a second."""
Rates = Mapping[str, tuple[float, ...]]
"""(mean, peak) bytes/s by format id, and where each frame is a file of its own how many of them a second."""


def rates_in(formats: tuple[Format, ...]) -> Rates:
    """The rates of all of a library, by id."""
    return {each.id: (*rates_of(each), *_files_a_second(each)) for each in formats}


def _files_a_second(media: Format) -> tuple[float, ...]:
    return (media.fps,) if isinstance(media, ComputedFormat) and media.one_file_a_frame else ()


def files_per_s_of(rates: tuple[float, ...]) -> float:
    """How many files a second a stream of it opens in real time; 0 where a clip is one file."""
    return rates[2] if len(rates) > 2 else 0.0
