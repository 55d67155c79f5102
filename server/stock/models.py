"""The physical world on the shelf: devices of a studio and the material on them."""

from __future__ import annotations

import uuid

from django.db import models

from accounts.models import Person, Studio

TAKEN = {
    "one_device_per_serial_in_a_studio": "a device with this serial",
    "one_box_per_label_in_a_studio": "a box with this label",
    "one_manifest_per_material_on_a_device": "a manifest of this material on the device",
}
"""What two have made at once where a unique constraint, by its name, lets only one of them."""


class Device(models.Model):
    """One drive, card or box. The fields are those of the core's ``StockItem``."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="devices")
    label = models.CharField(max_length=80)
    kind = models.CharField(max_length=8)
    medium = models.CharField(max_length=8)
    drive_class = models.CharField(max_length=8, default="unknown")
    size_bytes = models.BigIntegerField()
    used_bytes = models.BigIntegerField(default=0)
    interface = models.CharField(max_length=12)
    recording = models.CharField(max_length=8)
    serial = models.CharField(max_length=400, blank=True)
    place = models.CharField(max_length=400, blank=True)
    box = models.CharField(max_length=400, blank=True)
    ports = models.CharField(max_length=200, blank=True)
    bays = models.IntegerField(null=True, blank=True)
    holder = models.CharField(max_length=400, blank=True)
    handed_on = models.DateField(null=True, blank=True)
    is_encrypted = models.BooleanField(default=False)
    bought_on = models.DateField(null=True, blank=True)
    warranty_end = models.DateField(null=True, blank=True)
    tested_on = models.DateField(null=True, blank=True)
    hours_run = models.IntegerField(null=True, blank=True)
    reallocated_sectors = models.IntegerField(null=True, blank=True)
    temperature_c = models.FloatField(null=True, blank=True)
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("place", "label", "id")
        constraints = (
            models.UniqueConstraint(fields=("studio", "id"), name="device_belongs_to_studio"),
            models.UniqueConstraint(
                fields=("studio", "serial"),
                condition=~models.Q(serial=""),
                name="one_device_per_serial_in_a_studio",
            ),
            models.UniqueConstraint(
                fields=("studio", "label"),
                condition=models.Q(kind="box"),
                name="one_box_per_label_in_a_studio",
            ),
        )

    def __str__(self) -> str:
        return self.label


class Holding(models.Model):
    """Material on a device."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="holdings")
    material = models.CharField(max_length=80)
    bytes = models.BigIntegerField()
    worth = models.CharField(max_length=16)
    role = models.CharField(max_length=8, default="unsaid")
    read_back_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ("material", "id")

    def __str__(self) -> str:
        return f"{self.material} on {self.device_id}"


class Manifest(models.Model):
    """The checksums of one material on one device, as the newest manifest told them."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="manifests")
    material = models.CharField(max_length=80)
    algorithm = models.CharField(max_length=8)
    file_count = models.IntegerField()
    keys = models.BinaryField()
    """Eight bytes a content, ascending: the start of its digest."""
    taken_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("device", "material")
        constraints = (
            models.UniqueConstraint(
                fields=("studio", "device", "material"), name="one_manifest_per_material_on_a_device"
            ),
        )

    def __str__(self) -> str:
        return f"{self.material} on {self.device_id}"


class ManifestMatch(models.Model):
    """What two manifests have in common, worked out when the later one is taken in."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    one = models.ForeignKey(Manifest, on_delete=models.CASCADE, related_name="+")
    other = models.ForeignKey(Manifest, on_delete=models.CASCADE, related_name="+")
    share_of_one = models.FloatField()
    share_of_other = models.FloatField()

    class Meta:
        ordering = ("one", "other")

    def __str__(self) -> str:
        return f"{self.one_id} and {self.other_id}"


class StockEntry(models.Model):
    """Who did what to the stock; kept when the device goes."""

    studio = models.ForeignKey(Studio, on_delete=models.CASCADE, related_name="+")
    device = models.ForeignKey(Device, null=True, on_delete=models.SET_NULL, related_name="entries")
    person = models.ForeignKey(Person, null=True, on_delete=models.SET_NULL, related_name="+")
    action = models.CharField(max_length=40)
    detail = models.CharField(max_length=400, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-at", "-id")
        indexes = (models.Index(fields=("studio", "-at", "-id"), name="stock_log_of_a_studio"),)

    def __str__(self) -> str:
        return f"{self.action}: {self.detail}"
