"""Footage as people name it: ``4K 10-bit 422 400``, ``1080p25``, ``RDD 36 class 147``, ``220 Mb/s``.

A rate that is said wins; else a class of an open standard, scaled to the frame that is said; else the
geometry gives it, at a compression that is told as assumed.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any

from larder.base.units import MBIT
from larder.laws.media import NTSC_FPS, RDD36_TARGET_MBIT_PER_S, VC3_TARGET_FPS
from larder.plan.formats import AudioFormat, ClassFormat, ComputedFormat, Format
from larder.plan.new_item import fresh_id

from .said import Assumed, assumed
from .tokens import Token

FRAMES = {
    "uhd": (3840, 2160), "qhd": (2560, 1440), "hd": (1920, 1080), "fhd": (1920, 1080),
    "2k": (2048, 1080), "4k": (3840, 2160), "5k": (5120, 2880), "6k": (6144, 3456), "8k": (7680, 4320),
    "12k": (12288, 6480),
}  # fmt: skip
"""Frames by the names that they go by; 2K is the cinema's, the others are the nearest of television."""
WIDTHS = {720: 1280, 1080: 1920, 1440: 2560, 2160: 3840, 4320: 7680}
"""The width of a frame by its height."""
SAMPLINGS = {"420": "4:2:0", "422": "4:2:2", "444": "4:4:4", "4444": "4:4:4 and alpha", "bayer": "Bayer"}
USUAL_FPS, USUAL_BITS, USUAL_SAMPLING, USUAL_RATIO, USUAL_RAW_BITS = 25.0, 10, "422", 8.0, 12
BARE_RATES_FROM = 20
"""A bare number among a format's words is Mb/s from so many on: nothing else there is so large."""
_CODECS = {
    "H.264": "h264 h.264 avc", "H.265": "h265 h.265 hevc", "AV1": "av1", "MPEG-2": "mpeg2 mpeg-2",
    "JPEG 2000": "jpeg2000 j2k", "VC-3": "vc3 vc-3", "VC-5": "vc5 vc-5", "RDD 36": "rdd36 rdd-36",
    "DPX": "dpx", "OpenEXR": "exr openexr", "CinemaDNG": "cinemadng", "TIFF": "tiff",
}  # fmt: skip
CODECS = {word: codec for codec, words in _CODECS.items() for word in words.split()}
_IN_TWO_WORDS = {
    ("rdd", "36"): "RDD 36",
    ("vc", "3"): "VC-3",
    ("vc", "5"): "VC-5",
    ("jpeg", "2000"): "JPEG 2000",
    ("mpeg", "2"): "MPEG-2",
}
_FRAME_FILES: dict[str, dict[str, Any]] = {
    "DPX": {"sampling": "444", "bits": 10, "ratio": 1.0, "packing": "rgb32"},
    "OpenEXR": {"sampling": "444", "bits": 16, "ratio": 1.0},
    "TIFF": {"sampling": "444", "bits": 16, "ratio": 1.0},
    "CinemaDNG": {"sampling": "bayer", "bits": USUAL_RAW_BITS, "ratio": 1.0},
}
"""What frames in files of their own are like where nobody says otherwise; none of them is compressed."""
_NEEDS_RATE = ("H.264", "H.265", "AV1", "MPEG-2", "VC-5", "JPEG 2000")
_CLASSES = {"RDD 36": dict.fromkeys(RDD36_TARGET_MBIT_PER_S, NTSC_FPS), "VC-3": VC3_TARGET_FPS}
"""Classes, and the frames a second at 1920 × 1080 that the target rate of each is published for."""
_TOKENS = {
    "rate": "bytes_per_s", "geometry": "frame", "ratio": "ratio", "sampling": "sampling", "bits": "bits",
    "fps": "fps",
}  # fmt: skip
_WORDS: dict[str, dict[str, Any]] = {
    **{word: {"frame": frame} for word, frame in FRAMES.items()},
    **{word: {"codec": codec} for word, codec in CODECS.items()},
    "bayer": {"sampling": "bayer"},
    "uncompressed": {"ratio": 1.0},
}


@dataclass
class Footage:
    """What has been said of one format so far; ``twice`` is what says otherwise than before."""

    said: dict[str, Any] = field(default_factory=dict)
    twice: list[list[Token]] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.said)

    def take(self, tokens: list[Token], at: int) -> int:
        """How many tokens from ``at`` on are of the format; they are taken in."""
        both = _said_by_two(tokens[at], tokens[at + 1]) if at + 1 < len(tokens) else {}
        said = both or self._said_by(tokens[at])
        taken = 2 if both else 1 if said else 0
        if any(self.said.get(key, value) != value for key, value in said.items()):
            self.twice.append(tokens[at : at + taken])
        else:
            self.said |= said
        return taken

    def _said_by(self, token: Token) -> dict[str, Any]:
        if token.kind in _TOKENS:
            return {_TOKENS[token.kind]: token.value}
        if token.kind == "kilo":
            return {"frame": FRAMES[f"{token.value}k"]}
        if token.kind == "lines":
            height, fps = token.value
            return {"frame": (WIDTHS[height], height)} | ({"fps": fps} if fps else {})
        return self._said_by_number(token) if token.kind == "number" else _WORDS.get(token.word, {})

    def _said_by_number(self, token: Token) -> dict[str, Any]:
        if token.text in SAMPLINGS:
            return {"sampling": token.text}
        if token.value in WIDTHS and "frame" not in self.said:
            return {"frame": (WIDTHS[int(token.value)], int(token.value))}
        if self.said and token.value >= BARE_RATES_FROM:
            return {"bytes_per_s": token.value * MBIT, "bare": token.text}
        return {}

    @property
    def problem(self) -> str:
        """What is still to be said, in words; empty where it is enough."""
        said, codec = self.said, self.said.get("codec", "")
        if "bytes_per_s" in said or ("channels" in said and "frame" not in said):
            return ""
        if "of_class" in said:
            return _class_problem(codec, said["of_class"])
        if codec in _CLASSES:
            return f"say its class, such as {codec} class {list(_CLASSES[codec])[2]}"
        if codec in _NEEDS_RATE:
            return f"{codec} has no rate of its own: say one, such as 100 Mb/s"
        return "" if "frame" in said else "say a rate such as 220 Mb/s, or a frame such as 4K or 1080p25"

    def formatted(self, taken: Iterable[str]) -> tuple[Format, tuple[Assumed, ...]]:
        """The format, and what nobody said of it; only where there is no :attr:`problem`."""
        made, left = self._made()
        return made.model_copy(update={"id": fresh_id(made.name, taken)}), left

    def _made(self) -> tuple[Format, tuple[Assumed, ...]]:
        said = self.said
        if "bytes_per_s" in said:
            rate, bare = said["bytes_per_s"], said.get("bare")
            name = ", ".join([*self._words(), f"{rate / MBIT:g} Mb/s"])
            left = (assumed(f"{bare} Mb/s", f"{bare} Mb/s", bare),) if bare else ()
            return ClassFormat(id="format", kind="class", name=name, bytes_per_s=rate), left
        if "of_class" in said:
            return self._of_class()
        if "frame" not in said:
            channels = said["channels"]
            name = f"Sound, {channels} channels"
            return AudioFormat(id="format", kind="audio", name=name, channels=channels), ()
        return self._computed()

    def _of_class(self) -> tuple[Format, tuple[Assumed, ...]]:
        """Target rates scale with pixels a second."""
        said = self.said
        codec, mbit = said["codec"], said["of_class"]
        published_fps = _CLASSES[codec][mbit]
        width, height = said.get("frame", (1920, 1080))
        fps = said.get("fps", published_fps)
        rate = mbit * MBIT * width * height / (1920 * 1080) * fps / published_fps
        name = f"{codec} class {mbit}, {width}×{height} at {fps:g}/s"
        left = () if "fps" in said else (_left_out("fps", fps),)
        return ClassFormat(id="format", kind="class", name=name, bytes_per_s=rate), left

    def _computed(self) -> tuple[Format, tuple[Assumed, ...]]:
        said, codec = self.said, self.said.get("codec", "")
        usual: dict[str, Any] = {"sampling": USUAL_SAMPLING, "bits": USUAL_BITS, "ratio": USUAL_RATIO}
        usual |= {"fps": USUAL_FPS} | _FRAME_FILES.get(codec, {})
        if said.get("sampling") == "bayer":
            usual |= {"bits": USUAL_RAW_BITS, "ratio": 1.0}
        values = {name: said.get(name, value) for name, value in usual.items()}
        if (values["bits"], values["sampling"]) != (10, "444"):
            values.pop("packing", None)
        width, height = said["frame"]
        made = ComputedFormat(
            id="format", kind="computed", name="format", width=width, height=height,
            one_file_a_frame=codec in _FRAME_FILES, audio_channels=said.get("channels", 0), **values,
        )  # fmt: skip
        name = ", ".join(
            [
                *([codec] if codec else []),
                f"{width}×{height} at {made.fps:g}/s",
                f"{made.bits}-bit {SAMPLINGS[made.sampling]}",
                "uncompressed" if made.ratio == 1 else f"{made.ratio:g}:1",
            ]
        )
        silent = [each for each in ("fps", "bits", "sampling", "ratio") if each not in said]
        left = tuple(_left_out(each, values[each]) for each in silent)
        return made.model_copy(update={"name": name}), left

    def _words(self) -> Iterator[str]:
        said = self.said
        if "codec" in said:
            yield said["codec"]
        if "frame" in said:
            width, height = said["frame"]
            yield f"{width}×{height}" + (f" at {said['fps']:g}/s" if "fps" in said else "")
        depth = [f"{said['bits']}-bit"] if "bits" in said else []
        depth += [SAMPLINGS[said["sampling"]]] if "sampling" in said else []
        if depth:
            yield " ".join(depth)


def footage_in(tokens: list[Token]) -> tuple[Footage, list[Token]]:
    """(the format that is said among them, the tokens that are not of it)."""
    footage, left, at = Footage(), [], 0
    while at < len(tokens):
        taken = footage.take(tokens, at)
        if not taken:
            left.append(tokens[at])
        at += taken or 1
    return footage, left


def _said_by_two(token: Token, following: Token) -> dict[str, Any]:
    codec = _IN_TWO_WORDS.get((token.word, following.text))
    if codec:
        return {"codec": codec}
    if token.word == "class" and following.kind == "number":
        return {"of_class": int(following.value)}
    if token.kind == "number" and following.word in ("channels", "channel", "tracks"):
        return {"channels": int(token.value)}
    return {}


def _class_problem(codec: str, of_class: int) -> str:
    if codec not in _CLASSES:
        return "a class is of a standard: say RDD 36 or VC-3 before it"
    known = _CLASSES[codec]
    return "" if of_class in known else f"{codec} has the classes {', '.join(map(str, known))}"


def _left_out(name: str, value: Any) -> Assumed:
    if name == "fps":
        return assumed(f"{value:g} frames a second", f"{value:g} fps", f"{value:g}")
    if name == "bits":
        return assumed(f"{value} bits", f"{value}-bit", f"{value}")
    if name == "ratio":
        return assumed("no compression" if value == 1 else f"{value:g}:1", f"{value:g}:1", f"{value:g}")
    words = "bayer" if value == "bayer" else SAMPLINGS[value].split(" ")[0]
    return assumed(SAMPLINGS[value], words, words)
