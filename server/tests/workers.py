"""Workers of the queue of long work as processes of their own, on the database of a test."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from django.conf import settings
from django.db import connection


def worker() -> subprocess.Popen[bytes]:
    """One more; whoever began it ends it."""
    env = os.environ | {
        "LARDER_DB_NAME": str(connection.settings_dict["NAME"]),
        "PYTHONPATH": f"{settings.ROOT / 'core'}{os.pathsep}{settings.ROOT / 'server'}",
    }
    command = [sys.executable, "-W", "ignore", str(settings.ROOT / "server" / "manage.py"), "work"]
    return subprocess.Popen(command, env=env, start_new_session=True)


@contextmanager
def one_worker() -> Iterator[None]:
    """One worker, as long as it is wanted."""
    works = worker()
    try:
        yield
    finally:
        works.terminate()
        works.wait()
