"""The columns that a target has taken the place of go."""

from django.db import migrations

import kentrobar.web.kit.fields


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0003_targets"),
        ("orders", "0003_targets"),
    ]

    operations = [
        migrations.RemoveField(
            model_name="benchwork",
            name="axis_cm",
        ),
        migrations.RemoveField(
            model_name="benchwork",
            name="chance",
        ),
        migrations.RemoveField(
            model_name="benchwork",
            name="tolerances",
        ),
        migrations.AlterField(
            model_name="benchwork",
            name="target",
            field=kentrobar.web.kit.fields.TargetField(
                default=kentrobar.web.kit.fields.nothing_wanted
            ),
        ),
    ]
