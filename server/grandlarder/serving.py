"""The processes that serve: waitress over a listening socket that whoever started them holds and shares.

``python -m grandlarder.serving --fd N --parent PID [--processes N]`` imports the application once and splits
into so many processes that answer and one that does long work; one that dies is there again at once. Slow
clients are buffered by one loop that waits for all of them, and a thread is taken only for a request that is
whole. What is too large is refused at its headers. All of them end with their parent, whatever ends that.
"""

from __future__ import annotations

import argparse
import copy
import ctypes
import gc
import importlib
import json
import os
import signal
import socket
import sys
import threading
import time
import traceback
from pathlib import Path
from typing import Any, ClassVar, NoReturn

from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer, create_server
from waitress.task import ErrorTask

THREADS = 6
MOST_CONNECTIONS = 900
IDLE_SECONDS, SECONDS_TO_END = 60, 5
SECONDS_TO_STOP = 4
SHORTEST_LIFE_S, PAUSE_S = 2.0, 0.5
"""A process that lived shorter than this is not begun anew at once: what ended it needs a moment."""
SECONDS_TO_SAY_IT = 20
"""A request's headers must have come after so long; its body has a second more for each SLOWEST bytes."""
SLOWEST_BYTES_PER_S = 20_000
LARGE_BODIES = {"/probe": 400_000_000, "/manifest": 20_000_000}
"""What an endpoint takes beyond the usual, by the end of its path."""


def body_limit(path: str, cookies: str) -> int:
    """The most bytes that a request's body may have; nearly none without a sign-in's seal."""
    from django.conf import settings

    from accounts.upload import FORM_BYTES, SMALL_BODY_BYTES, is_sealed

    if not is_sealed(cookies):
        return SMALL_BODY_BYTES
    largest = next((size for end, size in LARGE_BODIES.items() if path.endswith(end)), 0)
    return max(largest, settings.DATA_UPLOAD_MAX_MEMORY_SIZE) + FORM_BYTES


class Parser(HTTPRequestParser):
    """A request as it comes in; its limit is its own, not the server's."""

    def parse_header(self, header_plus: bytes) -> None:
        """Know the limit before the first byte of the body is looked at."""
        super().parse_header(header_plus)
        if self.chunked or self.content_length:
            self.adj = copy.copy(self.adj)
            self.adj.max_request_body_size = body_limit(self.path, self.headers.get("COOKIE", ""))


class Envelope(ErrorTask):
    """A refusal of the server's own, in the shape that every answer has."""

    SENTENCES: ClassVar = {
        413: ("too-large", "The request is too large, or nobody has signed in to send that much."),
        431: ("too-large", "The request's headers are too large."),
        500: ("fault", "The server made a mistake; its log tells the reason."),
    }

    def execute(self) -> None:
        """Write the envelope."""
        error = self.request.error
        code, sentence = self.SENTENCES.get(
            error.code, ("bad-request", "The request cannot be read: accepted is HTTP as browsers speak it.")
        )
        body = json.dumps({"code": code, "sentence": sentence, "problems": [], "clashes": []}).encode()
        self.status = f"{error.code} {error.reason}"
        self.response_headers = [("Content-Type", "application/json"), ("Connection", "close")]
        self.content_length = len(body)
        self.close_on_finish = True
        self.write(body)


class Channel(HTTPChannel):
    """A client's connection, which has its time to say what it wants."""

    parser_class = Parser
    error_task_class = Envelope
    began = 0.0

    def received(self, data: bytes) -> bool:
        """Take in what has come, unless the request has taken too long to say."""
        if self.request is None:
            self.began = time.monotonic()
        taken = bool(super().received(data))
        if self.request is not None:
            seconds = SECONDS_TO_SAY_IT + self.request.body_bytes_received / SLOWEST_BYTES_PER_S
            if time.monotonic() - self.began > seconds:
                self.will_close = True
        return taken


def end_with_parent(parent: int) -> None:
    """Be told to end when the process ``parent`` ends, however it does; Linux keeps the promise for us."""
    ctypes.CDLL(None, use_errno=True).prctl(1, signal.SIGTERM)
    if os.getppid() != parent:
        sys.exit(1)  # it ended before the promise was given


def _end(*_: object) -> NoReturn:
    """End kindly, and in any case: what is raised out of a signal may be swallowed wherever it arrives."""
    last_word = threading.Timer(SECONDS_TO_END, os._exit, (0,))
    last_word.daemon = True
    last_word.start()
    raise SystemExit(0)


def serve(listening: socket.socket) -> None:
    """Answer on ``listening`` until told to end."""
    from grandlarder.wsgi import application

    TcpWSGIServer.channel_class = Channel
    server: Any = create_server(
        application,
        sockets=[listening],
        threads=THREADS,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=IDLE_SECONDS,
        cleanup_interval=10,
        asyncore_use_poll=True,
        ident=None,
        clear_untrusted_proxy_headers=False,  # the middleware knows which proxies are ours
    )
    server.run()


class Split:
    """Splits into ``count`` processes that serve and one that works; brings back what dies."""

    def __init__(self, listening: socket.socket, count: int) -> None:
        self.listening, self.count = listening, count
        self.began: dict[int, tuple[int, float]] = {}

    def keep(self) -> NoReturn:
        """Look after them until told to end."""
        try:
            for at in range(self.count + 1):
                self._begin(at)
            while True:
                pid, _ = os.waitpid(-1, 0)
                at, since = self.began.pop(pid)
                if time.monotonic() - since < SHORTEST_LIFE_S:
                    time.sleep(PAUSE_S)
                self._begin(at)
        finally:
            self._end_all()

    def _begin(self, at: int) -> None:
        parent = os.getpid()
        pid = os.fork()
        if pid:
            self.began[pid] = (at, time.monotonic())
            return
        self.began.clear()
        status = 1
        try:
            end_with_parent(parent)
            status = self._work() if at == self.count else self._serve()
        except SystemExit as ended:
            status = int(ended.code or 0)
        except BaseException:  # noqa: BLE001  (whatever it is, its text is told and this process ends)
            traceback.print_exc()
        finally:
            sys.stdout.flush()
            sys.stderr.flush()
            os._exit(status)

    def _serve(self) -> int:
        serve(self.listening)
        return 0

    def _work(self) -> int:
        from django.core.management import CommandError, call_command

        self.listening.close()
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        try:
            call_command("work")
        except CommandError as fault:
            print(fault, file=sys.stderr)
            return 1
        return 0

    def _end_all(self) -> None:
        """End them, kindly first."""
        for pid in self.began:
            os.kill(pid, signal.SIGTERM)
        ends = time.monotonic() + SECONDS_TO_STOP
        while self.began:
            pid, _ = os.waitpid(-1, os.WNOHANG)
            self.began.pop(pid, None)
            if not pid and time.monotonic() > ends:
                for late in self.began:
                    os.kill(late, signal.SIGKILL)
            if not pid:
                time.sleep(0.02)


def main(arguments: list[str]) -> int:
    """Serve on the inherited socket; returns the exit status."""
    parser = argparse.ArgumentParser(prog="serving", description=(__doc__ or "").splitlines()[0])
    parser.add_argument("--fd", type=int, required=True, help="the inherited listening socket")
    parser.add_argument("--parent", type=int, required=True, help="the process that this one ends with")
    parser.add_argument("--processes", type=int, default=2, help="how many of them answer")
    options = parser.parse_args(arguments)
    end_with_parent(options.parent)
    signal.signal(signal.SIGTERM, _end)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C reaches the whole terminal; the parent ends us
    signal.signal(signal.SIGHUP, signal.SIG_IGN)
    with socket.socket(fileno=options.fd) as listening:
        listening.settimeout(0)
        # All that a request needs is imported before the split: once, and in memory that is shared.
        from grandlarder.wsgi import application  # noqa: F401

        importlib.import_module("grandlarder.urls")
        gc.freeze()
        Split(listening, options.processes).keep()


if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
    sys.exit(main(sys.argv[1:]))
