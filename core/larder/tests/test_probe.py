"""Clips that ffmpeg makes here, read by ffprobe and then by us; and files of the wrong kind."""

import io
import json
import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import Any

from larder.errors import Refused
from larder.probe import Clip, read_probe

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
        )  # fmt: skip
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


class MadeFiles(unittest.TestCase):
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
