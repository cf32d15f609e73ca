"""The columns that a target has taken the place of go."""

from django.db import migrations

import kentrobar.web.kit.fields


class Migration(migrations.Migration):
    dependencies = [
        ("planning", "0002_targets"),
    ]

    operations = [
        migrations.RenameField("plan", "wanted", "target"),
        migrations.AlterField(
            model_name="plan",
            name="target",
            field=kentrobar.web.kit.fields.TargetField(
                default=kentrobar.web.kit.fields.nothing_wanted
            ),
        ),
    ]
