"""Plans and their revisions: a plan row says who and what, revisions hold the whole document."""

from __future__ import annotations

import uuid

from django.db import models

from accounts.models import Person, Studio

TAKEN = {"one_revision_per_number": "this revision"}
"""What two have made at once where a unique constraint, by its name, lets only one of them."""


class Plan(models.Model):
    """A plan of a studio. ``head`` is the number of its newest revision."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="plans")
    name = models.CharField(max_length=80)
    head = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    removed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-changed_at", "name")
        constraints = (
            # What the revisions' composite key refers to, so that no row can change studios alone.
            models.UniqueConstraint(fields=("studio", "id"), name="plan_belongs_to_studio"),
        )

    def __str__(self) -> str:
        return self.name


class Kind(models.TextChoices):
    """How a revision came about."""

    START = "start", "Start"
    EDIT = "edit", "Edit"
    UNDO = "undo", "Undo"
    REDO = "redo", "Redo"
    RESTORE = "restore", "Restore"


class Revision(models.Model):
    """One immutable state of a plan, with the patch that led to it and the one that leads back."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=8, choices=Kind.choices)
    undoes = models.PositiveIntegerField(null=True, blank=True)
    schema_version = models.CharField(max_length=40)
    document = models.JSONField()
    patch = models.JSONField(default=list)
    inverse = models.JSONField(default=list)
    summary = models.CharField(max_length=400)
    verdicts = models.JSONField(null=True, default=None)
    """What a list of plans shows of it, and by which core it was worked out."""
    author = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("plan", "number"), name="one_revision_per_number"),)

    def __str__(self) -> str:
        return f"{self.plan_id} revision {self.number}"


class StudioStandards(models.Model):
    """The house rules, classes and prices that a studio's new plans start from; one row a studio."""

    studio = models.OneToOneField(Studio, on_delete=models.CASCADE, related_name="standards")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        verbose_name_plural = "studio standards"

    def __str__(self) -> str:
        return f"standards {self.number} of {self.studio_id}"


class AuditEntry(models.Model):
    """Who did what to which plan; kept when the plan goes."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="audit")
    person = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    action = models.CharField(max_length=40)
    plan_id = models.UUIDField()
    plan_name = models.CharField(max_length=80)
    detail = models.CharField(max_length=400, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-at", "-id")
        indexes = (models.Index(fields=("studio", "-at", "-id"), name="audit_of_a_studio"),)

    def __str__(self) -> str:
        return f"{self.action} {self.plan_name}"
