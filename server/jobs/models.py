"""Long work: what was asked, how far it is, and its parts as they are done."""

from __future__ import annotations

import uuid

from django.db import models

from accounts.models import Person, Studio
from plans.models import Plan


class Status(models.TextChoices):
    """How a job stands. Only *waiting* and *running* are worked on."""

    WAITING = "waiting", "Waiting"
    RUNNING = "running", "Running"
    DONE = "done", "Done"
    CANCELLED = "cancelled", "Cancelled"
    FAILED = "failed", "Failed"


OPEN = (Status.WAITING, Status.RUNNING)


class LongJob(models.Model):
    """Work that takes longer than a request: ``wanted`` parts, each by its number.

    It is of one plan, or of the studio where ``plan`` is null. ``asked`` is all that it is worked out from,
    so that any worker anywhere comes to the same.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="jobs")
    plan = models.ForeignKey(Plan, null=True, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=40)
    asked = models.JSONField()
    wanted = models.PositiveIntegerField()
    status = models.CharField(max_length=10, choices=Status.choices, default=Status.WAITING)
    fault = models.CharField(max_length=400, blank=True)
    result = models.JSONField(null=True, default=None)
    asked_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    asked_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-asked_at",)
        indexes = (models.Index(fields=("plan", "kind", "-asked_at"), name="jobs_of_a_plan"),)
        constraints = (models.UniqueConstraint(fields=("studio", "id"), name="job_belongs_to_studio"),)

    def __str__(self) -> str:
        return f"{self.kind} {self.id}"


class JobPart(models.Model):
    """One part that is done. There is one a number: what two workers do twice is kept once."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    job = models.ForeignKey(LongJob, on_delete=models.CASCADE, related_name="parts")
    seed = models.PositiveIntegerField()
    told = models.JSONField()

    class Meta:
        ordering = ("seed",)
        constraints = (models.UniqueConstraint(fields=("job", "seed"), name="one_part_per_seed"),)

    def __str__(self) -> str:
        return f"{self.job_id} part {self.seed}"
