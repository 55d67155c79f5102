"""Every reader meets files that mean harm, in a process of 512 MB and two seconds a file; and the guard itself."""

import io
import json
import os
import random
import subprocess
import sys
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import LarderError, Refused, shown
from larder.base.guard import DEEPEST, JsonGuard, Wanted, check_json, guarded_json, guarded_number
from larder.base.patch import Operation, _meeting
from larder.readers.csv_table import MOST_COLUMNS, MOST_ROWS, read_table
from larder.readers.ffprobe import read_probe
from larder.readers.smartctl import read_drive_report
from larder.tests.drawn import few

CORE = Path(__file__).resolve().parents[3]
FILES = few(100)
WANTED = Wanted("file", "JSON", 5_000_000)
READERS = ("plan", "probe", "report", "stock", "catalogue", "manifest", "quick", "words")

texts = st.text(st.characters(codec="utf-8"), max_size=12)
trees = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(10**20), 10**20)
    | st.floats(-1e9, 1e9, allow_subnormal=False).filter(lambda n: n == 0 or abs(n) > 1e-200)
    | texts,
    lambda t: st.lists(t, max_size=4) | st.dictionaries(texts, t, max_size=4),
)


class EveryReader(unittest.TestCase):
    def test_it_reads_or_refuses_in_a_sentence_whatever_it_is_given(self) -> None:
        environment = os.environ | {"PYTHONPATH": str(CORE), "OPENBLAS_NUM_THREADS": "1"}

        def fed(reader: str) -> subprocess.CompletedProcess[str]:
            return subprocess.run(
                [sys.executable, "-m", "larder.readers.tests.hostile_files", reader, "0", str(FILES)],
                env=environment, check=False, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
            )  # fmt: skip

        with ThreadPoolExecutor(os.cpu_count()) as several:
            for reader, done in zip(READERS, several.map(fed, READERS), strict=True):
                with self.subTest(reader=reader):
                    self.assertEqual(done.returncode, 0, done.stdout[-1500:])


class TheGuard(unittest.TestCase):
    @given(trees, st.randoms(use_true_random=False), st.booleans())
    def test_ordinary_json_passes_however_it_is_cut(
        self, tree: object, cuts: random.Random, escaped: bool
    ) -> None:
        raw = json.dumps(tree, ensure_ascii=escaped).encode()
        guard, at = JsonGuard(WANTED), 0
        while at < len(raw):
            length = cuts.randint(1, 7)
            guard.feed(raw[at : at + length])
            at += length
        self.assertEqual((guard.depth, guard.bytes), (0, len(raw)))
        self.assertEqual(guarded_json(raw, WANTED), tree)

    def test_what_costs_too_much_is_refused_by_what_it_is(self) -> None:
        for raw, said in (
            (b"[" * (DEEPEST + 1), "deep"), (b'{"a":' * 50_000, "deep"), (b"9" * 60, "digits"), (b"[1e301]", "exponent"), (b"[1e-40000000]", "exponent"),
            (b"[0.1E+999]", "exponent"), (b"[NaN]", "NaN"), (b"[-Infinity]", "NaN"), (b'["\\ud800"]', "surrogate"), (b'["\\udc00\\ud800"]', "surrogate"),
            (b'"' + b"a" * 200_000 + b'"', "text of more"), (b"[" + b"0," * 500_000 + b"0]", "values"), (b" " * 5_000_001, "bytes"),
        ):  # fmt: skip
            with self.subTest(raw=raw[:20]), self.assertRaises(Refused) as caught:
                check_json(raw, WANTED)
            self.assertIn(said, caught.exception.sentence)
        for raw in (
            b'["[[[[\\"[[[[ 1e999 NaN"]',
            b'["\\\\ud800"]',
            b'["\\ud83d\\ude00"]',
            b"[1e300, -1E-300, 1234567890123456789012345]",
        ):
            check_json(raw, WANTED)

    def test_brackets_that_close_too_soon_do_not_hide_depth(self) -> None:
        self.assertRaises(Refused, check_json, b"[" * 60 + b"]" * 30 + b"[" * 40, WANTED)

    def test_numbers_of_tools_are_exact_and_never_dear(self) -> None:
        self.assertEqual(float(guarded_number("24000/1001", WANTED, "rate")), 24000 / 1001)
        self.assertEqual(guarded_number("23.976", WANTED, "rate") * 1000, 23976)
        for bad in ("1e40000000", "1/0", "9" * 41, "1/1e9", "٣", "", "nan", None, [], "0x10", "1_000"):
            self.assertRaises(Refused, guarded_number, bad, WANTED, "rate")


class Readers(unittest.TestCase):
    def test_a_frame_rate_that_would_fill_the_machine_is_no_frame_rate(self) -> None:
        stream = {
            "codec_type": "video",
            "codec_name": "h264",
            "width": 1,
            "height": 1,
            "avg_frame_rate": "1e40000000",
        }
        clip = read_probe(
            io.BytesIO(json.dumps({"streams": [stream], "format": {"size": "5", "duration": "1"}}).encode())
        )
        self.assertIsNone(clip.video[0].fps)

    def test_names_that_cannot_be_sent_come_without_the_signs_that_cannot(self) -> None:
        raw = b'{"format": {"filename": "a\\u0000b\\u202e.mov", "size": "5", "duration": "1"}, "streams": []}'
        self.assertEqual(read_probe(io.BytesIO(raw)).name, "a\ufffdb\ufffd.mov")

    def test_a_temperature_of_four_hundred_digits_is_refused(self) -> None:
        raw = b'{"smartctl": {}, "temperature": {"current": ' + b"9" * 400 + b"}}"
        self.assertRaisesRegex(Refused, "digits", read_drive_report, raw)

    def test_tables_are_bounded_in_rows_and_columns(self) -> None:
        self.assertRaisesRegex(Refused, "columns in line 1", read_table, b"," * MOST_COLUMNS, "list", "x")
        self.assertRaisesRegex(
            Refused, f"at most {MOST_ROWS} rows", read_table, b"a\n" * (MOST_ROWS + 2), "list", "x"
        )
        self.assertRaisesRegex(Refused, "control character in line 2", read_table, b"a\n\x00\n", "list", "x")

    def test_a_refusal_never_quotes_what_cannot_be_printed(self) -> None:
        for value in (10**5000, "\ud800\x00" * 100, "x" * 10**6, float("nan"), [[[]]] * 1000):
            said = shown(value)
            self.assertLessEqual(len(said.encode("utf-8")), 250)
            self.assertTrue(said.isprintable())


class LongChanges(unittest.TestCase):
    @given(
        st.lists(st.lists(st.sampled_from("abc"), min_size=1, max_size=3), max_size=8),
        st.lists(st.lists(st.sampled_from("abc"), min_size=1, max_size=3), max_size=8),
    )
    def test_changes_meet_where_one_place_is_the_other_or_lies_in_it(
        self, mine: list[list[str]], theirs: list[list[str]]
    ) -> None:
        ours, others = (
            tuple(Operation(op="remove", path="/".join(p)) for p in paths) for paths in (mine, theirs)
        )
        pairs = [
            (a, b)
            for a in ours
            for b in others
            if a.target[: len(b.target)] == b.target or b.target[: len(a.target)] == a.target
        ]
        key = lambda pair: (pair[0].path, pair[1].path)  # noqa: E731
        self.assertEqual(sorted(_meeting(ours, others), key=key), sorted(pairs, key=key))

    def test_every_refusal_is_of_the_same_family(self) -> None:
        self.assertTrue(issubclass(Refused, LarderError))
