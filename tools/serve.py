"""Bring the application up: cluster, migrations, demo, static files, gunicorn; and down again.

``python tools/serve.py [--port N] [--fresh]``; ./start calls it once the machine has what it needs.
Everything started here ends with it, on Ctrl-C too.
"""

from __future__ import annotations

import argparse
import os
import secrets
import signal
import socket
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from cluster import ROOT, Cluster, free_port, home_of

STATE = ROOT / ".state"
MANAGE = ROOT / "server" / "manage.py"
PYTHON = sys.executable


def kept_secret(name: str, length: int) -> str:
    """A random text of this clone's own, made once."""
    path = STATE / name
    if not path.exists():
        STATE.mkdir(exist_ok=True)
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(length))
    return path.read_text().strip()


def port_is_free(port: int) -> bool:
    """Whether ``port`` on loopback can be listened on."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


def environment(cluster: Cluster) -> dict[str, str]:
    """What the server's processes see."""
    return (
        os.environ
        | cluster.environment()
        | {
            "DJANGO_SETTINGS_MODULE": "grandlarder.settings.demo",
            "LARDER_SECRET_KEY": kept_secret("secret-key", 60),
            "PYTHONPATH": f"{ROOT / 'core'}{os.pathsep}{ROOT / 'server'}",
        }
    )


def manage(env: dict[str, str], *arguments: str) -> None:
    """One of Django's commands; a failure ends the start with its output."""
    done = subprocess.run(
        [PYTHON, str(MANAGE), *arguments], env=env, text=True, capture_output=True, check=False
    )
    if done.returncode:
        sys.exit(f"{' '.join(arguments[:1])} failed:\n{done.stdout}{done.stderr}")


def prepare(cluster: Cluster) -> dict[str, str]:
    """Migrated, with demo data and collected static files; returns the environment."""
    env = environment(cluster)
    manage(env, "migrate", "--verbosity", "0")
    manage(env, "load_demo", "--password", kept_secret("demo-password", 9))
    dist = ROOT / "frontend" / "dist" / ".built"
    stamp = STATE / "static.stamp"
    if not stamp.exists() or stamp.read_text() != dist.read_text():
        manage(env, "collectstatic", "--noinput", "--clear", "--verbosity", "0")
        stamp.write_text(dist.read_text())
    return env


def confirmed() -> bool:
    """Ask before everything is deleted; without a terminal the answer is no."""
    if not sys.stdin.isatty():
        print("--fresh deletes every plan of this clone, so it asks, and there is nobody to ask here.")
        return False
    return input("This deletes every plan, revision and person of this clone. Type yes to go on: ") == "yes"


def main(arguments: list[str]) -> int:
    """Serve until told to stop; returns the exit status."""
    parser = argparse.ArgumentParser(prog="./start", description="Serve Grand Larder on this machine.")
    parser.add_argument("--port", type=int, default=8000, help="port on loopback, 8000 by default")
    parser.add_argument(
        "--fresh", action="store_true", help="delete this clone's database and begin anew, after asking"
    )
    options = parser.parse_args(arguments)
    if not 1 <= options.port <= 65535:
        parser.error(f"--port cannot be {options.port}: accepted is a number from 1 to 65535")
    if not port_is_free(options.port):
        parser.error(f"port {options.port} is taken; choose another with --port")
    home = home_of(ROOT)
    if options.fresh:
        if not confirmed():
            return 1
        Cluster(home).remove()
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    with Cluster(home) as cluster:
        return _serve(prepare(cluster), options.port)


@contextmanager
def server_on(env: dict[str, str], port: int) -> Iterator[subprocess.Popen[bytes]]:
    """Gunicorn on loopback while the block runs."""
    command = [
        PYTHON, "-m", "gunicorn", "grandlarder.wsgi:application", "--chdir", str(ROOT / "server"),
        "--bind", f"127.0.0.1:{port}", "--workers", "2", "--threads", "4", "--log-level", "warning",
        "--preload",
    ]  # fmt: skip
    server = subprocess.Popen(command, env=env, start_new_session=True)
    try:
        _wait_until_it_listens(server, port)
        yield server
    finally:
        server.terminate()
        server.wait()


@contextmanager
def throwaway_demo(password: str) -> Iterator[str]:
    """The demo on a database and port of its own, gone afterwards; gives its address."""
    with tempfile.TemporaryDirectory(prefix="larder-demo-") as folder:
        Path(folder).chmod(0o755)
        with Cluster(Path(folder) / "cluster", durable=False) as cluster:
            env = environment(cluster) | {"LARDER_STATIC_ROOT": str(Path(folder) / "static")}
            manage(env, "migrate", "--verbosity", "0")
            manage(env, "load_demo", "--password", password)
            manage(env, "collectstatic", "--noinput", "--verbosity", "0")
            port = free_port()
            with server_on(env, port):
                yield f"http://127.0.0.1:{port}/"


def _serve(env: dict[str, str], port: int) -> int:
    try:
        with server_on(env, port) as server:
            print(f"\n  Grand Larder is at  http://127.0.0.1:{port}/\n")
            print(f"  Sign in as technician (or owner, viewer), password {kept_secret('demo-password', 9)}")
            print("  Ctrl-C ends it.\n", flush=True)
            return server.wait()
    except (KeyboardInterrupt, SystemExit):
        return 0


def _wait_until_it_listens(server: subprocess.Popen[bytes], port: int) -> None:
    while server.poll() is None:
        with socket.socket() as probe:
            probe.settimeout(1)
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        try:
            server.wait(timeout=0.05)
        except subprocess.TimeoutExpired:
            continue
    sys.exit("the server did not start; its message stands above")


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
