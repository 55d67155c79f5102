"""A job carries its plan's studio in its key, and a part its job's: none can move to another studio alone."""

from django.db import migrations

ADD = """
ALTER TABLE jobs_longjob
    ADD CONSTRAINT job_of_plan_in_studio
    FOREIGN KEY (studio_id, plan_id) REFERENCES plans_plan (studio_id, id)
    ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED;
ALTER TABLE jobs_jobpart
    ADD CONSTRAINT part_of_job_in_studio
    FOREIGN KEY (studio_id, job_id) REFERENCES jobs_longjob (studio_id, id)
    ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
"""
DROP = """
ALTER TABLE jobs_longjob DROP CONSTRAINT job_of_plan_in_studio;
ALTER TABLE jobs_jobpart DROP CONSTRAINT part_of_job_in_studio
"""


class Migration(migrations.Migration):
    dependencies = [("jobs", "0001_initial"), ("plans", "0005_logs_by_studio")]

    operations = [migrations.RunSQL(ADD, DROP)]
