"""The command under attack: never a traceback, never a hang, never a crash."""

import os
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from larder_cli.tests.test_command import run as answered

ROOT = Path(__file__).resolve().parents[3]
LINES = 400
PROCESSOR_SECONDS = 10


def run(*arguments: str, **options: object) -> subprocess.CompletedProcess[bytes]:
    """The command as a process that ends, wherever it hangs, when its processor time is over."""
    environment = (
        os.environ | {"PYTHONPATH": str(ROOT / "core"), "PYTHONUTF8": "0"} | dict(options.pop("env", {}))
    )  # type: ignore[call-overload]
    return subprocess.run(
        [sys.executable, "-m", "larder_cli", *arguments],
        cwd=ROOT, check=False, stdin=subprocess.DEVNULL, env=environment, preexec_fn=_limit,
        **({"stdout": subprocess.PIPE, "stderr": subprocess.PIPE} | options),  # type: ignore[call-overload]
    )  # fmt: skip


def _limit() -> None:
    import resource

    resource.setrlimit(resource.RLIMIT_CPU, (PROCESSOR_SECONDS, PROCESSOR_SECONDS))
    signal.signal(signal.SIGPIPE, signal.SIG_IGN)


class Attacked(unittest.TestCase):
    def test_whatever_it_is_asked_it_answers_or_says_why_not_in_a_line(self) -> None:
        done = subprocess.run(
            [sys.executable, "-m", "larder_cli.tests.hostile_lines", "0", str(LINES)],
            cwd=ROOT, check=False, text=True, stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
            env=os.environ | {"PYTHONPATH": str(ROOT / "core"), "OPENBLAS_NUM_THREADS": "1"},
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stdout[-3000:])
        self.assertTrue(done.stdout.endswith(f"{LINES} lines, 0 wrong\n"))

    def test_a_device_that_never_ends_and_a_pipe_without_a_writer_are_no_files(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            os.mkfifo(Path(name, "pipe"))
            pipe = str(Path(name, "pipe"))
            for command, path in (("probe", "/dev/zero"), ("coincide", pipe), ("evaluate", "/dev/zero")):
                done = run(command, path)
                self.assertEqual(
                    (done.returncode, b"no ordinary file" in done.stderr), (2, True), done.stderr
                )

    def test_a_number_that_a_line_cannot_hold_is_refused_by_its_field(self) -> None:
        fields = ("--width=1920", "--height=1080", "--sampling=422", "--bits=10")
        for bad in ("--fps=1e99999999", "--fps=1/1e99999999", "--fps=--", "--ratio=9e9999999"):
            done = answered("format", *fields, *(("--fps=25",) if "ratio" in bad else ()), bad)
            self.assertEqual(done.returncode, 2)
            self.assertTrue(done.stderr.startswith(bad[2:5]), done.stderr)
        # And as a process that has its processor time counted.
        self.assertEqual(run("format", *fields, "--fps=1e99999999").returncode, 2)


class Surroundings(unittest.TestCase):
    LINE = ("format", "--width=1920", "--height=1080", "--fps=25", "--sampling=422", "--bits=10")

    def test_a_full_device_is_said(self) -> None:
        with Path("/dev/full").open("wb") as full:
            done = run(*self.LINE, stdout=full)
        self.assertEqual(done.returncode, 1)
        self.assertEqual(done.stderr, b"The answer cannot be written: No space left on device.\n")

    def test_a_reader_that_has_gone_is_no_fault(self) -> None:
        reading, writing = os.pipe()
        os.close(reading)
        try:
            done = run("evaluate", "demo/tern-and-tide.json", "--json", stdout=writing)
        finally:
            os.close(writing)
        self.assertEqual((done.returncode, done.stderr), (0, b""))

    def test_a_terminal_that_knows_few_signs_still_gets_the_answer(self) -> None:
        done = run(
            "evaluate",
            "demo/tern-and-tide.json",
            env={"LC_ALL": "C", "PYTHONIOENCODING": "ascii", "PYTHONCOERCECLOCALE": "0"},
        )
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        self.assertIn(b"scales", done.stdout)
        refused = run("path", "gbé", env={"LC_ALL": "C", "PYTHONIOENCODING": "ascii"})
        self.assertEqual(
            (refused.returncode, refused.stdout, b"Traceback" in refused.stderr), (2, b"", False)
        )
