"""``manage.py work``: a worker on the queue of long work; as many as one likes may run, on any machines."""

from __future__ import annotations

import asyncio
import logging
import time
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from procrastinate.contrib.django import app

from jobs.tasks import QUEUE, STALLED_SECONDS

PAUSE_SECONDS = 2.0
"""Before it ends over a lost database: whoever starts it again must not do so all the time."""


async def _work() -> None:
    """Take one slice after the other; a slice ends soon, so that ending waits for it."""
    with app.replace_connector(app.connector.get_worker_connector()) as working:  # type: ignore[attr-defined]
        async with working.open_async():
            await working.run_worker_async(
                queues=[QUEUE],
                concurrency=1,
                fetch_job_polling_interval=1.0,
                shutdown_graceful_timeout=5.0,
                update_heartbeat_interval=STALLED_SECONDS / 5,
                stalled_worker_timeout=STALLED_SECONDS,
                delete_jobs="successful",
            )


class Command(BaseCommand):
    help = "Work on the queue of long work until told to end."

    def handle(self, *args: object, **options: Any) -> None:
        # What the queue's library tells of a lost database are pages; one line says as much.
        for result in ("procrastinate", "psycopg.pool"):
            logging.getLogger(result).setLevel(logging.CRITICAL)
        try:
            asyncio.run(_work())
        except Exception as error:  # noqa: BLE001  (whoever started it starts it again)
            time.sleep(PAUSE_SECONDS)
            result = " ".join(str(error).split())[:200] or type(error).__name__
            raise CommandError(f"The worker on long work has ended: {result}") from None
