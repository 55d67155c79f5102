"""What footage weighs: the data rate of a format from its geometry, and the classes of open standards.

rate = width × height × frames/s × samples per pixel × bits ÷ 8 ÷ compression ratio. Check figures:
2048 × 1556, 10-bit RGB in 4 B per pixel, 24 fps is 306 MB/s (public scanning tables).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from larder.base.errors import Refused
from larder.base.units import TB

SAMPLES_PER_PIXEL: dict[str, Fraction] = {
    "420": Fraction(3, 2),
    "422": Fraction(2),
    "444": Fraction(3),
    "4444": Fraction(4),
    "bayer": Fraction(1),
}
PACKINGS = ("none", "rgb32", "v16per6")
RDD36_TARGET_MBIT_PER_S = (45, 102, 147, 220, 330)
"""Published target rates of SMPTE RDD 36 at 1920 × 1080 and 29.97 frames/s, in Mb/s."""
NTSC_FPS = 29.97
VC3_TARGET_FPS = {36: 25.0, 120: 25.0, 145: NTSC_FPS, 185: 25.0, 220: NTSC_FPS}
"""Target rates of SMPTE ST 2019-1 at 1920 × 1080 in Mb/s, and the frames/s that each is published for."""
CODEC_CLASSES: dict[str, str] = {
    "h264": "H.264",
    "hevc": "H.265",
    "av1": "AV1",
    "mpeg2video": "MPEG-2",
    "mpeg4": "MPEG-4 Part 2",
    "jpeg2000": "JPEG 2000",
    "mjpeg": "JPEG",
    "dnxhd": "VC-3",
    "cfhd": "VC-5",
    "prores": "RDD 36",
    "dpx": "DPX",
    "exr": "OpenEXR",
    "tiff": "TIFF",
    "ffv1": "FFV1",
    "png": "PNG",
    "rawvideo": "uncompressed",
    "v210": "uncompressed",
}
"""The open standard behind each codec identifier that ffprobe prints. The keys are ffprobe's own
tokens, needed to read its files, and are shown to nobody."""


def codec_class(ffprobe_codec_name: str) -> str:
    """The open standard's name for a codec token of ffprobe; ``other`` where it has none here."""
    return CODEC_CLASSES.get(ffprobe_codec_name, "other")


@dataclass(frozen=True)
class FormatRate:
    """What a format takes; sizes in bytes, decimal terabytes per hour."""

    bytes_per_s: float
    bytes_per_frame: float
    tb_per_hour: float


def format_rate(
    width: int,
    height: int,
    fps: Fraction,
    sampling: str,
    bits: int,
    ratio: Fraction = Fraction(1),
    packing: str = "none",
) -> FormatRate:
    """Rate of a format of ``width`` × ``height`` pixels at ``fps`` frames per second.

    ``sampling`` is a key of SAMPLES_PER_PIXEL, ``bits`` the depth of a sample, ``ratio`` the
    compression (1 is none). Packings store pixels in fixed words: ``rgb32`` 10-bit RGB in 4 bytes a
    pixel, ``v16per6`` 10-bit 4:2:2 in 16 bytes for 6 pixels of a row. Raises :class:`Refused`.
    """
    _check(width, height, fps, sampling, bits, ratio)
    per_frame = _packed_bytes(width, height, sampling, bits, packing)
    if per_frame is None:
        per_frame = width * height * SAMPLES_PER_PIXEL[sampling] * bits / 8
    per_frame /= ratio
    per_s = per_frame * fps
    return FormatRate(float(per_s), float(per_frame), float(per_s * 3600 / TB))


def _packed_bytes(width: int, height: int, sampling: str, bits: int, packing: str) -> Fraction | None:
    wants = {"rgb32": ("444", 10), "v16per6": ("422", 10)}
    if packing not in PACKINGS:
        raise Refused("packing", packing, "one of " + " ".join(PACKINGS))
    if packing == "none":
        return None
    if (sampling, bits) != wants[packing]:
        need = f"{packing} with sampling {wants[packing][0]} and 10 bits, or packing none"
        raise Refused("packing", f"{packing} with {sampling} and {bits} bits", need)
    if packing == "rgb32":
        return Fraction(width * height * 4)
    return Fraction(-(-width // 6) * 16 * height)


def _check(width: int, height: int, fps: Fraction, sampling: str, bits: int, ratio: Fraction) -> None:
    for field, pixels in (("width", width), ("height", height)):
        if not 1 <= pixels <= 65_536:
            raise Refused(field, pixels, "a whole number of pixels from 1 to 65536")
    if not 0 < fps <= 10_000:
        raise Refused("fps", str(fps), "frames per second above 0, up to 10000")
    if sampling not in SAMPLES_PER_PIXEL:
        raise Refused("sampling", sampling, "one of " + " ".join(SAMPLES_PER_PIXEL))
    if not 1 <= bits <= 32:
        raise Refused("bits", bits, "a whole number from 1 to 32")
    if not 1 <= ratio <= 1000:
        raise Refused("ratio", str(ratio), "a compression ratio from 1 to 1000")
