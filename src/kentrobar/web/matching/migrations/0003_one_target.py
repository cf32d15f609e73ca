"""The columns that a target has taken the place of go."""

from django.db import migrations

import kentrobar.web.kit.fields


class Migration(migrations.Migration):
    dependencies = [
        ("matching", "0002_targets"),
    ]

    operations = [
        migrations.RemoveField(
            model_name="frameset",
            name="alike",
        ),
        migrations.RemoveField(
            model_name="frameset",
            name="axis_cm",
        ),
        migrations.RemoveField(
            model_name="frameset",
            name="build",
        ),
        migrations.RemoveField(
            model_name="frameset",
            name="ceiling_g",
        ),
        migrations.RemoveField(
            model_name="frameset",
            name="chance",
        ),
        migrations.RemoveField(
            model_name="frameset",
            name="tolerances",
        ),
        migrations.RemoveField(
            model_name="setlaying",
            name="alike",
        ),
        migrations.RemoveField(
            model_name="setlaying",
            name="tolerances",
        ),
        migrations.AlterField(
            model_name="frameset",
            name="target",
            field=kentrobar.web.kit.fields.TargetField(
                default=kentrobar.web.kit.fields.nothing_wanted
            ),
        ),
        migrations.AlterField(
            model_name="setlaying",
            name="target",
            field=kentrobar.web.kit.fields.TargetField(
                default=kentrobar.web.kit.fields.nothing_wanted
            ),
        ),
    ]
