"""Clips that ffmpeg makes here, read by ffprobe and then by us; and files of the wrong kind."""

import io
import json
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import Any

from larder.base.errors import Refused
from larder.plan.formats import MeasuredFormat, StillsFormat
from larder.readers.clips import format_of_clips
from larder.readers.ffprobe import Clip, read_probe

HAS_FFMPEG = shutil.which("ffmpeg") is not None and shutil.which("ffprobe") is not None


def read(document: Any) -> Clip:
    return read_probe(io.BytesIO(json.dumps(document).encode()))


def packet(time: str, size: int) -> dict[str, str]:
    return {"dts_time": time, "size": str(size)}


@unittest.skipUnless(HAS_FFMPEG, "ffmpeg is not installed")
class RealClips(unittest.TestCase):
    def probed(
        self, *options: str, packets: bool = True, name: str = "clip.mov"
    ) -> tuple[Clip, dict[str, Any]]:
        with tempfile.TemporaryDirectory() as folder:
            path = str(Path(folder, name))
            subprocess.run(["ffmpeg", "-v", "error", "-y", *options, path], check=True)
            command = ["ffprobe", "-v", "error", "-of", "json", "-show_format", "-show_streams"]
            out = subprocess.run(
                [*command, *(["-show_packets"] if packets else []), path], check=True, capture_output=True
            ).stdout
        return read_probe(io.BytesIO(out)), json.loads(out)

    def test_a_constant_rate_clip_has_its_peak_near_its_mean(self) -> None:
        clip, raw = self.probed(
            "-f", "lavfi", "-i", "testsrc2=size=320x180:rate=25:duration=4", "-c:v", "mjpeg", "-q:v", "3"
        )
        self.assertEqual((clip.name, clip.bytes), ("clip.mov", int(raw["format"]["size"])))
        self.assertEqual(
            (clip.video[0].codec_class, clip.video[0].width, clip.video[0].fps), ("JPEG", 320, 25.0)
        )
        assert clip.mean_bytes_per_s and clip.peak_bytes_per_s
        self.assertAlmostEqual(clip.peak_bytes_per_s / clip.mean_bytes_per_s, 1, delta=0.1)

    def test_a_variable_rate_clip_with_sound_has_the_peak_that_a_plain_count_finds(self) -> None:
        source = "color=black:size=320x180:rate=25:duration=3[a];testsrc2=size=320x180:rate=25:duration=2[b];[a][b]concat"
        clip, raw = self.probed(
            "-f", "lavfi", "-i", source, "-f", "lavfi", "-i", "sine=duration=5",
            "-c:v", "mpeg4", "-q:v", "2", "-c:a", "aac",
        )  # fmt: skip
        packets = [(round(float(p["dts_time"]) * 1e6), int(p["size"])) for p in raw["packets"]]
        peak = max(sum(size for time, size in packets if t <= time < t + 1_000_000) for t, _ in packets)
        self.assertEqual(clip.peak_bytes_per_s, peak)
        assert clip.mean_bytes_per_s
        self.assertGreater(peak, 1.3 * clip.mean_bytes_per_s)

    def test_without_packets_there_is_no_peak(self) -> None:
        clip, _ = self.probed(
            "-f", "lavfi", "-i", "testsrc2=size=64x64:rate=25:duration=1", "-c:v", "mpeg4", packets=False
        )
        self.assertIsNone(clip.peak_bytes_per_s)

    def test_a_sound_file_has_no_picture(self) -> None:
        clip, _ = self.probed("-f", "lavfi", "-i", "sine=duration=2", name="sound.wav")
        self.assertEqual(clip.video, ())
        self.assertEqual(clip.duration_s, 2.0)

    def test_several_clips_become_one_class_with_its_spread(self) -> None:
        source = "testsrc2=size=320x180:rate=25:duration="
        short, _ = self.probed("-f", "lavfi", "-i", source + "1", "-c:v", "mjpeg", "-q:v", "2")
        long, _ = self.probed("-f", "lavfi", "-i", source + "3", "-c:v", "mjpeg", "-q:v", "20")
        made = format_of_clips([short, long])
        assert isinstance(made, MeasuredFormat)
        self.assertEqual(made.mean_bytes_per_s, (short.bytes + long.bytes) / 4)
        self.assertEqual((made.low_bytes_per_s, made.high_bytes_per_s), (long.bytes / 3, float(short.bytes)))
        self.assertEqual((made.peak_bytes_per_s, made.clip_count), (short.peak_bytes_per_s, 2))
        self.assertEqual(made.codec_class, "JPEG")

    def test_stills_become_a_picture_size_and_sound_a_rate(self) -> None:
        picture = ("-f", "lavfi", "-i", "testsrc2=size=320x180", "-frames:v", "1")
        for name in ("still.jpg", "still.png", "still.tiff", "still.dpx"):
            still, probed = self.probed(*picture, name=name)
            made = format_of_clips([still])
            assert isinstance(made, StillsFormat), name
            self.assertEqual(made.image_bytes, int(probed["format"]["size"]))
        sound, _ = self.probed("-f", "lavfi", "-i", "sine=duration=2", name="sound.wav")
        made = format_of_clips([sound])
        assert isinstance(made, MeasuredFormat)
        self.assertEqual((made.codec_class, made.mean_bytes_per_s), ("sound", sound.bytes / 2))
        with self.assertRaises(Refused) as caught:
            format_of_clips([sound, still])
        self.assertIn("clips of one kind", caught.exception.sentence)


class MadeFiles(unittest.TestCase):
    def test_a_clip_cut_short_or_without_duration_makes_no_format(self) -> None:
        clip = read({"streams": [{"codec_type": "audio"}], "format": {"size": "9", "filename": "cut.mov"}})
        with self.assertRaises(Refused) as caught:
            format_of_clips([clip])
        self.assertIn("is the file whole?", caught.exception.sentence)
        self.assertRaises(Refused, format_of_clips, [])

    def test_the_window_is_half_open(self) -> None:
        packets = [packet("0.000000", 10), packet("0.999999", 5), packet("1.000000", 7)]
        document = {
            "packets": packets,
            "streams": [],
            "format": {"filename": "a.mov", "size": "22", "duration": "2"},
        }
        self.assertEqual(read(document).peak_bytes_per_s, 15)

    def test_packets_out_of_order_and_without_decoding_time(self) -> None:
        packets = [packet("0.5", 4), packet("0.1", 3), {"pts_time": "0.9", "size": "2"}, {"size": "100"}]
        clip = read({"packets": packets, "format": {"size": "109", "duration": "1"}})
        self.assertEqual(clip.peak_bytes_per_s, 9)

    def test_files_of_the_wrong_kind_are_refused_with_a_sentence(self) -> None:
        for raw in (
            b"", b"not json", b"[]", b"3", b'{"jobs": []}', b'{"format": {"size": "x"}}', b'{"format": 3}',
            b'{"streams": [1]}', b'{"format": {"size": "10"', b"\xff\xfe\x00", b'{"format": {"size": "-5"}}',
            b'{"packets": [{"dts_time": "soon", "size": "1"}], "format": {"size": "1"}}',
        ):  # fmt: skip
            with self.assertRaises(Refused, msg=repr(raw)) as caught:
                read_probe(io.BytesIO(raw))
            self.assertIn("accepted is", caught.exception.sentence)
