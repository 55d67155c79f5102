"""./bench --kill: serving processes, PostgreSQL and ./start are killed 200 times while people save.

Every save that was acknowledged must stand in its plan's history afterwards, with what it set.
"""

from __future__ import annotations

import json
import os
import random
import signal
import sys
import threading
import time
from contextlib import suppress
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from cluster import ROOT
from tests.clones import Browser, TestClone, until

KILLS, PEOPLE = 200, 4
ALL_SERVING = 4
"""The process that splits, two that answer, one that works."""
PLANS = "/api/studios/slipway-house/plans"
WEIGHTS = {"serving process": 6, "database": 3, "./start": 1}


@dataclass
class Person:
    """Somebody who saves one note after the other into a plan of their own."""

    clone: TestClone
    password: str
    acknowledged: list[tuple[int, str]] = field(default_factory=list)
    refused: int = 0
    plan: str = ""
    head: int = 1

    def begin(self) -> None:
        browser = self.browser = Browser(self.clone.port)
        if browser.sign_in("technician", self.password) != 200:
            raise RuntimeError("the technician cannot sign in")
        if not self.plan:
            self.plan = browser.ask("POST", PLANS, {"name": "Kept through everything"})[1]["id"]

    def save_until(self, over: threading.Event) -> None:
        """Save while nothing is over; what is not acknowledged is found out about and tried again."""
        number = 0
        while not over.is_set():
            number += 1
            note = f"note {number} of {id(self)}"
            patch = [{"op": "set", "path": "plan/note", "value": note}]
            try:
                status, result = self.browser.ask(
                    "POST", f"{PLANS}/{self.plan}/revisions", {"base": self.head, "patch": patch}
                )
            except Exception:  # noqa: BLE001  (whatever a dying server does to a client)
                status, result = 0, None
            if status == 200:
                self.head = result["head"]
                self.acknowledged.append((self.head, note))
            else:
                self.refused += 1
                self.find_head()

    def find_head(self) -> None:
        time.sleep(0.05)
        self.browser.port = self.clone.port
        with suppress(Exception):
            status, result = self.browser.ask("GET", f"{PLANS}/{self.plan}/head")
            if status == 200:
                self.head = result["head"]

    def history_after(self, after: Any) -> Any:
        """A page of the plan's history; None while the server is not up again."""
        self.browser.port = self.clone.port
        status, page = self.browser.ask("GET", f"{PLANS}/{self.plan}/revisions?after={after}")
        return page if status == 200 else None

    def lost(self) -> list[str]:
        """Acknowledged saves that do not stand in the history as they were made."""
        history: dict[int, str] = {}
        after: Any = 0
        while after is not None:
            page = until("a page of the history", partial(self.history_after, after))
            history |= {row["number"]: row["summary"] for row in page["revisions"]}
            after = page["next"]
        return [
            note for number, note in self.acknowledged if not history.get(number, "").endswith(f"→ {note}")
        ]


def kill(clone: TestClone, what: str, draw: random.Random) -> None:
    """End one of them as no signal handler can notice, and wait until all is up again."""
    if what == "./start":
        clone.stop(signal.SIGKILL)
        until("everything to end", lambda: not clone.processes())
        clone.start_up()
        return
    if what == "database":
        dead = clone.database_process()
        os.kill(dead, signal.SIGKILL)
        until("a new database", lambda: clone.database_process() != dead)
    else:
        dead = draw.choice(until("serving processes", clone.serving_processes))
        os.kill(dead, signal.SIGKILL)
        until("another process", lambda: len(set(clone.serving_processes()) - {dead}) == ALL_SERVING)
    until("an answer", clone.answers)


def main() -> int:
    """Kill and count; the exit status says whether anything was lost."""
    draw, killed = random.Random(7), dict.fromkeys(WEIGHTS, 0)
    clone = TestClone()
    try:
        clone.start_up()
        password = clone.password()
        people = [Person(clone, password) for _ in range(PEOPLE)]
        for person in people:
            person.begin()
        over = threading.Event()
        threads = [threading.Thread(target=person.save_until, args=(over,), daemon=True) for person in people]
        for thread in threads:
            thread.start()
        for number in range(KILLS):
            time.sleep(draw.uniform(0.5, 2.5))
            what = draw.choices(list(WEIGHTS), list(WEIGHTS.values()))[0]
            try:
                kill(clone, what, draw)
            except AssertionError:
                print(f"after {what}, ./start had said: {clone.said()[-1_500:]}")
                raise
            killed[what] += 1
            if number % 20 == 19:
                print(
                    f"  {number + 1} kills, {sum(len(p.acknowledged) for p in people)} acknowledged",
                    flush=True,
                )
        over.set()
        for thread in threads:
            thread.join()
        lost = [note for person in people for note in person.lost()]
    finally:
        clone.remove()
    result = {
        "kills": killed,
        "acknowledged": sum(len(person.acknowledged) for person in people),
        "refused": sum(person.refused for person in people),
        "lost": len(lost),
    }
    print(json.dumps(result))
    target = ROOT / ".state" / "kill.json"
    target.parent.mkdir(exist_ok=True)
    target.write_text(json.dumps(result) + "\n")
    return int(bool(lost))


if __name__ == "__main__":
    sys.exit(main())
