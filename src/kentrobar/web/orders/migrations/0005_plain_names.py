"""Columns of jobs and sign-offs are named for what they hold."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("orders", "0004_one_target")]

    operations = [
        *(migrations.RenameField(name, "wish", "brief") for name in ("job", "historicaljob")),
        *(migrations.RenameField(name, "told_at", "notified_at") for name in ("job", "historicaljob")),
        migrations.RenameField("signoff", "laid", "applied"),
    ]
