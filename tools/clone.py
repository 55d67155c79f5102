"""Whose database is whose: a clone's own id, what it runs as now, and folders that are missing or foreign."""

from __future__ import annotations

import json
import os
import secrets
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from cluster import ROOT, Cluster, NoCluster, home_of

STATE = ROOT / ".state"
RUNNING = STATE / "running.json"
"""What runs from this clone now, for a second start and for tools/manage.py; its lock is ``.state/lock``."""


def kept_secret(name: str, length: int, *, may_be_new: bool = True) -> str:
    """A random text of this clone's own, made once; empty where it is lost and must not be made anew."""
    path = STATE / name
    if not path.exists():
        if not may_be_new:
            return ""
        STATE.mkdir(exist_ok=True)
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(length))
    return path.read_text().strip()


def _id_file() -> Path:
    """Beside Git's own files, so that cleaning the working tree does not lose it; else in the state."""
    git = ROOT / ".git"
    return git / "grand-larder-clone" if git.is_dir() else STATE / "clone"


@dataclass(frozen=True)
class Clone:
    """This clone with the database it has had; ``id`` is empty where it has had none."""

    id: str
    cluster: Cluster

    @property
    def is_new(self) -> bool:
        return not self.id

    @staticmethod
    def here() -> Clone:
        """This clone; an id that another path was given is a copy's and does not count."""
        try:
            known, path = _id_file().read_text().split("\n")[:2]
        except (OSError, ValueError):
            known, path = "", ""
        return Clone(known if path == str(ROOT) else "", Cluster(home_of(ROOT)))

    def check(self) -> str:
        """Raise :class:`NoCluster` for a missing or foreign database; returns what is to be told."""
        home = self.cluster.home
        owner = home / "clone"
        if self.is_new and self.cluster.exists and not owner.exists():
            return ""  # made before clones had ids
        if self.is_new and home.exists():
            aside = home.with_name(f"{home.name}.earlier-{time.strftime('%Y%m%d-%H%M%S')}")
            home.rename(aside)
            return f"The database of an earlier clone at this path is kept as {aside}; this one begins anew."
        if not self.is_new and not self.cluster.exists:
            raise NoCluster(
                f"The database of this clone is missing: there is no {self.cluster.data}. Put it back from a "
                "backup, or begin anew with ./start --fresh."
            )
        if not self.is_new and (not owner.exists() or owner.read_text().strip() != self.id):
            raise NoCluster(
                f"{home} holds a database of another clone. Put this clone's own back from a backup, or "
                "begin anew with ./start --fresh, which deletes what is there."
            )
        return ""

    def own(self) -> None:
        """Write into both, once there is a database, that they belong together."""
        if self.is_new or not (self.cluster.home / "clone").exists():
            mark = self.id or secrets.token_hex(16)
            (self.cluster.home / "clone").write_text(mark + "\n")
            _id_file().parent.mkdir(exist_ok=True)
            _id_file().write_text(f"{mark}\n{ROOT}\n")

    def forget(self) -> None:
        """Delete the database and all that belongs to it."""
        self.cluster.remove()
        _id_file().unlink(missing_ok=True)
        (STATE / "demo-password").unlink(missing_ok=True)


def note_running(address: str, cluster: Cluster) -> None:
    """Leave word of what runs from this clone."""
    result = {"address": address, "process": os.getpid(), "database_port": cluster.port}
    RUNNING.touch(mode=0o600)
    RUNNING.write_text(json.dumps(result) + "\n")


def running() -> dict[str, Any]:
    """What was left word of; empty where nothing was."""
    try:
        rows = json.loads(RUNNING.read_text())
    except (OSError, ValueError):
        return {}
    return rows if isinstance(rows, dict) else {}
