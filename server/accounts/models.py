"""People, studios, and who has which role where."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models


class Person(AbstractUser):
    """Somebody who signs in. What they may do depends on the studio."""


class Studio(models.Model):
    """A house whose storage is planned; everything else belongs to one."""

    slug = models.SlugField(max_length=40, unique=True)
    name = models.CharField(max_length=80)
    people: models.ManyToManyField[Person, Membership] = models.ManyToManyField(
        Person, through="Membership", related_name="studios"
    )

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    """What somebody may do in a studio, each including the ones before it."""

    VIEWER = "viewer", "Viewer"
    TECHNICIAN = "technician", "Technician"
    OWNER = "owner", "Owner"

    @property
    def rank(self) -> int:
        return list(Role).index(self)

    def may(self, needed: Role) -> bool:
        """Whether this role includes ``needed``."""
        return self.rank >= needed.rank


class Membership(models.Model):
    """A person's one role in a studio."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="memberships")
    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=12, choices=Role.choices)

    class Meta:
        constraints = (
            models.UniqueConstraint(fields=("person", "studio"), name="one_role_per_person_and_studio"),
            models.CheckConstraint(
                condition=models.Q(role__in=[role.value for role in Role]), name="role_is_known"
            ),
        )

    def __str__(self) -> str:
        return f"{self.person} is {self.role} of {self.studio}"
