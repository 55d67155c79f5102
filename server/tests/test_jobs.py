"""Long work: done by workers of any number, killed or not, with nothing lost and nothing counted twice."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import time
from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

from django.db import IntegrityError, connection
from django.test import Client, TransactionTestCase
from django.utils import timezone
from procrastinate.contrib.django import app

from accounts.models import Role
from jobs import tasks
from jobs.actions import MOST_OPEN
from jobs.models import JobPart, LongJob, Status
from larder.asks.rehearsal.failures import parse_failure
from larder.asks.rehearsal.many_days import rehearse_days
from larder.base.errors import Refused
from larder.judge.version import JUDGED_BY
from larder.readers.plan_file import bundle_from
from plans.models import AuditEntry, Revision
from tests.house import House
from tests.workers import worker

PATIENCE_S = 90


class LongWork(TransactionTestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_ = Client()
        self.client_.force_login(self.house.people[Role.TECHNICIAN])
        self.url = f"/api/studios/slipway-house/plans/{self.house.tern.pk}/rehearse/days"
        self.workers: list[subprocess.Popen[bytes]] = []

    def tearDown(self) -> None:
        for each in self.workers:
            each.kill()
            each.wait()

    def post(self, url: str, body: dict[str, Any] | None = None) -> dict[str, Any]:
        answer = self.client_.post(url, json.dumps(body or {}), "application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def begin(self, days: int, **more: object) -> LongJob:
        answer = self.post(self.url, {"base": 1, "days": days, "seed": 7, "fails": ["main@11:00"], **more})
        self.assertEqual((answer["status"], answer["done"], answer["wanted"]), ("waiting", 0, days))
        return LongJob.objects.get(pk=answer["id"])

    def worker(self) -> subprocess.Popen[bytes]:
        self.workers.append(worker())
        return self.workers[-1]

    def until(self, what: str, happens: Callable[[], Any]) -> None:
        ends = time.monotonic() + PATIENCE_S
        while not happens():
            self.assertLess(time.monotonic(), ends, f"not in time: {what}")
            time.sleep(0.05)

    def expected(self, job: LongJob) -> dict[str, Any]:
        bundle = bundle_from(Revision.objects.get(plan=self.house.tern, number=1).document)
        return rehearse_days(bundle, job.wanted, 7, [parse_failure("main@11:00")]).model_dump(mode="json")

    def check_whole(self, job: LongJob) -> None:
        job.refresh_from_db()
        self.assertEqual((job.status, job.fault), (Status.DONE, ""))
        self.assertEqual(list(job.parts.values_list("seed", flat=True)), list(range(job.wanted)))
        self.assertEqual(job.result, self.expected(job))

    def test_a_worker_that_is_killed_in_the_middle_is_followed_by_two_that_finish(self) -> None:
        job = self.begin(240)
        first = self.worker()
        self.until("some parts", job.parts.exists)
        os.killpg(first.pid, signal.SIGKILL)
        first.wait()
        some = job.parts.count()
        self.assertLess(some, job.wanted)
        job.refresh_from_db()
        self.assertEqual(job.status, Status.RUNNING)
        # What it was at is not waited for here: its heartbeat is an old one.
        with connection.cursor() as cursor:
            cursor.execute("UPDATE procrastinate_workers SET last_heartbeat = now() - interval '1 hour'")
        self.worker()
        self.worker()
        self.until(
            "the end",
            lambda: not LongJob.objects.filter(pk=job.pk, status__in=("waiting", "running")).exists(),
        )
        self.check_whole(job)
        answer = self.client_.get(self.url).json()
        self.assertEqual((answer[0]["status"], answer[0]["done"]), ("done", 240))
        self.assertEqual(answer[0]["days"]["days"], 240)

    def test_cancelled_it_stops_and_tried_again_it_goes_on_where_it_was(self) -> None:
        job = self.begin(60)
        address = f"/api/studios/slipway-house/jobs/{job.pk}"
        tasks.work_on_slice(str(job.pk), 0, 20)
        self.assertEqual(job.parts.count(), 20)
        self.assertEqual(self.post(address + "/cancel")["status"], "cancelled")
        tasks.work_on_slice(str(job.pk), 20, 40)
        self.assertEqual(job.parts.count(), 20)
        answer = self.post(address + "/retry")
        self.assertEqual((answer["status"], answer["done"]), ("waiting", 20))
        # The first slice comes again and adds nothing; the last one sums up.
        for first in (0, 20, 40):
            tasks.work_on_slice(str(job.pk), first, first + 20)
        self.check_whole(job)
        self.assertEqual(self.post(address + "/cancel")["status"], "done")
        self.assertEqual(
            list(AuditEntry.objects.filter(action__endswith="job").values_list("action", flat=True)),
            ["retry job", "cancel job", "begin job"],
        )

    def test_lifetimes_are_a_job_too_and_come_to_what_the_chain_says(self) -> None:
        url = f"/api/studios/slipway-house/plans/{self.house.tern.pk}/safeguard/lifetimes"
        answer = self.post(url, {"base": 1, "pool_id": "main", "million_years": 1})
        self.assertEqual((answer["kind"], answer["wanted"], answer["about"]), ("lifetimes", 5, "main"))
        tasks.work_on_slice(answer["id"], 0, 5)
        [done] = self.client_.get(url).json()
        self.assertEqual(
            (done["status"], done["lifetimes"]["groups"], done["days"]), ("done", 1_000_000, None)
        )
        self.assertIn("1,000,000 years of such a group were lived through", done["lifetimes"]["sentence"])
        self.assertEqual(self.client_.get(self.url).json(), [])
        bad = self.client_.post(url, json.dumps({"base": 1, "pool_id": "attic"}), "application/json")
        self.assertIn("the id of a pool (main)", bad.json()["sentence"])

    def test_what_a_dead_worker_leaves_and_what_is_old_is_looked_for_every_few_seconds(self) -> None:
        begins = 1_800_000_000.0
        gaps = {}
        for (name, _), periodic in app.periodic_registry.periodic_tasks.items():
            due = periodic.croniter
            first = due.get_next(ret_type=float, start_time=begins)
            gaps[name] = due.get_next(ret_type=float, start_time=first) - first
        self.assertEqual(gaps, {"jobs.rescue": 5, "jobs.judge_again": 20})

    def test_what_two_do_twice_is_kept_once(self) -> None:
        job = self.begin(20)
        work = {"studio": self.house.tern.studio, "job": job, "seed": 3, "told": {}}
        JobPart.objects.create(**work)
        with self.assertRaises(IntegrityError):
            JobPart.objects.create(**work)

    def test_what_is_refused_is_refused_before_it_is_queued(self) -> None:
        for body, said in (
            ({"days": 1}, "greater than or equal to 2|2 or more"),
            ({"days": 2_001}, "2000"),
            ({"fails": ["attic@11:00"]}, r"the id of a pool \(main\)"),
        ):
            answer = self.client_.post(self.url, json.dumps({"base": 1, **body}), "application/json")
            self.assertEqual(answer.status_code, 422)
            self.assertRegex(answer.json()["sentence"], said)
        for _ in range(MOST_OPEN):
            self.begin(20)
        more = self.client_.post(self.url, json.dumps({"base": 1}), "application/json")
        self.assertIn("when another has ended", more.json()["sentence"])
        self.assertEqual(LongJob.objects.count(), MOST_OPEN)

    def test_a_job_that_cannot_be_worked_out_fails_with_its_reason(self) -> None:
        job = self.begin(20)
        job.asked |= {"fails": ["attic@11:00"]}
        job.save()
        tasks.work_on_slice(str(job.pk), 0, 20)
        job.refresh_from_db()
        self.assertEqual(job.status, Status.FAILED)
        self.assertIn("attic", job.fault)
        self.assertRaises(Refused, parse_failure, "attic")

    def test_a_slice_that_breaks_each_time_ends_its_job_and_says_so(self) -> None:
        job = self.begin(20)
        job.asked = {}
        job.save()
        for attempts, status in ((0, Status.RUNNING), (2, Status.FAILED)):
            context = SimpleNamespace(job=SimpleNamespace(attempts=attempts))
            self.assertRaises(KeyError, tasks.slice_task.func, context, str(job.pk), 0, 20)
            job.refresh_from_db()
            self.assertEqual(job.status, status)
        self.assertIn("its log tells the reason", job.fault)

    def test_the_database_refuses_a_job_in_another_studio_than_its_plan(self) -> None:
        job, foreign = self.begin(20), House("other-house")
        with self.assertRaises(IntegrityError):
            LongJob.objects.filter(pk=job.pk).update(studio=foreign.studio)


class JudgedAgain(TransactionTestCase):
    """Plans that were judged by older rules are judged again by a job, and by no list."""

    def setUp(self) -> None:
        self.house = House()
        self.client_ = self.house.client(Role.VIEWER)
        self.heads = Revision.objects.filter(plan__in=(self.house.tern, self.house.halyard))

    def rows(self) -> dict[str, tuple[bool, str | None]]:
        return {
            row["name"]: (row["is_old"], row["speed"]) for row in self.client_.get("/plans").json()["plans"]
        }

    def test_a_list_tells_what_is_old_and_a_worker_brings_it_up_to_date(self) -> None:
        fresh = self.rows()
        self.assertEqual([old for old, _ in fresh.values()], [False, False])
        tasks.begin_judging_again()
        self.assertFalse(LongJob.objects.exists())
        older = {"by": JUDGED_BY - 1, "findings": 0, "speed": "open"}
        self.heads.filter(plan=self.house.tern).update(verdicts=older)
        self.heads.filter(plan=self.house.halyard).update(verdicts=None)
        self.assertEqual(set(self.rows().values()), {(True, "open"), (True, None)})
        other = House("other-house")
        for _ in range(2):
            tasks.begin_judging_again()
        [job] = LongJob.objects.all()
        self.assertEqual((job.studio, job.plan, job.wanted), (self.house.studio, None, 2))
        tasks.work_on_slice(str(job.pk), 0, 2)
        self.assertEqual(self.rows(), fresh)
        answer = self.client_.get(f"/jobs/{job.pk}").json()
        self.assertEqual((answer["status"], answer["judged_again"]), ("done", {"plans": 2}))
        self.assertEqual(other.client(Role.OWNER).get(f"/jobs/{job.pk}").status_code, 404)

    def test_what_cannot_be_judged_is_not_tried_for_ever_and_a_removed_plan_not_at_all(self) -> None:
        self.heads.update(verdicts=None)
        self.heads.filter(plan=self.house.tern).update(document={})
        self.house.halyard.removed_at = timezone.now()
        self.house.halyard.save()
        tasks.begin_judging_again()
        [job] = LongJob.objects.all()
        self.assertEqual(job.wanted, 1)
        tasks.work_on_slice(str(job.pk), 0, 1)
        tasks.begin_judging_again()
        self.assertEqual(LongJob.objects.count(), 1)
        self.assertEqual(set(self.rows().values()), {(False, None)})

    def test_peoples_jobs_are_not_counted_beside_it_and_its_end_is_no_plans_audit(self) -> None:
        self.heads.update(verdicts=None)
        tasks.begin_judging_again()
        [job] = LongJob.objects.all()
        technician = self.house.client(Role.TECHNICIAN)
        days = f"/plans/{self.house.tern.pk}/rehearse/days"
        for _ in range(MOST_OPEN):
            self.assertEqual(technician.post(days, {"base": 1, "days": 2}).status_code, 200)
        self.assertEqual(technician.post(f"/jobs/{job.pk}/cancel", {}).json()["status"], "cancelled")
        self.assertFalse(AuditEntry.objects.filter(action="cancel job").exists())
