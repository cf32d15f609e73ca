"""Tables of a database from before the app had its name."""

from django.db import migrations

from kentrobar.web.kit.migrating import rename_tables


class Migration(migrations.Migration):
    dependencies = [("bench", "0001_baseline")]

    operations = [
        rename_tables(
            {
                "jobs_benchwork": "bench_benchwork",
                "jobs_benchevent": "bench_benchevent",
                "jobs_rollfinding": "bench_rollfinding",
                "jobs_shiftfinding": "bench_shiftfinding",
                "jobs_placefinding": "bench_placefinding",
                "jobs_placecorrection": "bench_placecorrection",
                "jobs_correction": "bench_densitycorrection",
            }
        ),
    ]
