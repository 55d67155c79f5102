"""A PostgreSQL cluster of our own on loopback: made, started, stopped; nobody else's is touched.

As root the server runs as the user ``postgres`` (it refuses root) with its data below /var/lib, since that
user cannot enter root's home; otherwise as the caller, with its data inside the clone. It is a child of
whoever started it and ends with it, whatever ends that.
"""

from __future__ import annotations

import ctypes
import hashlib
import os
import pwd
import secrets
import shutil
import signal
import socket
import subprocess
import time
from contextlib import suppress
from functools import partial
from pathlib import Path
from typing import Self

ROOT = Path(__file__).resolve().parent.parent
DATABASE = "grandlarder"
SECONDS_TO_START, SECONDS_TO_STOP = 90, 30
SECONDS_TO_NOTICE = 6
LARGEST_LOG_BYTES = 5_000_000
TRIES = 5
#: What the server's log says of connections that it ends or turns away.
SAID_TO_CLIENTS = ("terminating connection", "the database system is", "database system is not yet accepting")


class NoCluster(RuntimeError):
    """The cluster cannot be had; the message is a sentence for whoever asked for it."""


def home_of(clone: Path) -> Path:
    """Where the data of ``clone`` lives."""
    if os.geteuid() != 0:
        return clone / ".state" / "postgres"
    mark = hashlib.sha256(str(clone).encode()).hexdigest()[:16]
    return Path("/var/lib/grand-larder") / mark


def free_port() -> int:
    """A port on loopback that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def end_with_parent(parent: int, how: signal.Signals) -> None:
    """In a child before it becomes its program: be sent ``how`` when the parent ends (Linux promises it)."""
    ctypes.CDLL(None).prctl(1, how)
    if os.getppid() != parent:
        os._exit(1)  # it ended before the promise was given


class Cluster:
    """One cluster in ``home``; use as a context manager, or call start and stop."""

    def __init__(self, home: Path, *, durable: bool = True) -> None:
        self.home, self.data = home, home / "data"
        self.log = home / "postgres.log"
        self.durable = durable
        self.port = 0
        self.process: subprocess.Popen[bytes] | None = None
        self._said_before_bytes = 0

    @property
    def exists(self) -> bool:
        return (self.data / "PG_VERSION").exists()

    @property
    def password(self) -> str:
        try:
            return (self.home / "password").read_text().strip()
        except FileNotFoundError:
            raise NoCluster(
                f"The database's password file {self.home / 'password'} is missing: put it back from a "
                "backup, or begin anew with ./start --fresh."
            ) from None

    def environment(self) -> dict[str, str]:
        """What the server's settings read."""
        return {
            "LARDER_DB_HOST": "127.0.0.1",
            "LARDER_DB_PORT": str(self.port),
            "LARDER_DB_NAME": DATABASE,
            "LARDER_DB_USER": DATABASE,
            "LARDER_DB_PASSWORD": self.password,
        }

    def start(self) -> None:
        """Make the cluster if it is not there, and start it; again on its own port where it had one."""
        is_new = not self.exists
        if is_new:
            self._create()
        _ = self.password  # without it nobody could use what is started
        self._end_left_behind()
        is_back, tries = bool(self.port), 0
        while True:
            self.port = self.port if is_back else free_port()
            self._spawn()
            if self._accepts():
                break
            tries += 1
            if tries == TRIES:
                raise NoCluster(f"The database does not start: {self.reason()}")
            self._end_left_behind()
            time.sleep(tries)
        if is_new:
            self._run("createdb", "-h", "127.0.0.1", "-p", str(self.port), "-U", DATABASE, DATABASE)

    @property
    def has_died(self) -> bool:
        """Whether it was started and runs no more."""
        return self.process is not None and self.process.poll() is not None

    def reason(self) -> str:
        """What its log says last since it was last started, the gravest line first in choice."""
        try:
            with self.log.open("rb") as log:
                log.seek(self._said_before_bytes)
                lines = log.read().decode(errors="replace").splitlines()[-30:]
        except OSError:
            return "it left no log"
        # What clients were told while it came up or went down is no reason why it ended.
        lines = [line for line in lines if not any(words in line for words in SAID_TO_CLIENTS)]
        grave = [line for line in lines if any(word in line for word in ("PANIC", "FATAL", "ERROR"))]
        said = (grave or lines or ["its log is empty"])[-1].strip()
        return f"{said} ({self.log})"

    def stop(self) -> None:
        """Stop it; harmless where it is not running."""
        process, self.process = self.process, None
        if process is None:
            return
        # A fast shutdown: clients are sent away, nothing that was committed is lost.
        for how in (signal.SIGINT, signal.SIGQUIT, signal.SIGKILL):
            with suppress(ProcessLookupError):
                process.send_signal(how)
            with suppress(subprocess.TimeoutExpired):
                process.wait(SECONDS_TO_STOP)
                return

    def remove(self) -> None:
        """Stop it and delete all its data."""
        self.stop()
        if self.home.exists():
            self._end_left_behind()
            shutil.rmtree(self.home)

    def __enter__(self) -> Self:
        try:
            self.start()
        except BaseException:
            self.stop()
            raise
        return self

    def __exit__(self, *_: object) -> None:
        self.stop()

    def _spawn(self) -> None:
        settings = [f"port={self.port}", "listen_addresses=127.0.0.1"]
        # No Unix socket: its path would be too long in a deep clone.
        settings += ["unix_socket_directories="]
        if not self.durable:
            settings += ["fsync=off", "synchronous_commit=off", "full_page_writes=off"]
        if self.log.exists() and self.log.stat().st_size > LARGEST_LOG_BYTES:
            self.log.replace(self.log.with_suffix(".log.1"))
        words = [word for setting in settings for word in ("-c", setting)]
        with self.log.open("ab") as log:
            self._said_before_bytes = log.tell()
            self.process = subprocess.Popen(
                [
                    str(_programs() / "postgres"),
                    "-D",
                    str(self.data),
                    *words,
                ],
                cwd="/",
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                start_new_session=True,
                # After the user has changed, or the kernel would forget it.
                preexec_fn=partial(end_with_parent, os.getpid(), signal.SIGINT),  # noqa: PLW1509  (no threads here yet)
                **_as_postgres(),
            )

    def _accepts(self) -> bool:
        """Whether it takes connections before it ends or its time is over."""
        ends = time.monotonic() + SECONDS_TO_START
        asking = [str(_programs() / "pg_isready"), "-q", "-h", "127.0.0.1", "-p", str(self.port), "-t", "1"]
        while not self.has_died and time.monotonic() < ends:
            if subprocess.run(asking, check=False, cwd="/").returncode == 0:
                return True
            time.sleep(0.05)
        self.stop()
        return False

    def _end_left_behind(self) -> None:
        """End what still works on our data: a server that its parent has left, or a killed server's children.

        Whoever calls holds the clone's lock, so nobody needs them. Such children mostly notice by themselves;
        one that waits for another does not, and would keep the memory that the next server wants.
        """
        for how in (signal.SIGINT, signal.SIGQUIT, signal.SIGKILL):
            left = self._at_work_here()
            for pid in left:
                with suppress(ProcessLookupError):
                    os.kill(pid, how)
            ends = time.monotonic() + SECONDS_TO_NOTICE
            while left and time.monotonic() < ends:
                time.sleep(0.05)
                left = self._at_work_here()

    def _at_work_here(self) -> list[int]:
        """Processes of PostgreSQL that have our data as their folder."""
        found = []
        for entry in Path("/proc").iterdir():
            with suppress(OSError):
                if entry.name.isdigit() and (entry / "cwd").readlink() == self.data.resolve():
                    found.append(int(entry.name))
        return found

    def _create(self) -> None:
        self.home.mkdir(parents=True, exist_ok=True)
        if os.geteuid() == 0:
            user = pwd.getpwnam("postgres")
            os.chown(self.home, user.pw_uid, user.pw_gid)
        self.home.chmod(0o700)
        password = self.home / "password"
        password.touch(mode=0o600)
        password.write_text(secrets.token_urlsafe(24))
        if os.geteuid() == 0:
            os.chown(password, user.pw_uid, user.pw_gid)
        try:
            self._run(
                "initdb", "-D", str(self.data), "-U", DATABASE, "-A", "scram-sha-256",
                "--pwfile", str(password), "-E", "UTF8", "--locale=C.UTF-8", "--no-instructions",
            )  # fmt: skip
        except NoCluster:
            shutil.rmtree(self.data, ignore_errors=True)  # half a cluster is none
            raise

    def _run(self, program: str, *arguments: str) -> None:
        done = subprocess.run(
            [str(_programs() / program), *arguments],
            cwd="/",
            text=True,
            check=False,
            stdin=subprocess.DEVNULL,
            env=os.environ | {"PGPASSWORD": self.password},
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            **_as_postgres(),
        )
        if done.returncode:
            said = " ".join(done.stdout.split())[-300:]
            raise NoCluster(f"{program} failed: {said} (in {self.home})")


def _as_postgres() -> dict[str, object]:
    """Arguments that make a child of root run as the user who may own a cluster."""
    if os.geteuid() != 0:
        return {}
    return {"user": "postgres", "group": "postgres", "extra_groups": []}


def _programs() -> Path:
    """PostgreSQL's programs, the newest version Debian has installed."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: float(p.parts[-3]))
    if not found:
        raise NoCluster("PostgreSQL is not installed: install the Debian package postgresql.")
    return found[-1].parent
