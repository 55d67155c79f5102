"""./start itself: one instance a clone, nothing left behind, nothing replaced in silence, what dies comes back."""

from __future__ import annotations

import json
import os
import pty
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import unittest
from contextlib import ExitStack, suppress
from pathlib import Path

from cluster import Cluster
from tests.clones import Browser, TestClone, until

SLOW_CLIENTS = 40


class Start(unittest.TestCase):
    """One clone for all, since a first start takes long; each test leaves it stopped."""

    clone: TestClone

    @classmethod
    def setUpClass(cls) -> None:
        cls.clone = TestClone()
        cls.addClassCleanup(cls.clone.remove)

    def tearDown(self) -> None:
        self.clone.stop()
        until("everything to end with ./start", lambda: not self.clone.processes())

    def test_a_second_start_says_where_the_first_one_serves_and_leaves_it_alone(self) -> None:
        first = self.clone.start_up()
        port, database = self.clone.port, self.clone.database_process()
        status, said = self.clone.once("--fresh", "--yes")
        self.clone.process, self.clone.port = first, port
        self.assertEqual(status, 1)
        self.assertIn(f"already runs from this clone, at http://127.0.0.1:{port}/", said)
        self.assertEqual(self.clone.database_process(), database)
        self.assertTrue(self.clone.answers())
        self.assertEqual(self.clone.stop(), 0)

    def test_whatever_ends_it_everything_ends_and_the_next_start_stands(self) -> None:
        self.clone.start_up()
        self.clone.stop(signal.SIGKILL)
        until("its children to end with it", lambda: not self.clone.processes())
        # A terminal that is closed.
        leader, follower = pty.openpty()
        self.clone.start_up(
            stdout=follower, stderr=follower, stdin=follower, preexec_fn=lambda: _own_terminal(follower)
        )
        os.close(follower)
        os.close(leader)
        until("it to end with its terminal", lambda: self.clone.process.poll() is not None)
        until("its children to end with it", lambda: not self.clone.processes())
        self.clone.start_up()

    def test_a_missing_or_foreign_database_is_said_and_not_replaced(self) -> None:
        self.clone.start_up()
        self.clone.stop()
        away = self.clone.home.with_name(self.clone.home.name + ".away")
        self.clone.home.rename(away)
        status, said = self.clone.once()
        self.assertEqual((status, "The database of this clone is missing" in said), (1, True), said)
        self.assertFalse(self.clone.home.exists())
        away.rename(self.clone.home)
        owner = self.clone.home / "clone"
        own = owner.read_text()
        owner.write_text(secrets.token_hex(16))
        status, said = self.clone.once()
        self.assertEqual((status, "holds a database of another clone" in said), (1, True), said)
        owner.write_text(own)
        password = self.clone.home / "password"
        kept = password.read_bytes()
        password.unlink()
        status, said = self.clone.once()
        self.assertEqual((status, "password file" in said, "Traceback" in said), (1, True, False), said)
        password.write_bytes(kept)
        shutil.chown(password, *(("postgres", "postgres") if os.geteuid() == 0 else (os.geteuid(),)))
        status, said = self.clone.once("--fresh")
        self.assertEqual((status, "nobody to ask" in said), (1, True), said)
        self.clone.start_up()

    def test_a_new_clone_at_an_old_ones_path_keeps_the_old_database_aside(self) -> None:
        self.clone.start_up()
        self.clone.stop()
        shutil.rmtree(self.clone.folder / ".state")
        (self.clone.folder / ".git" / "grand-larder-clone").unlink()
        self.clone.start_up()
        self.assertIn("The database of an earlier clone at this path is kept as", self.clone.said())
        self.assertEqual(len(list(self.clone.home.parent.glob(self.clone.home.name + ".earlier-*"))), 1)

    def test_a_dead_database_and_dead_processes_are_brought_back(self) -> None:
        self.clone.start_up()
        browser = Browser(self.clone.port)
        self.assertEqual(browser.sign_in("technician", self.clone.password()), 200)
        dead = self.clone.database_process()
        os.kill(dead, signal.SIGKILL)
        until("a new database", lambda: self.clone.database_process() != dead)
        until("the plans again", lambda: browser.ask("GET", "/api/studios/slipway-house/plans")[0] == 200)
        until("it to be said", lambda: "The database is back." in self.clone.said())
        before = set(self.clone.serving_processes())
        for pid in before:
            os.kill(pid, signal.SIGKILL)
        until("new processes", lambda: len(set(self.clone.serving_processes()) - before) == len(before))
        until("the plans again", lambda: browser.ask("GET", "/api/studios/slipway-house/plans")[0] == 200)

    def test_a_database_that_cannot_come_back_ends_it_all_with_the_reason(self) -> None:
        process = self.clone.start_up()
        broken = self.clone.home / "data" / "global" / "pg_control"
        aside = broken.with_suffix(".aside")
        broken.rename(aside)
        os.kill(self.clone.database_process(), signal.SIGKILL)
        status = process.wait(120)
        aside.rename(broken)
        self.assertEqual(
            (status, "does not start" in self.clone.said(), "Traceback" in self.clone.said()),
            (1, True, False),
            self.clone.said(),
        )
        self.assertIn("pg_control", self.clone.said())

    def test_a_port_that_is_taken_is_said(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            status, said = self.clone.once("--port", str(taken.getsockname()[1]))
        self.assertEqual(
            (status, "choose another with --port" in said, "Traceback" in said), (1, True, False), said
        )

    def test_commands_reach_the_database_that_runs(self) -> None:
        self.clone.start_up()
        command = [
            sys.executable,
            str(self.clone.folder / "tools" / "manage.py"),
            "set_password",
            "technician",
        ]
        done = subprocess.run(command, input="storm-petrel-19\n", text=True, capture_output=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (0, "technician has a new password.\n"), done.stderr)
        self.assertEqual(Browser(self.clone.port).sign_in("technician", "storm-petrel-19"), 200)


class Reasons(unittest.TestCase):
    """Why the database ended, out of its log."""

    def test_what_clients_were_told_is_no_reason(self) -> None:
        with tempfile.TemporaryDirectory() as home:
            cluster = Cluster(Path(home))
            cluster.log.write_text(
                "FATAL:  the database system is starting up\n"
                'could not open file "global/pg_control"\n'
                "FATAL:  the database system is shutting down\n"
                "FATAL:  terminating connection due to administrator command\n"
            )
            self.assertTrue(cluster.reason().startswith("could not open file"), cluster.reason())


class Clients(unittest.TestCase):
    """The serving processes as clients that mean harm meet them."""

    clone: TestClone

    @classmethod
    def setUpClass(cls) -> None:
        cls.clone = TestClone()
        cls.addClassCleanup(cls.clone.remove)
        cls.clone.start_up()

    def dial(self) -> socket.socket:
        return socket.create_connection(("127.0.0.1", self.clone.port), timeout=30)

    def test_slow_clients_hold_nobody_up(self) -> None:
        with ExitStack() as held:
            for n in range(SLOW_CLIENTS):
                slow = held.enter_context(self.dial())
                slow.sendall(
                    b"P"
                    if n % 2
                    else b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 50\r\n\r\n{"
                )
            for _ in range(20):
                self.assertTrue(self.clone.answers())

    def test_a_large_body_is_refused_at_its_headers(self) -> None:
        for path in ("/api/session", "/api/studios/slipway-house/probe"):
            with self.dial() as client:
                client.sendall(
                    f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 300000000\r\n\r\n".encode()
                )
                answer = whole_answer(client)
            self.assertTrue(answer.startswith(b"HTTP/1.1 413 "), answer)
            self.assertEqual(json.loads(answer.partition(b"\r\n\r\n")[2])["code"], "too-large")
        with self.dial() as client:
            client.sendall(
                b"POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\n"
            )
            client.settimeout(30)
            try:
                for _ in range(20):
                    client.sendall(b"8000\r\n" + b"x" * 0x8000 + b"\r\n")
                answer = client.recv(4096)
            except (BrokenPipeError, ConnectionResetError):
                answer = b"HTTP/1.1 413 "  # it has hung up, which is an answer too
        self.assertTrue(answer.startswith(b"HTTP/1.1 413 "), answer)

    def test_what_is_no_http_is_answered_and_left(self) -> None:
        for raw in (
            b"\r\n\r\n",
            b"\x16\x03\x01\x02\x00\r\n\r\n",
            b"GET / HTTP/1.1\r\nHost: x\r\nContent-Length: -1\r\n\r\n",
            b"GET " + b"a" * 300_000,
            b"GET / HTTP/1.1\r\nA: " + b"a" * 300_000,
        ):
            with self.dial() as client:
                # It may hang up before all of it is said.
                with suppress(OSError):
                    client.sendall(raw)
                    client.shutdown(socket.SHUT_WR)
                answer = whole_answer(client)
            self.assertNotIn(b"Traceback", answer)
            self.assertFalse(answer.startswith(b"HTTP/1.1 5"), answer)
        self.assertTrue(self.clone.answers())

    def test_guessing_at_many_doors_leaves_the_others_their_pace(self) -> None:
        browser = Browser(self.clone.port)
        self.assertEqual(browser.sign_in("viewer", self.clone.password()), 200)
        statuses = [Browser(self.clone.port).sign_in(f"name-{n}", "wrong") for n in range(40)]
        self.assertEqual(set(statuses), {401, 429})
        self.assertEqual(browser.ask("GET", "/api/studios/slipway-house/plans")[0], 200)

    def test_two_clones_on_one_host_have_cookies_of_their_own(self) -> None:
        browser = Browser(self.clone.port)
        browser.ask("GET", "/api/session")
        self.assertTrue(
            all(name.startswith("larder_") and len(name.split("_")[1]) == 8 for name in browser.cookies),
            browser.cookies,
        )


def whole_answer(client: socket.socket) -> bytes:
    """All that the server says until it hangs up."""
    found = b""
    with suppress(OSError):  # it may hang up while something is still on its way to it
        while piece := client.recv(4096):
            found += piece
    return found


def _own_terminal(terminal: int) -> None:
    """In the child: be the first of a session whose terminal this is, so that its closing is noticed."""
    import fcntl
    import termios

    fcntl.ioctl(terminal, termios.TIOCSCTTY, 0)
