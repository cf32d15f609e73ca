"""Tables of a database from before the app had its name."""

from django.db import migrations

from kentrobar.web.kit.migrating import rename_tables


class Migration(migrations.Migration):
    dependencies = [("orders", "0001_baseline")]

    operations = [
        rename_tables(
            {
                "jobs_job": "orders_job",
                "jobs_historicaljob": "orders_historicaljob",
                "jobs_jobframe": "orders_jobframe",
                "jobs_signoff": "orders_signoff",
                "jobs_framepage": "orders_framepage",
                "jobs_jobphoto": "orders_jobphoto",
                "jobs_playtest": "orders_playtest",
            }
        ),
    ]
