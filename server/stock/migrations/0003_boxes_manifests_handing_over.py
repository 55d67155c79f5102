"""Boxes with drives in them, main and backup copies, checksum manifests, a log for each device."""

import django.db.models.deletion
from django.db import migrations, models

ADD = """
ALTER TABLE stock_manifest
    ADD CONSTRAINT manifest_on_device_in_studio
    FOREIGN KEY (studio_id, device_id) REFERENCES stock_device (studio_id, id)
    ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
"""
DROP = "ALTER TABLE stock_manifest DROP CONSTRAINT manifest_on_device_in_studio"


class Migration(migrations.Migration):
    dependencies = [
        ("accounts", "0001_initial"),
        ("stock", "0002_composite_keys"),
    ]

    operations = [
        migrations.CreateModel(
            name="Manifest",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("material", models.CharField(max_length=80)),
                ("algorithm", models.CharField(max_length=8)),
                ("file_count", models.IntegerField()),
                ("keys", models.BinaryField()),
                ("taken_at", models.DateTimeField(auto_now=True)),
            ],
            options={
                "ordering": ("device", "material"),
            },
        ),
        migrations.CreateModel(
            name="ManifestMatch",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("share_of_one", models.FloatField()),
                ("share_of_other", models.FloatField()),
            ],
            options={
                "ordering": ("one", "other"),
            },
        ),
        migrations.AddField(
            model_name="device",
            name="bays",
            field=models.IntegerField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name="device",
            name="box",
            field=models.CharField(blank=True, max_length=400),
        ),
        migrations.AddField(
            model_name="device",
            name="drive_class",
            field=models.CharField(default="unknown", max_length=8),
        ),
        migrations.AddField(
            model_name="device",
            name="handed_on",
            field=models.DateField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name="device",
            name="ports",
            field=models.CharField(blank=True, max_length=200),
        ),
        migrations.AddField(
            model_name="device",
            name="tested_on",
            field=models.DateField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name="holding",
            name="read_back_on",
            field=models.DateField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name="holding",
            name="role",
            field=models.CharField(default="unsaid", max_length=8),
        ),
        migrations.AddField(
            model_name="stockentry",
            name="device",
            field=models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="entries",
                to="stock.device",
            ),
        ),
        migrations.AddConstraint(
            model_name="device",
            constraint=models.UniqueConstraint(
                condition=models.Q(("kind", "box")),
                fields=("studio", "label"),
                name="one_box_per_label_in_a_studio",
            ),
        ),
        migrations.AddField(
            model_name="manifest",
            name="device",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="manifests", to="stock.device"
            ),
        ),
        migrations.AddField(
            model_name="manifest",
            name="studio",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="+", to="accounts.studio"
            ),
        ),
        migrations.AddField(
            model_name="manifestmatch",
            name="one",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="+", to="stock.manifest"
            ),
        ),
        migrations.AddField(
            model_name="manifestmatch",
            name="other",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="+", to="stock.manifest"
            ),
        ),
        migrations.AddField(
            model_name="manifestmatch",
            name="studio",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="+", to="accounts.studio"
            ),
        ),
        migrations.AddConstraint(
            model_name="manifest",
            constraint=models.UniqueConstraint(
                fields=("studio", "device", "material"), name="one_manifest_per_material_on_a_device"
            ),
        ),
        migrations.RunSQL(ADD, DROP),
    ]
