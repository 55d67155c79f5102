"""A PostgreSQL cluster of our own on loopback: made, started, stopped; nobody else's is touched.

As root the server runs as the user ``postgres`` (it refuses root) with its data below /var/lib, since
that user cannot enter root's home; otherwise as the caller, with its data inside the clone.
"""

from __future__ import annotations

import hashlib
import os
import pwd
import secrets
import shutil
import socket
import subprocess
from pathlib import Path
from typing import Self

ROOT = Path(__file__).resolve().parent.parent
DATABASE = "grandlarder"


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


class Cluster:
    """One cluster in ``home``; use as a context manager, or call start and stop."""

    def __init__(self, home: Path, *, durable: bool = True) -> None:
        self.home, self.data = home, home / "data"
        self.durable = durable
        self.port = 0

    @property
    def password(self) -> str:
        return (self.home / "password").read_text().strip()

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
        """Make the cluster if it is not there, and start it on a free port."""
        is_new = not (self.data / "PG_VERSION").exists()
        if is_new:
            self._create()
        elif self._run("pg_ctl", "-D", str(self.data), "status", check=False).returncode == 0:
            self.stop()  # left behind by a killed start
        self.port = free_port()
        # No Unix socket: its path would be too long in a deep clone.
        settings = [f"-p {self.port}", "-h 127.0.0.1", "-k ''"]
        if not self.durable:
            settings += ["-c fsync=off", "-c synchronous_commit=off", "-c full_page_writes=off"]
        log = str(self.home / "postgres.log")
        self._run("pg_ctl", "-D", str(self.data), "-w", "-s", "-l", log, "-o", " ".join(settings), "start")
        if is_new:
            self._run("createdb", "-h", "127.0.0.1", "-p", str(self.port), "-U", DATABASE, DATABASE)

    def stop(self) -> None:
        """Stop it; harmless where it is not running."""
        self._run("pg_ctl", "-D", str(self.data), "-m", "fast", "-s", "stop", check=False)

    def remove(self) -> None:
        """Stop it and delete all its data."""
        if self.home.exists():
            self.stop()
            shutil.rmtree(self.home)

    def __enter__(self) -> Self:
        self.start()
        return self

    def __exit__(self, *_: object) -> None:
        self.stop()

    def _create(self) -> None:
        self.home.mkdir(parents=True, exist_ok=True)
        if os.geteuid() == 0:
            user = pwd.getpwnam("postgres")
            os.chown(self.home, user.pw_uid, user.pw_gid)
        self.home.chmod(0o700)
        password = self.home / "password"
        password.write_text(secrets.token_urlsafe(24))
        if os.geteuid() == 0:
            os.chown(password, user.pw_uid, user.pw_gid)
        password.chmod(0o600)
        self._run(
            "initdb", "-D", str(self.data), "-U", DATABASE, "-A", "scram-sha-256",
            "--pwfile", str(password), "-E", "UTF8", "--locale=C.UTF-8", "--no-instructions",
        )  # fmt: skip

    def _run(self, program: str, *arguments: str, check: bool = True) -> subprocess.CompletedProcess[str]:
        command = [str(_programs() / program), *arguments]
        if os.geteuid() == 0:
            command = ["runuser", "-u", "postgres", "--", *command]
        done = subprocess.run(
            command, cwd="/", text=True, check=False, stdin=subprocess.DEVNULL,
            env=os.environ | {"PGPASSWORD": self.password},
            stdout=subprocess.DEVNULL if program == "pg_ctl" else subprocess.PIPE,
            stderr=subprocess.DEVNULL if program == "pg_ctl" else subprocess.PIPE,
        )  # fmt: skip
        if check and done.returncode:
            raise RuntimeError(f"{program} failed: {(done.stderr or '').strip()} (log in {self.home})")
        return done


def _programs() -> Path:
    """PostgreSQL's programs, the newest version Debian has installed."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: float(p.parts[-3]))
    if not found:
        raise RuntimeError("PostgreSQL is not installed: install the Debian package postgresql.")
    return found[-1].parent
