"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("practice", "0001_start"),
    ]

    initial = True

    dependencies = [
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="PracticeRun",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "task",
                    models.CharField(
                        choices=[
                            ("read", "Read well"),
                            ("slip", "Find the slip"),
                            ("predict", "Predict before you see"),
                            ("match", "Match two"),
                            ("finish", "Finish in few rounds"),
                        ],
                        max_length=7,
                    ),
                ),
                ("level", models.PositiveSmallIntegerField(choices=[(1, "1"), (2, "2"), (3, "3")])),
                (
                    "sport",
                    models.CharField(
                        choices=[("tennis", "rackets"), ("pickleball", "paddles")], max_length=10
                    ),
                ),
                ("seed", models.PositiveIntegerField()),
                ("moves", models.JSONField(default=list)),
                ("answer", models.JSONField(default=dict)),
                ("parts", models.JSONField(default=list)),
                ("points", models.PositiveSmallIntegerField(null=True)),
                ("started_at", models.DateTimeField(auto_now_add=True)),
                ("finished_at", models.DateTimeField(null=True)),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="practice_runs",
                        to="shops.shop",
                    ),
                ),
                (
                    "user",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="practice_runs",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["-started_at", "-pk"],
                "indexes": [
                    models.Index(fields=["user", "task"], name="practice_by_person_and_task")
                ],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(
                            models.Q(("finished_at", None), ("points", None)),
                            models.Q(("finished_at__isnull", False), ("points__range", (0, 100))),
                            _connector="OR",
                        ),
                        name="scored_when_finished",
                    )
                ],
            },
        ),
    ]
