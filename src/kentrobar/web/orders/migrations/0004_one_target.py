"""The columns that a target has taken the place of go."""

from django.db import migrations

import kentrobar.web.kit.fields


class Migration(migrations.Migration):
    dependencies = [
        ("orders", "0003_targets"),
    ]

    operations = [
        migrations.RemoveField(
            model_name="signoff",
            name="tolerances",
        ),
        migrations.AlterField(
            model_name="signoff",
            name="target",
            field=kentrobar.web.kit.fields.TargetField(
                default=kentrobar.web.kit.fields.nothing_wanted
            ),
        ),
    ]
