"""One format out of several probed clips: footage, sound or stills, measured rather than published."""

from __future__ import annotations

from collections.abc import Sequence

from larder.base.errors import Refused
from larder.plan.formats import MOST_CLIPS_A_CLASS, MeasuredFormat, StillsFormat

from .ffprobe import Clip

STILLS_INTERVAL_S = 20.0


def format_of_clips(clips: Sequence[Clip]) -> MeasuredFormat | StillsFormat:
    """One format out of ``clips``; its id is to be given by whoever adds it.

    Stills become a picture size, taken every 20 s until somebody says otherwise. Of footage and sound the
    mean is all bytes over all seconds, so that a long clip weighs more than a short one; the peak is the
    highest of any clip. Raises :class:`Refused` for no clip, one without duration, or kinds that do not go
    together.
    """
    if not 1 <= len(clips) <= MOST_CLIPS_A_CLASS:
        raise Refused("clips", len(clips), f"1 to {MOST_CLIPS_A_CLASS} ffprobe files for one class")
    empty = next((clip for clip in clips if clip.bytes <= 0), None)
    if empty is not None:
        raise Refused("clip", empty.name, "a clip with something in it; this one has 0 bytes")
    kinds = {_kind(clip): clip for clip in clips}
    if len(kinds) > 1:
        odd = kinds[max(kinds)]
        raise Refused("clip", odd.name, "clips of one kind; here are " + " and ".join(sorted(kinds)))
    rest = f" and {len(clips) - 3} more" if len(clips) > 3 else ""
    names = (", ".join(clip.name for clip in clips[:3]) + rest)[:400]
    total = sum(clip.bytes for clip in clips)
    if "stills" in kinds:
        return StillsFormat(
            id="new",
            kind="stills",
            name=_name(names),
            image_bytes=total // len(clips),
            interval_s=STILLS_INTERVAL_S,
        )
    means = [clip.mean_bytes_per_s for clip in clips if clip.mean_bytes_per_s]
    if len(means) < len(clips):
        without = next(clip for clip in clips if not clip.mean_bytes_per_s)
        raise Refused("clip", without.name, "a clip with a duration: is the file whole?")
    peaks = [clip.peak_bytes_per_s for clip in clips if clip.peak_bytes_per_s is not None]
    codecs = sorted({clip.video[0].codec_class if clip.video else "sound" for clip in clips})
    return MeasuredFormat(
        id="new",
        kind="measured",
        name=_name(names),
        mean_bytes_per_s=total / sum(clip.duration_s or 0.0 for clip in clips),
        peak_bytes_per_s=max(peaks, default=None),
        low_bytes_per_s=min(means),
        high_bytes_per_s=max(means),
        clip_count=len(clips),
        codec_class=" and ".join(codecs)[:80],
        clip=names,
    )


def _kind(clip: Clip) -> str:
    if clip.is_still:
        return "stills"
    return "footage" if clip.video else "sound"


def _name(names: str) -> str:
    """A file's name as a format's name: without control characters, not too long, never empty."""
    return "".join(sign for sign in names if sign.isprintable())[:80].strip() or "Measured clips"
