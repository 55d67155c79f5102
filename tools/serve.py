"""Bring the application up: cluster, migrations, demo, static files, serving processes; and down again.

``python tools/serve.py [--port N] [--fresh [--yes]]``; ./start calls it once the machine has what it needs
and the clone's lock is held. Everything started here ends with it, whatever ends it. What dies meanwhile is
brought back, or all ends with the reason.
"""

from __future__ import annotations

import argparse
import hashlib
import http.client
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import NoReturn

from clone import RUNNING, STATE, Clone, kept_secret, note_running
from cluster import DATABASE, ROOT, Cluster, NoCluster

MANAGE = ROOT / "server" / "manage.py"
PYTHON = sys.executable
PROCESSES = 2
LOOK_SECONDS = 0.5
"""How often it is looked whether everything still runs."""
MOST_DEATHS, WITHIN_SECONDS = 12, 20
"""What dies more often than this will not be helped by starting it once more."""


def environment(cluster: Cluster) -> dict[str, str]:
    """What the server's processes see."""
    return (
        os.environ
        | cluster.environment()
        | {
            "DJANGO_SETTINGS_MODULE": "grandlarder.settings.demo",
            "LARDER_SECRET_KEY": kept_secret("secret-key", 60),
            "LARDER_COOKIE_PREFIX": "larder_" + hashlib.sha256(str(ROOT).encode()).hexdigest()[:8],
            "PYTHONPATH": f"{ROOT / 'core'}{os.pathsep}{ROOT / 'server'}",
        }
    )


def manage(env: dict[str, str], *arguments: str) -> None:
    """One of Django's commands; a failure ends the start with its output."""
    done = subprocess.run(
        [PYTHON, str(MANAGE), *arguments], env=env, text=True, capture_output=True, check=False
    )
    if done.returncode:
        result = (done.stdout + done.stderr).strip()
        log = STATE / "start.log"
        with suppress(OSError):
            log.write_text(result + "\n")
        last = result.splitlines()[-1] if result else "it said nothing"
        raise NoCluster(f"{arguments[0]} failed: {last} (the whole of it is in {log})")


def prepare(cluster: Cluster, demo_password: str) -> dict[str, str]:
    """Migrated, with demo data where there is none, and collected static files; returns the environment.

    Where the database has what these files would bring, and the page is the one collected, nothing is done.
    """
    env = environment(cluster)
    dist = ROOT / "frontend" / "dist" / ".built"
    static, done = STATE / "static.stamp", STATE / "prepared.stamp"
    is_collected = static.exists() and static.read_text() == dist.read_text()
    now = in_database(cluster)
    if is_collected and now and done.exists() and done.read_text() == brought_by_files() + now:
        return env
    # The password may begin with a hyphen.
    arguments = [f"--demo-password={demo_password}"] if demo_password else []
    manage(env, "prepare", *arguments, *(() if is_collected else ("--static",)))
    static.write_text(dist.read_text())
    done.write_text(brought_by_files() + in_database(cluster))
    return env


def brought_by_files() -> str:
    """A digest of all that makes the database what it is: migrations, ours and others', and the demo."""
    files = [ROOT / "requirements.txt", *sorted((ROOT / "demo").iterdir())]
    files += sorted((ROOT / "server").glob("*/migrations/*.py"))
    return hashlib.sha256(b"".join(hashlib.sha256(file.read_bytes()).digest() for file in files)).hexdigest()


def in_database(cluster: Cluster) -> str:
    """What the database says it has: migrations, and whether there is a studio; empty where it has none."""
    import psycopg

    target = {"dbname": DATABASE, "user": DATABASE, "password": cluster.password}
    try:
        with psycopg.connect(host="127.0.0.1", port=cluster.port, **target) as connection:
            rows = connection.execute("SELECT app, name FROM django_migrations ORDER BY app, name").fetchall()
            studios = connection.execute("SELECT count(*) > 0 FROM accounts_studio").fetchall()
    except psycopg.Error:
        return ""
    return hashlib.sha256(repr((rows, studios)).encode()).hexdigest()


class Deaths:
    """How often something has died lately."""

    def __init__(self) -> None:
        self.at: list[float] = []

    def one_more(self) -> bool:
        """Count one; whether that is still few enough to start it again."""
        now = time.monotonic()
        self.at = [*(t for t in self.at if now - t < WITHIN_SECONDS), now]
        return len(self.at) <= MOST_DEATHS


class Serving:
    """The process that splits into those that answer on one socket and one that does long work."""

    def __init__(self, env: dict[str, str], listening: socket.socket) -> None:
        self.env, self.listening = env, listening
        self.deaths = Deaths()
        self.process = self._spawn()

    def _spawn(self) -> subprocess.Popen[bytes]:
        number = self.listening.fileno()
        command = [PYTHON, "-m", "grandlarder.serving", "--fd", str(number), "--parent", str(os.getpid())]
        command += ["--processes", str(PROCESSES)]
        return subprocess.Popen(
            command, env=self.env, pass_fds=[number], start_new_session=True, stdin=subprocess.DEVNULL
        )

    def look(self) -> None:
        """Start it again where it has died; raises :class:`NoCluster` where it keeps dying."""
        if self.process.poll() is not None:
            if not self.deaths.one_more():
                raise NoCluster("The serving processes keep ending; their messages stand above.")
            self.process = self._spawn()

    def until_it_answers(self) -> None:
        """Wait until a request has been answered."""
        port = self.listening.getsockname()[1]
        while True:
            self.look()
            with suppress(OSError, http.client.HTTPException):
                connection = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
                connection.request("GET", "/api/session")
                if connection.getresponse().status == 200:
                    return
            time.sleep(0.05)

    def stop(self) -> None:
        """End them, kindly first."""
        self.process.terminate()
        try:
            self.process.wait(15)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


def listening_on(port: int) -> socket.socket:
    """A socket that listens on loopback, held from now on; raises OSError where the port is taken."""
    held = socket.socket()
    try:
        held.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        held.bind(("127.0.0.1", port))
        held.listen(512)
    except OSError:
        held.close()
        raise
    return held


@contextmanager
def server_on(env: dict[str, str], port: int = 0) -> Iterator[str]:
    """The serving processes while the block runs; gives the address."""
    with listening_on(port) as held:
        serving = Serving(env, held)
        try:
            serving.until_it_answers()
            yield f"http://127.0.0.1:{held.getsockname()[1]}/"
        finally:
            serving.stop()


@contextmanager
def throwaway_demo(password: str) -> Iterator[str]:
    """The demo on a database and port of its own, gone afterwards; gives its address."""
    with tempfile.TemporaryDirectory(prefix="larder-demo-") as folder:
        Path(folder).chmod(0o755)
        with Cluster(Path(folder) / "cluster", durable=False) as cluster:
            env = environment(cluster) | {"LARDER_STATIC_ROOT": str(Path(folder) / "static")}
            manage(env, "prepare", f"--demo-password={password}", "--static")
            with server_on(env) as address:
                yield address


def say(text: str) -> None:
    """A line for whoever started it; a terminal that has gone is no reason to end."""
    with suppress(OSError, ValueError):
        print(text, flush=True)


def _confirmed(clone: Clone, *, is_sure: bool) -> bool:
    """Ask before anything is deleted; without a terminal the answer is no."""
    if is_sure or not clone.cluster.home.exists():
        return True
    if not sys.stdin.isatty():
        say("--fresh deletes every plan of this clone, so it asks, and there is nobody to ask: add --yes.")
        return False
    words = "This deletes every plan, revision and person of this clone. Type yes to go on: "
    return input(words).strip() == "yes"


def _end(*_: object) -> NoReturn:
    """Asked to end: cleaning up is not asked twice."""
    for name in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
        signal.signal(name, signal.SIG_IGN)
    raise SystemExit(0)


def main(arguments: list[str]) -> int:
    """Serve until told to stop; returns the exit status."""
    parser = argparse.ArgumentParser(prog="./start", description="Serve Grand Larder on this machine.")
    parser.add_argument("--port", type=int, default=8000, help="port on loopback, 8000 by default")
    parser.add_argument(
        "--fresh", action="store_true", help="delete this clone's database and begin anew, after asking"
    )
    parser.add_argument("--yes", action="store_true", help="with --fresh: do not ask")
    options = parser.parse_args(arguments)
    if not 1 <= options.port <= 65535:
        parser.error(f"--port cannot be {options.port}: accepted is a number from 1 to 65535")
    for name in (signal.SIGTERM, signal.SIGHUP, signal.SIGINT):
        signal.signal(name, _end)
    try:
        with listening_on(options.port) as held:
            return _run(held, options)
    except NoCluster as fault:
        print(f"./start: {fault}", file=sys.stderr)
    except OSError as fault:
        if fault.filename is None and fault.errno is not None:
            words = f"port {options.port} cannot be had ({fault.strerror}); choose another with --port."
        else:
            words = f"{fault.filename}: {fault.strerror}."
        print(f"./start: {words}", file=sys.stderr)
    return 1


def _run(held: socket.socket, options: argparse.Namespace) -> int:
    clone = Clone.here()
    if options.fresh:
        if not _confirmed(clone, is_sure=options.yes):
            return 1
        clone.forget()
        clone = Clone.here()
    elif result := clone.check():
        say(result)
    is_first = not clone.cluster.exists
    with clone.cluster as cluster:
        clone.own()
        password = kept_secret("demo-password", 9, may_be_new=is_first)
        env = prepare(cluster, password)
        serving = Serving(env, held)
        try:
            serving.until_it_answers()
            address = f"http://127.0.0.1:{held.getsockname()[1]}/"
            note_running(address, cluster)
            _welcome(address, password)
            _keep(serving, cluster)
        finally:
            RUNNING.unlink(missing_ok=True)
            serving.stop()
    return 0


def _welcome(address: str, password: str) -> None:
    say(f"\n  Grand Larder is at  {address}\n")
    if password:
        say(f"  Sign in as technician (or owner, viewer), password {password}")
    else:
        say("  The demo's password is no longer kept here; tools/manage.py set_password gives a new one.")
    say("  Ctrl-C ends it.\n")


def _keep(serving: Serving, cluster: Cluster) -> NoReturn:
    """Look after what runs until told to end; raises :class:`NoCluster` where it cannot be kept up."""
    deaths = Deaths()
    while True:
        time.sleep(LOOK_SECONDS)
        if cluster.has_died:
            reason = cluster.reason()
            if not deaths.one_more():
                raise NoCluster(f"The database keeps ending: {reason}")
            say(f"The database has ended ({reason}); it is being brought back.")
            cluster.start()
            say("The database is back.")
        serving.look()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
