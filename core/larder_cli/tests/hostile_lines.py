"""Command lines that mean harm, out of a seed; and one limited process in which the command meets them.

``python -m larder_cli.tests.hostile_lines FIRST COUNT`` answers COUNT lines in 1 GB and three seconds of
processor time each, from the project's root.
"""

from __future__ import annotations

import contextlib
import io
import os
import random
import resource
import signal
import sys
import tempfile
from pathlib import Path

MEMORY_BYTES = 1 << 30
SECONDS_A_LINE = 3

WORDS = (
    "", "--", "-", "-1", "=", "--json", "-h=", "0", "9" * 400, "9" * 5000, "1e99999999", "1e-99999999", "1/1e9", "1/0", "nan", "inf", "-inf", "٣", "x" * 100_000, "a\udcffb",
    "\u202e", "💾", "%s", "{0}", "7x16TB", "2000x1000000TB", "1x1B", "0TB", "99999999x1TB", "raid50:9999", "raid60:0002", "1EB", "0.0000000000000001MB/s", "1TB/s", "16x100GbE",
    "disk:0.00000001MB/s", "disk:1B/week", "422", "bayer", "9000", "1B", "1000000TB", "0.000001%", "/dev/zero", "/dev/null", "/dev/stdin", "/proc/self/mem", "/", "..", "/etc/shadow",
    "docs/examples/seats.json", "docs/examples/gannet-ledge.ffprobe.json", "demo/halyard-street.json", "demo/one-box.json",
)  # fmt: skip
COMMANDS: dict[str, tuple[str, ...]] = {
    "capacity": ("--layout=raid6", "--drives=7x18TB", "--spares=1", "--headroom=20", "--record=1MiB", "--sector=4KiB", "--filesystem=cow"),
    "speed": ("--layout=raid6", "--members=6", "--read=250MB/s", "--write=240MB/s", "--streams=6", "--kind=hdd", "--degraded"),
    "path": ("2x1GbE", "10GbE", "smb", "disk:450MB/s", "--flows=3", "--mtu=1500"),
    "burst": ("--size=500GB", "--arrive=1GB/s", "--drain=300MB/s", "--cache=200GB"),
    "format": ("--width=3840", "--height=2160", "--fps=25", "--sampling=422", "--bits=10", "--ratio=4", "--packing=none"),
    "probe": ("docs/examples/gannet-ledge.ffprobe.json",),
    "coincide": ("docs/examples/seats.json", "--common=0.02"),
    "mttdl": ("--tolerates=1", "--members=8", "--groups=2", "--mttf-hours=1e6", "--mttr-hours=24", "--ure=1e-15", "--member-bytes=18TB", "--years=5"),
    "rebuild": ("--drive=18TB", "--rate=200MB/s", "--share=30", "--members=8", "--ure=1e-15"),
    "evaluate": ("demo/halyard-street.json",),
}  # fmt: skip


def hostile_line(seed: int, folder: Path) -> list[str]:
    """A command with some of its words replaced, doubled, left out or joined; ``folder`` has bad files."""
    draw = random.Random(seed)
    files = tuple(str(path) for path in sorted(folder.iterdir()))
    if draw.random() < 0.05:
        return [draw.choice((*WORDS[:20], "--help", "frob")) for _ in range(draw.randint(0, 4))]
    command = draw.choice(list(COMMANDS))
    words = list(COMMANDS[command])
    for _ in range(draw.choice((1, 1, 2, 4))):
        at = draw.randrange(len(words)) if words else 0
        name, sign, _ = words[at].partition("=") if words else ("", "", "")
        value = draw.choice((*WORDS, *files))
        change = draw.random()
        if change < 0.7 and words:
            words[at] = f"{name}={value}" if sign else value
        elif change < 0.8 and words:
            del words[at]
        elif change < 0.9:
            words.insert(at, value)
        else:
            words += words[at : at + 1]
    return [command, *words, *(["--json"] if draw.random() < 0.5 else [])]


def bad_files(folder: Path) -> None:
    """Files of every kind that a path may lead to."""
    (folder / "deep.json").write_bytes(b"[" * 50_000)
    (folder / "digits.json").write_bytes(b"9" * 5_000)
    (folder / "exponent.json").write_text(
        '{"streams":[{"codec_type":"video","avg_frame_rate":"1e40000000","width":1}]}'
    )
    (folder / "surrogate.json").write_text(
        '{"format":{"filename":"\\ud800","duration":"1","size":"5"},"streams":[]}'
    )
    (folder / "seats.json").write_text('[{"name":"x","count":10000,"bytes_per_s":1e13,"probability":0.5}]')
    (folder / "many.json").write_text(
        "[" + ",".join(['{"name":"x","count":10000,"bytes_per_s":1,"probability":0.5}'] * 9_000) + "]"
    )
    (folder / "infinite.json").write_text('[{"name":"x","count":1,"bytes_per_s":1e999,"probability":0.5}]')
    (folder / "nul.csv").write_bytes(b"\x00" * 1000)
    (folder / "empty").touch()
    (folder / "folder").mkdir()
    (folder / "loop").symlink_to(folder / "loop")
    os.mkfifo(folder / "pipe")


def faults_of(line: list[str]) -> list[str]:
    """What is wrong with the command's answer to ``line``; empty where nothing is."""
    from larder_cli.main import main

    out, errors = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(errors):
        try:
            status: object = main(line)
        except SystemExit as ended:
            status = ended.code
    said = errors.getvalue().strip()
    if status == 0:
        return [said] if said else []
    wrong = []
    if status != 2 or out.getvalue():
        wrong.append(f"status {status}, printed {out.getvalue()[:80]!r}")
    if len(said.splitlines()) != 1 or not said.endswith(".") or len(said) > 2_000:
        wrong.append(f"said {said[:300]!r}")
    if "cannot be answered" in said:
        wrong.append(f"no guard foresaw it: {said}")
    return wrong


def run_lines(first: int, count: int) -> int:
    """Answer the lines of ``count`` seeds; returns the exit status."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    wrong = 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        bad_files(folder)
        for seed in range(first, first + count):
            line = hostile_line(seed, folder)
            print(f"line {seed}", flush=True)
            # Past its time the process is ended from outside, wherever it hangs.
            signal.setitimer(signal.ITIMER_PROF, SECONDS_A_LINE)
            faults = faults_of(line)
            signal.setitimer(signal.ITIMER_PROF, 0)
            for fault in faults:
                wrong += 1
                print(
                    f"wrong: {[word[:60] for word in line]}: {fault}".encode(
                        "ascii", "backslashreplace"
                    ).decode()
                )
    print(f"{count} lines, {wrong} wrong")
    return min(wrong, 1)


if __name__ == "__main__":
    sys.exit(run_lines(int(sys.argv[1]), int(sys.argv[2])))
