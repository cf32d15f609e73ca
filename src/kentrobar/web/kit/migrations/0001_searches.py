"""The one table of searches."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Search",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("kind", models.CharField(max_length=12)),
                ("subject", models.PositiveBigIntegerField()),
                ("part", models.CharField(blank=True, max_length=24)),
                ("fingerprint", models.CharField(max_length=64)),
                ("request", models.JSONField(default=dict)),
                (
                    "state",
                    models.CharField(
                        choices=[
                            ("waiting", "waiting for a worker"),
                            ("running", "searching"),
                            ("done", "done"),
                            ("stopped", "stopped before it began"),
                            ("failed", "failed"),
                        ],
                        default="waiting",
                        max_length=7,
                    ),
                ),
                ("attempt", models.PositiveIntegerField(default=0)),
                ("job_id", models.BigIntegerField(null=True)),
                ("is_stopped", models.BooleanField(default=False)),
                ("best_g", models.FloatField(null=True)),
                ("bound_g", models.FloatField(null=True)),
                ("result", models.JSONField(null=True)),
                ("problem", models.CharField(blank=True, max_length=300)),
                ("problem_field", models.CharField(blank=True, max_length=40)),
                ("asked_at", models.DateTimeField(auto_now_add=True)),
                ("started_at", models.DateTimeField(null=True)),
                ("ended_at", models.DateTimeField(null=True)),
                (
                    "asked_by",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="searches",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "constraints": [
                    models.UniqueConstraint(
                        fields=("kind", "subject", "part", "fingerprint"),
                        name="searched_once_a_state",
                    )
                ],
            },
        ),
    ]
