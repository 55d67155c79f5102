"""A revision carries its plan's studio in its key: neither can move to another studio alone."""

from django.db import migrations

ADD = """
ALTER TABLE plans_revision
    ADD CONSTRAINT revision_of_plan_in_studio
    FOREIGN KEY (studio_id, plan_id) REFERENCES plans_plan (studio_id, id)
    ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
"""
DROP = "ALTER TABLE plans_revision DROP CONSTRAINT revision_of_plan_in_studio"


class Migration(migrations.Migration):
    dependencies = [("plans", "0001_initial")]

    operations = [migrations.RunSQL(ADD, DROP)]
