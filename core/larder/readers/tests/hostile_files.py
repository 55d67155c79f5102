"""Files that mean harm, out of a seed, for every reader; and one limited process in which a reader meets them.

``python -m larder.readers.tests.hostile_files READER FIRST COUNT`` reads COUNT files in 512 MB and two seconds of
processor time each, and ends with a line that says how many were read and how many refused.
"""

from __future__ import annotations

import io
import json
import random
import resource
import signal
import sys
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[4]
MEMORY_BYTES = 512 << 20
SECONDS_A_FILE = 2
DIGITS = "9" * 5_000
TEXTS = (
    "", " ", "-1", "0", "1e40000000", "-1e-40000000", "1/1e9999999", "0/0", "9" * 400, DIGITS, "\x00", "a\x00b", "\ud800", "\udfff\ud800",
    "NaN", "Infinity", "1e400", "٣", "²", "½", "١٢TB", "=cmd|'/c'!A1", "../" * 2000, " " * 60_000, "x" * 60_000, "[" * 3_000, "1x" * 2_000, "\u202e", "💾",
)  # fmt: skip
VALUES: tuple[Any, ...] = (
    None,
    True,
    False,
    0,
    -1,
    10**39,
    -(10**39),
    1e300,
    -1e300,
    5e-324,
    [],
    {},
    [[]],
    [None],
    {"": ""},
    *TEXTS,
)


@cache
def bombs() -> tuple[bytes, ...]:
    """Whole files that cost most for their size."""
    return (
        b"", b" " * 1_000_000, b"[" * 50_000, b'{"a":' * 50_000, b"[" * 50_000 + b"]" * 50_000, b"\xff\xfe[\x00]\x00", b"\xef\xbb\xbf{}", b"\x00" * 100_000,
        b"[" + b"[]," * 900_000 + b"[]]", b'{"streams":[' + b"{}," * 900_000 + b"{}]}", b'{"packets":[' + b"{}," * 1_300_000 + b"{}]}",
        b"9" * 1_000_000, b"-" * 1_000_000, b"1e" + b"9" * 1_000_000, b'"' + b"a" * 4_000_000 + b'"', b'"' + b"\\u0041" * 500_000 + b'"',
        b'{"format":{' + b",".join(b'"k%d":1' % n for n in range(200_000)) + b"}}", b"," * 4_000_000, b"\n" * 4_000_000, b'"' * 999_999, b'"\n' * 1_000_000,
        b"size\n" + b"1TB\n" * 19_000, b"size,box\n" + b"1TB,none\n" * 19_000, b"size,kind,label\n" + b"".join(b"0TB,box,b%d\n" % n for n in range(9_000)) + b"size\n",
        b"label,kind,size,box\n" + b"".join(b"b%d,box,0GB,\nd%d,drive,1TB,none%d\n" % (n, n, n) for n in range(9_000)),
        b"size,materials\n1TB,a" + b" " * 120_000 + b"\n", b'size,materials\n1TB,"' + b'""' * 50_000 + b'"\n', b"id,price\n" + b"a" * 4_000_000,
        b"id,name,bays,cards\na,b,4,Slot=pcie3x8 flash carrier " + b"9" * 60_000, b"0" * 32 + b"  " + b"a" * 10_000_000, (b"0" * 32 + b"  a\n") * 250_000,
        b"SHA256 (" + b")" * 2_000_000, b"A" * 3_000_000 + b" (", b"SHA256 (" + b" = (" * 500_000, "\u2028".encode() * 1_000_000,
    )  # fmt: skip


def _samples() -> dict[str, bytes]:
    """What each reader reads when nobody means harm."""
    probe = json.loads((ROOT / "docs" / "examples" / "gannet-ledge.ffprobe.json").read_bytes())
    probe["packets"] = probe["packets"][:6]
    report = {
        "smartctl": {"version": [7, 3], "messages": [{"string": "x", "severity": "error"}]}, "serial_number": "S-1",
        "user_capacity": {"bytes": 4 * 10**12}, "rotation_rate": 7200, "power_on_time": {"hours": 12}, "temperature": {"current": 30},
        "ata_smart_attributes": {"table": [{"id": 5, "raw": {"value": 0}}]},
    }  # fmt: skip
    return {
        "plan": (ROOT / "demo" / "halyard-street.json").read_bytes(),
        "probe": json.dumps(probe).encode(),
        "report": json.dumps(report).encode(),
        "stock": (ROOT / "demo" / "stock.csv").read_bytes(),
        "catalogue": b"class,price,currency,date\nd,12.50,EUR,2026-01-01\n",
        "manifest": b"0123456789abcdef0123456789abcdef  card/a.mov\nfedcba9876543210fedcba9876543210  card/b.mov\n",
        "quick": b"4x 2TB ssd sata 2022 drawer-3 65%",
        "words": b"raid50:2 20TB+3x8TB 450MB/s 1h30 2x10GbE disk:5MB/s east:1-8,f2 1e-15",
    }


class Hostile:
    """Draws a file for a reader out of a seed."""

    def __init__(self, sample: bytes, seed: int) -> None:
        self.random, self.sample = random.Random(seed), sample

    def file(self) -> bytes:
        kind = self.random.random()
        if kind < 0.3:
            return self.random.choice(bombs())
        try:
            document = json.loads(self.sample)
        except ValueError:
            return self._mangled() if kind < 0.6 else self._text()
        if kind < 0.45:
            return self._mangled()
        for _ in range(self.random.choice((1, 1, 1, 3, 10))):
            document = self._changed(document)
        return json.dumps(document).encode("utf-8", "surrogatepass")

    def _mangled(self) -> bytes:
        raw = bytearray(self.sample)
        for _ in range(self.random.randint(1, 20)):
            at = self.random.randrange(len(raw) or 1)
            raw[at : at + self.random.choice((0, 1, 5))] = self.random.randbytes(
                self.random.choice((0, 1, 3))
            )
        return bytes(raw[: self.random.choice((len(raw), len(raw), self.random.randint(0, len(raw))))])

    def _text(self) -> bytes:
        """One word of the sample replaced by something else."""
        words = self.sample.decode().replace(",", " , ").replace("\n", " \n ").split(" ")
        for _ in range(self.random.choice((1, 1, 3))):
            words[self.random.randrange(len(words))] = self.random.choice(TEXTS)
        return " ".join(words).replace(" , ", ",").replace(" \n ", "\n").encode("utf-8", "surrogatepass")

    def _changed(self, node: Any) -> Any:
        """The document with one value somewhere in it replaced."""
        if isinstance(node, dict) and node and self.random.random() < 0.95:
            key = self.random.choice(list(node))
            if self.random.random() < 0.03:
                return node | {self.random.choice(TEXTS): node[key]}
            return node | {key: self._changed(node[key])}
        if isinstance(node, list) and node and self.random.random() < 0.9:
            at = self.random.randrange(len(node))
            return [*node[:at], self._changed(node[at]), *node[at + 1 :]]
        return self.random.choice(VALUES)


def _read_words(raw: bytes) -> None:
    """Everything that parses a single word, each on the whole text and on its first word."""
    from larder.base.errors import LarderError
    from larder.base.units import parse_drives, parse_rate, parse_size
    from larder.laws.layout import parse_layout
    from larder.laws.path import parse_hop
    from larder.plan.bays import parse_bays

    text = raw.decode("utf-8", "surrogatepass")
    refused = 0
    for parse in (
        parse_size,
        parse_rate,
        parse_drives,
        parse_layout,
        parse_hop,
        parse_bays,
    ):
        for word in (text[:2000], text.split(" ")[0]):
            try:
                parse(word)
            except LarderError:
                refused += 1
    if refused:
        raise LarderError


def readers() -> dict[str, Callable[[bytes], object]]:
    """Every reader by name; what it takes in is judged or written out again as well."""
    from larder.judge.evaluation import evaluate
    from larder.plan.catalogue import Catalogue
    from larder.readers.catalogue_csv import read_catalogue_csv
    from larder.readers.clips import format_of_clips
    from larder.readers.ffprobe import read_probe
    from larder.readers.generic_lists import generic_catalogue
    from larder.readers.manifest import read_manifest
    from larder.readers.plan_file import read_bundle
    from larder.readers.quick_entry import parse_quick
    from larder.readers.smartctl import read_drive_report
    from larder.readers.stock_csv import read_stock_csv

    return {
        "plan": lambda raw: json.dumps(evaluate(read_bundle(raw)).model_dump(mode="json"), allow_nan=False).encode(),
        "probe": lambda raw: format_of_clips([read_probe(io.BytesIO(raw))]).model_dump_json(),
        "report": lambda raw: repr(read_drive_report(raw)).encode(),
        "stock": lambda raw: read_stock_csv(raw, {"S-1"}, {"Loft"}),
        "catalogue": lambda raw: (read_catalogue_csv(raw, generic_catalogue()), read_catalogue_csv(raw, Catalogue())),
        "manifest": read_manifest,
        "quick": lambda raw: parse_quick(raw.decode("utf-8", "surrogatepass")),
        "words": _read_words,
    }  # fmt: skip


def main(reader: str, first: int, count: int) -> int:
    """Read the files of ``count`` seeds; returns the exit status."""
    from larder.base.errors import LarderError

    read = readers()[reader]
    sample = _samples()[reader]
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    taken = refused = 0
    for seed in range(first, first + count):
        raw = Hostile(sample, seed).file()
        print(f"{reader} {seed}", flush=True)
        # Past its time the process is ended from outside, wherever it hangs.
        signal.setitimer(signal.ITIMER_PROF, SECONDS_A_FILE)
        try:
            read(raw)
            taken += 1
        except LarderError as error:
            refused += 1
            str(error).encode("utf-8")
        except UnicodeDecodeError:
            refused += 1  # bytes that are no text never reach a reader of text
        signal.setitimer(signal.ITIMER_PROF, 0)
    print(f"taken {taken}, refused {refused}")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1], int(sys.argv[2]), int(sys.argv[3])))
