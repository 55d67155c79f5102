"""./bench --attack: what ./test meets shortly, here at length; loopback only, bounded in count and time.

Every reader reads 2,000 hostile files in a limited process, the command answers 2,000 hostile lines, and a
demo of its own is sent 2,000 hostile requests while somebody works in it.
"""

from __future__ import annotations

import json
import os
import random
import socket
import subprocess
import sys
import threading
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from urllib.parse import urlsplit

from cluster import ROOT
from serve import throwaway_demo
from tests.clones import Browser

sys.path.insert(0, str(ROOT / "core"))

from larder.readers.tests.hostile_files import Hostile, readers

FILES = LINES = REQUESTS = 2_000
AT_ONCE = 16
PASSWORD = "attack-only-password"  # noqa: S105  (of a database that lives as long as this run)
STUDIO = "/api/studios/slipway-house"
PATHS = (
    "/api/session", "/api/openapi.json", f"{STUDIO}/plans", f"{STUDIO}/plans/import", f"{STUDIO}/probe",
    f"{STUDIO}/stock/quick", f"{STUDIO}/stock/import", "/api/studios/%00", "/static/%00", "/", "/s/\ud800",
    "/api/../api/session", "/api//session",
)  # fmt: skip
KINDS = (b"application/json", b"multipart/form-data; boundary=x", b"multipart/form-data", b"\x00")
COOKIES = (b"a=%00", b"larder_session=\xff", b";;;=", b"a" * 60_000)


@dataclass(frozen=True)
class Attack:
    """One line of the table; ``wrong`` is empty where everything held."""

    what: str
    count: int
    wrong: str
    seconds: float


def limited(what: str, count: int, *command: str) -> Attack:
    """A process that ends with status 0 where nothing went wrong."""
    began = time.monotonic()
    environment = os.environ | {"PYTHONPATH": str(ROOT / "core"), "OPENBLAS_NUM_THREADS": "1"}
    done = subprocess.run(
        [sys.executable, "-m", *command], env=environment, cwd=ROOT, check=False, text=True,
        stdin=subprocess.DEVNULL, stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
    )  # fmt: skip
    wrong = "" if done.returncode == 0 else f"status {done.returncode}: {done.stdout[-300:]}"
    return Attack(what, count, wrong, time.monotonic() - began)


def hostile_request(seed: int) -> bytes:
    """The bytes of a request that means harm."""
    draw = random.Random(seed)
    kind = draw.random()
    if kind < 0.1:
        return draw.randbytes(draw.randint(0, 3_000))
    path = draw.choice(PATHS).encode("utf-8", "surrogatepass")
    method = draw.choice((b"GET", b"POST", b"PATCH", b"DELETE", b"PUT", b"TRACE", b"G\x00T"))
    body = Hostile(b'{"username": "a", "password": "b"}', seed).file()[:200_000]
    length = draw.choice((len(body), len(body), len(body) + 1_000, -1, 10**12))
    headers = [b"Host: " + draw.choice((b"127.0.0.1", b"127.0.0.1", b"localhost", b"\xff", b""))]
    headers.append(b"Content-Length: %d" % length)
    headers.append(b"Content-Type: " + draw.choice(KINDS))
    if kind < 0.3:
        headers.append(b"Cookie: " + draw.choice(COOKIES))
    return method + b" " + path + b" HTTP/1.1\r\n" + b"\r\n".join(headers) + b"\r\n\r\n" + body


def send(port: int, seed: int) -> str:
    """Send one; the answer's status, or that the server hung up or waits for more."""
    with suppress(OSError), socket.create_connection(("127.0.0.1", port), timeout=2) as client:
        client.sendall(hostile_request(seed))
        answer = client.recv(200)
        return answer[9:12].decode("latin-1") if answer.startswith(b"HTTP/1.") else "no answer"
    return "hung up or waits"


def requests() -> Attack:
    """Hostile requests, many at once, beside somebody who works; none is a fault, and the work goes on."""
    began = time.monotonic()
    with throwaway_demo(PASSWORD) as address:
        port = urlsplit(address).port or 0
        browser = Browser(port)
        browser.sign_in("technician", PASSWORD)
        worked: Counter[int] = Counter()
        over = threading.Event()

        def work() -> None:
            while not over.is_set():
                worked[browser.ask("GET", "/api/studios/slipway-house/plans")[0]] += 1

        worker = threading.Thread(target=work)
        worker.start()
        with ThreadPoolExecutor(AT_ONCE) as pool:
            statuses = Counter(pool.map(lambda seed: send(port, seed), range(REQUESTS)))
        over.set()
        worker.join()
    faults = {status: n for status, n in statuses.items() if status.startswith("5")}
    idle = {status: n for status, n in worked.items() if status != 200}
    wrong = f"faults {faults}; work {idle}" if faults or idle or not worked else ""
    print(f"  answers: {dict(statuses)}; work beside it: {worked[200]} reads")
    return Attack("hostile requests, beside somebody who works", REQUESTS, wrong, time.monotonic() - began)


def main() -> int:
    """Attack, print the table, write the JSON; the exit status says whether everything held."""
    jobs = [
        (f"hostile files: {reader}", FILES, "larder.readers.tests.hostile_files", reader, "0", str(FILES))
        for reader in readers()
    ]
    jobs.append(("hostile command lines", LINES, "larder_cli.tests.hostile_lines", "0", str(LINES)))
    with ThreadPoolExecutor(2) as pool:
        rows = list(pool.map(lambda job: limited(*job), jobs))
    rows.append(requests())
    for row in rows:
        result = f"BROKE: {row.wrong}" if row.wrong else "held"
        print(f"{row.what:46} {row.count:6}  {result}  ({row.seconds:.0f} s)")
    target = ROOT / ".state" / "attack.json"
    target.parent.mkdir(exist_ok=True)
    target.write_text(json.dumps([row.__dict__ for row in rows], indent=1) + "\n")
    return int(any(row.wrong for row in rows))


if __name__ == "__main__":
    sys.exit(main())
