"""Searches have one table now (``kit``); what they found before can be searched again."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [
        ("matching", "0003_one_target"),
    ]

    operations = [
        migrations.DeleteModel(
            name="SetSearch",
        ),
    ]
