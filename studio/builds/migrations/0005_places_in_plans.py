"""Where a set lies is said by the things of each plan; its own place was never filled."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("builds", "0004_only_colourings")]

    operations = [migrations.RemoveField("placedset", "place")]
