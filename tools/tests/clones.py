"""A clone to start: the tracked files copied, what was installed and built shared, gone with its database."""

from __future__ import annotations

import http.client
import json
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from cluster import ROOT, home_of

PATIENCE_S = 120
"""How long something may take on a busy machine before it counts as not happening."""
COPIED = ("start", "tools", "server", "core", "demo", "requirements.txt")
SHARED = (".venv", "frontend")


def until(what: str, happens: Callable[[], Any], seconds: float = PATIENCE_S) -> Any:
    """What ``happens`` returns once it is true; fails with ``what`` where it never is."""
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        with suppress(OSError, http.client.HTTPException):
            if found := happens():
                return found
        time.sleep(0.05)
    raise AssertionError(f"not within {seconds:.0f} s: {what}")


class TestClone:
    """A clone in a temporary folder, and the ./start that runs in it."""

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="larder-clone-")).resolve()
        self.folder.chmod(0o755)
        for name in COPIED:
            source = ROOT / name
            if source.is_dir():
                shutil.copytree(source, self.folder / name, ignore=shutil.ignore_patterns("__pycache__"))
            else:
                shutil.copy2(source, self.folder / name)
        for name in SHARED:
            (self.folder / name).symlink_to(ROOT / name)
        (self.folder / ".git").mkdir()
        self.home = home_of(self.folder)
        self.log = self.folder / "log"
        self.process: subprocess.Popen[bytes] | None = None
        self.port = 0

    def start(self, *arguments: str, **options: Any) -> subprocess.Popen[bytes]:
        """./start in it on a free port; its output goes to the log."""
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        with self.log.open("wb") as log:
            self.process = subprocess.Popen(
                [str(self.folder / "start"), "--port", str(self.port), *arguments],
                **(
                    {"stdin": subprocess.DEVNULL, "stdout": log, "stderr": subprocess.STDOUT}
                    | {"start_new_session": True}
                    | options
                ),
            )
        return self.process

    def start_up(self, *arguments: str, **options: Any) -> subprocess.Popen[bytes]:
        """As :meth:`start`, until it has printed its address."""
        process = self.start(*arguments, **options)
        until(f"the address in {self.said()!r}", lambda: self.is_up() or process.poll() is not None)
        if process.poll() is not None:
            raise AssertionError(f"./start ended: {self.said()}")
        return process

    def is_up(self) -> bool:
        return (self.folder / ".state" / "running.json").exists() and self.answers()

    def said(self) -> str:
        return self.log.read_text(errors="replace")

    def once(self, *arguments: str) -> tuple[int, str]:
        """./start that is expected to end by itself: its status and what it said."""
        process = self.start(*arguments)
        return process.wait(PATIENCE_S), self.said()

    def stop(self, how: signal.Signals = signal.SIGTERM) -> int:
        """End it; its status."""
        process, self.process = self.process, None
        if process is None:
            return 0
        with suppress(ProcessLookupError):
            process.send_signal(how)
        return process.wait(PATIENCE_S)

    def processes(self) -> dict[int, str]:
        """What runs for this clone now, by process number: its database and its serving processes too."""
        found = {}
        marks = (str(self.folder).encode(), str(self.home).encode())
        for entry in Path("/proc").iterdir():
            if entry.name.isdigit() and int(entry.name) != os.getpid():
                with suppress(OSError):
                    answer = (entry / "cmdline").read_bytes()
                    around = (entry / "environ").read_bytes()
                    if any(mark in answer or mark in around for mark in marks) and (entry / "exe").exists():
                        found[int(entry.name)] = answer.replace(b"\0", b" ").decode(errors="replace").strip()
        return found

    def database_process(self) -> int:
        return int((self.home / "data" / "postmaster.pid").read_text().split()[0])

    def serving_processes(self) -> list[int]:
        return [pid for pid, answer in self.processes().items() if "grandlarder.serving" in answer]

    def answers(self) -> bool:
        return self.get("/api/session")[0] == 200

    def get(self, path: str, **headers: str) -> tuple[int, Any]:
        """(status, JSON) of a request; OSError where nobody answers."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        try:
            connection.request("GET", path, headers=headers)
            answer = connection.getresponse()
            raw = answer.read()
            return answer.status, json.loads(raw) if raw[:1] in b"[{" and raw else raw
        finally:
            connection.close()

    def password(self) -> str:
        return (self.folder / ".state" / "demo-password").read_text().strip()

    def remove(self) -> None:
        self.stop(signal.SIGKILL)
        until("everything of the clone to end", lambda: not self.processes())
        shutil.rmtree(self.folder, ignore_errors=True)
        shutil.rmtree(self.home, ignore_errors=True)
        for aside in self.home.parent.glob(self.home.name + ".*"):
            shutil.rmtree(aside, ignore_errors=True)


class Browser:
    """Somebody who signs in to a clone and speaks JSON with it, over one connection a request."""

    def __init__(self, port: int) -> None:
        self.port, self.cookies, self.token = port, {}, ""

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
        headers = {
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
            "X-CSRFToken": self.token,
            "Content-Type": "application/json",
        }
        try:
            connection.request(method, path, None if body is None else json.dumps(body), headers)
            answer = connection.getresponse()
            for cookie in answer.headers.get_all("Set-Cookie") or ():
                if match := re.match(r"\s*([^=]+)=([^;]*)", cookie):
                    self.cookies[match[1]] = match[2]
            raw = answer.read()
            return answer.status, json.loads(raw) if raw else None
        finally:
            connection.close()

    def sign_in(self, name: str, password: str) -> int:
        self.token = self.ask("GET", "/api/session")[1]["token"]
        status, answer = self.ask("POST", "/api/session", {"username": name, "password": password})
        if status == 200:
            self.token = answer["token"]
        return status
