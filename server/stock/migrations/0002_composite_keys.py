"""What lies on a device carries the device's studio in its key."""

from django.db import migrations

ADD = """
ALTER TABLE stock_holding
    ADD CONSTRAINT holding_on_device_in_studio
    FOREIGN KEY (studio_id, device_id) REFERENCES stock_device (studio_id, id)
    ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED
"""
DROP = "ALTER TABLE stock_holding DROP CONSTRAINT holding_on_device_in_studio"


class Migration(migrations.Migration):
    dependencies = [("stock", "0001_initial")]

    operations = [migrations.RunSQL(ADD, DROP)]
