"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.contrib.postgres.fields
import django.db.models.deletion
import django.db.models.functions.text
import simple_history.models
from django.conf import settings
from django.db import migrations, models

import kentrobar.web.frames.models


class Migration(migrations.Migration):
    replaces = [
        ("frames", "0001_start"),
        ("frames", "0002_intake"),
        ("frames", "0003_shelf_and_order"),
        ("frames", "0004_factory_tape"),
        ("frames", "0005_readings_in_one_place"),
        ("frames", "0006_set_aside"),
        ("frames", "0007_correlations"),
        ("frames", "0008_stiffness"),
        ("frames", "0009_search_text"),
        ("frames", "0010_places_and_archive"),
        ("frames", "0011_thickness"),
    ]

    initial = True

    dependencies = [
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="FrameModel",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "sport",
                    models.CharField(
                        choices=[("tennis", "racket"), ("pickleball", "paddle")], max_length=10
                    ),
                ),
                ("name", models.CharField(max_length=80)),
                ("stated_mass_g", models.FloatField(blank=True, null=True)),
                ("stated_balance_cm", models.FloatField(blank=True, null=True)),
                ("stated_swingweight_kgcm2", models.FloatField(blank=True, null=True)),
                ("stated_axis_cm", models.FloatField(default=10.0)),
                ("stated_build", models.CharField(default="bare", max_length=7)),
                ("typed", models.JSONField(default=dict, verbose_name="figures as typed")),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="frame_models",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["name"],
            },
        ),
        migrations.CreateModel(
            name="Frame",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "sport",
                    models.CharField(
                        choices=[("tennis", "racket"), ("pickleball", "paddle")], max_length=10
                    ),
                ),
                ("label", models.CharField(max_length=80)),
                (
                    "mark",
                    models.CharField(
                        blank=True, max_length=40, verbose_name="own mark or last digits"
                    ),
                ),
                ("colour", models.CharField(blank=True, max_length=40)),
                ("is_used", models.BooleanField(default=False, verbose_name="used")),
                ("mains", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("crosses", models.PositiveSmallIntegerField(blank=True, null=True)),
                (
                    "handle_build",
                    models.CharField(
                        choices=[
                            ("unknown", "not looked at"),
                            ("hollow", "hollow"),
                            ("trap_door", "hollow, with a trap door"),
                            ("foam", "foam-filled"),
                        ],
                        default="unknown",
                        max_length=9,
                        verbose_name="handle",
                    ),
                ),
                (
                    "post_hold",
                    models.CharField(
                        choices=[
                            ("unknown", "not known"),
                            ("centre", "centre post"),
                            ("offset", "two offset retainers"),
                        ],
                        default="unknown",
                        max_length=7,
                        verbose_name="held by the stringing machine",
                    ),
                ),
                (
                    "blocked",
                    models.CharField(
                        blank=True, max_length=200, verbose_name="blocked stretches of the rim"
                    ),
                ),
                (
                    "stiffness",
                    models.FloatField(
                        blank=True, null=True, verbose_name="stiffness, as its instrument tells it"
                    ),
                ),
                (
                    "bumper_reach_cm",
                    models.FloatField(
                        blank=True,
                        null=True,
                        verbose_name="bumper and grommet strip reach down to, from the butt",
                    ),
                ),
                (
                    "places",
                    models.JSONField(
                        default=list, verbose_name="places that plans may use, by key; none: all"
                    ),
                ),
                (
                    "hoop",
                    models.CharField(
                        choices=[
                            ("either", "open or hidden"),
                            ("open", "open, on the inner face"),
                            ("hidden", "hidden, under bumper and grommets"),
                        ],
                        default="either",
                        max_length=6,
                        verbose_name="strips of the hoop may lie",
                    ),
                ),
                ("complaint", models.TextField(blank=True, max_length=2000)),
                ("wishes", models.TextField(blank=True, max_length=2000)),
                (
                    "must_keep",
                    models.TextField(
                        blank=True, max_length=2000, verbose_name="what must not change"
                    ),
                ),
                ("notes", models.TextField(blank=True, max_length=2000)),
                ("length_cm", models.FloatField()),
                ("handle_length_cm", models.FloatField()),
                ("head_length_cm", models.FloatField(blank=True, null=True)),
                ("head_width_cm", models.FloatField(blank=True, null=True)),
                ("head_size_cm2", models.FloatField(blank=True, null=True)),
                ("beam_mm", models.FloatField(blank=True, null=True)),
                ("width_cm", models.FloatField(blank=True, null=True)),
                ("corner_radius_cm", models.FloatField(blank=True, null=True)),
                ("shoulder_cm", models.FloatField(blank=True, null=True)),
                ("thickness_mm", models.FloatField(blank=True, null=True)),
                ("typed", models.JSONField(default=dict, verbose_name="dimensions as typed")),
                ("created_at", models.DateTimeField(auto_now_add=True)),
                ("changed_at", models.DateTimeField(auto_now=True)),
                ("archived_at", models.DateTimeField(null=True)),
                (
                    "search_text",
                    models.GeneratedField(
                        db_persist=True,
                        expression=django.db.models.functions.text.Lower(
                            django.db.models.functions.text.Concat(
                                "label",
                                models.Value(" "),
                                "mark",
                                models.Value(" "),
                                "colour",
                                models.Value(" "),
                                "notes",
                                models.Value(" "),
                                "complaint",
                                models.Value(" "),
                                "wishes",
                                output_field=models.TextField(),
                            )
                        ),
                        output_field=models.TextField(),
                    ),
                ),
                (
                    "client",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="frames",
                        to="shops.client",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="frames",
                        to="shops.shop",
                    ),
                ),
                (
                    "model",
                    models.ForeignKey(
                        blank=True,
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="frames",
                        to="frames.framemodel",
                    ),
                ),
            ],
            options={
                "ordering": ["label", "pk"],
            },
        ),
        migrations.CreateModel(
            name="SpecSheet",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "build",
                    models.CharField(
                        choices=[
                            ("bare", "bare frame"),
                            ("strung", "strung, no overgrip"),
                            ("playing", "playing form"),
                            ("mix", "another mix of fittings"),
                        ],
                        default="playing",
                        max_length=7,
                    ),
                ),
                ("mass_g", models.FloatField(null=True)),
                ("mass_u_g", models.FloatField(null=True)),
                ("balance_cm", models.FloatField(null=True)),
                ("balance_u_cm", models.FloatField(null=True)),
                ("swingweight_kgcm2", models.FloatField(null=True)),
                ("swingweight_u_kgcm2", models.FloatField(null=True)),
                ("axis_cm", models.FloatField(default=10.0)),
                ("twistweight_kgcm2", models.FloatField(null=True)),
                ("twistweight_u_kgcm2", models.FloatField(null=True)),
                (
                    "correlations",
                    django.contrib.postgres.fields.ArrayField(
                        base_field=models.FloatField(),
                        default=kentrobar.web.frames.models.independent,
                        size=6,
                    ),
                ),
                (
                    "fitting_ids",
                    django.contrib.postgres.fields.ArrayField(
                        base_field=models.BigIntegerField(), null=True, size=None
                    ),
                ),
                ("taken_at", models.DateTimeField(auto_now_add=True)),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="spec_sheets",
                        to="frames.frame",
                    ),
                ),
                (
                    "replaces",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
                (
                    "taken_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={
                "ordering": ["-taken_at"],
            },
        ),
        migrations.CreateModel(
            name="SetAside",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("reason", models.CharField(max_length=200)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("lifted_at", models.DateTimeField(null=True)),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "sheet",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="set_asides",
                        to="frames.specsheet",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at"],
            },
        ),
        migrations.CreateModel(
            name="HistoricalFrame",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                (
                    "sport",
                    models.CharField(
                        choices=[("tennis", "racket"), ("pickleball", "paddle")], max_length=10
                    ),
                ),
                ("label", models.CharField(max_length=80)),
                (
                    "mark",
                    models.CharField(
                        blank=True, max_length=40, verbose_name="own mark or last digits"
                    ),
                ),
                ("colour", models.CharField(blank=True, max_length=40)),
                ("is_used", models.BooleanField(default=False, verbose_name="used")),
                ("mains", models.PositiveSmallIntegerField(blank=True, null=True)),
                ("crosses", models.PositiveSmallIntegerField(blank=True, null=True)),
                (
                    "handle_build",
                    models.CharField(
                        choices=[
                            ("unknown", "not looked at"),
                            ("hollow", "hollow"),
                            ("trap_door", "hollow, with a trap door"),
                            ("foam", "foam-filled"),
                        ],
                        default="unknown",
                        max_length=9,
                        verbose_name="handle",
                    ),
                ),
                (
                    "post_hold",
                    models.CharField(
                        choices=[
                            ("unknown", "not known"),
                            ("centre", "centre post"),
                            ("offset", "two offset retainers"),
                        ],
                        default="unknown",
                        max_length=7,
                        verbose_name="held by the stringing machine",
                    ),
                ),
                (
                    "blocked",
                    models.CharField(
                        blank=True, max_length=200, verbose_name="blocked stretches of the rim"
                    ),
                ),
                (
                    "stiffness",
                    models.FloatField(
                        blank=True, null=True, verbose_name="stiffness, as its instrument tells it"
                    ),
                ),
                (
                    "bumper_reach_cm",
                    models.FloatField(
                        blank=True,
                        null=True,
                        verbose_name="bumper and grommet strip reach down to, from the butt",
                    ),
                ),
                (
                    "places",
                    models.JSONField(
                        default=list, verbose_name="places that plans may use, by key; none: all"
                    ),
                ),
                (
                    "hoop",
                    models.CharField(
                        choices=[
                            ("either", "open or hidden"),
                            ("open", "open, on the inner face"),
                            ("hidden", "hidden, under bumper and grommets"),
                        ],
                        default="either",
                        max_length=6,
                        verbose_name="strips of the hoop may lie",
                    ),
                ),
                ("complaint", models.TextField(blank=True, max_length=2000)),
                ("wishes", models.TextField(blank=True, max_length=2000)),
                (
                    "must_keep",
                    models.TextField(
                        blank=True, max_length=2000, verbose_name="what must not change"
                    ),
                ),
                ("notes", models.TextField(blank=True, max_length=2000)),
                ("length_cm", models.FloatField()),
                ("handle_length_cm", models.FloatField()),
                ("head_length_cm", models.FloatField(blank=True, null=True)),
                ("head_width_cm", models.FloatField(blank=True, null=True)),
                ("head_size_cm2", models.FloatField(blank=True, null=True)),
                ("beam_mm", models.FloatField(blank=True, null=True)),
                ("width_cm", models.FloatField(blank=True, null=True)),
                ("corner_radius_cm", models.FloatField(blank=True, null=True)),
                ("shoulder_cm", models.FloatField(blank=True, null=True)),
                ("thickness_mm", models.FloatField(blank=True, null=True)),
                ("typed", models.JSONField(default=dict, verbose_name="dimensions as typed")),
                ("created_at", models.DateTimeField(blank=True, editable=False)),
                ("changed_at", models.DateTimeField(blank=True, editable=False)),
                ("archived_at", models.DateTimeField(null=True)),
                ("history_id", models.AutoField(primary_key=True, serialize=False)),
                ("history_date", models.DateTimeField(db_index=True)),
                ("history_change_reason", models.CharField(max_length=100, null=True)),
                (
                    "history_type",
                    models.CharField(
                        choices=[("+", "Created"), ("~", "Changed"), ("-", "Deleted")], max_length=1
                    ),
                ),
                (
                    "client",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="shops.client",
                    ),
                ),
                (
                    "history_user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "model",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="frames.framemodel",
                    ),
                ),
                (
                    "shop",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="shops.shop",
                    ),
                ),
                (
                    "specs",
                    models.ForeignKey(
                        blank=True,
                        db_constraint=False,
                        null=True,
                        on_delete=django.db.models.deletion.DO_NOTHING,
                        related_name="+",
                        to="frames.specsheet",
                    ),
                ),
            ],
            options={
                "verbose_name": "historical frame",
                "verbose_name_plural": "historical frames",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.AddField(
            model_name="frame",
            name="specs",
            field=models.ForeignKey(
                blank=True,
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="+",
                to="frames.specsheet",
            ),
        ),
        migrations.CreateModel(
            name="FrameFitting",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("strings", "strings"),
                            ("bumper", "bumper guard and grommets"),
                            ("bumper_guard", "bumper guard alone"),
                            ("grommet_strip", "grommet strip alone"),
                            ("butt_cap", "butt cap"),
                            ("grip", "replacement grip"),
                            ("leather", "leather grip"),
                            ("overgrip", "overgrip"),
                            ("dampener", "dampener"),
                            ("edge_tape", "protective edge tape"),
                            ("head_tape", "head cover tape"),
                            ("finishing_tape", "finishing tape"),
                            ("film", "plastic film"),
                            ("factory_tape", "factory tape under the grip"),
                            ("earlier_weight", "earlier weight"),
                        ],
                        max_length=14,
                    ),
                ),
                ("label", models.CharField(max_length=60)),
                ("mass_g", models.FloatField()),
                ("mass_u_g", models.FloatField()),
                (
                    "source",
                    models.CharField(
                        choices=[
                            ("usual", "usual weight"),
                            ("shop", "as this shop weighed its kind"),
                            ("weighed", "weighed itself"),
                            ("computed", "from gauge, material and pattern"),
                            ("package", "package less offcuts"),
                        ],
                        default="usual",
                        max_length=8,
                    ),
                ),
                ("typed", models.JSONField(default=dict, verbose_name="as typed")),
                ("y_cm", models.FloatField(blank=True, null=True)),
                ("x_cm", models.FloatField(default=0.0)),
                ("from_cm", models.FloatField(blank=True, null=True)),
                ("to_cm", models.FloatField(blank=True, null=True)),
                (
                    "thickness_mm",
                    models.FloatField(blank=True, null=True, verbose_name="thickness, mm"),
                ),
                ("is_on", models.BooleanField(default=True, verbose_name="on the frame")),
                ("fitted_at", models.DateTimeField(auto_now_add=True)),
                ("taken_off_at", models.DateTimeField(blank=True, null=True)),
                (
                    "frame",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="fittings",
                        to="frames.frame",
                    ),
                ),
            ],
            options={
                "ordering": ["pk"],
                "constraints": [
                    models.CheckConstraint(
                        condition=models.Q(("mass_g__gt", 0), ("mass_u_g__gte", 0)),
                        name="fitting_weighs_something",
                    )
                ],
            },
        ),
        migrations.AddConstraint(
            model_name="framemodel",
            constraint=models.UniqueConstraint(
                fields=("shop", "sport", "name"), name="frame_model_name_once_a_shop"
            ),
        ),
        migrations.AddConstraint(
            model_name="specsheet",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("mass_g", None), ("mass_u_g", None)),
                    models.Q(("mass_g__gt", 0), ("mass_u_g__gte", 0)),
                    _connector="OR",
                ),
                name="spec_sheet_mass_with_spread",
            ),
        ),
        migrations.AddConstraint(
            model_name="specsheet",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("balance_cm", None), ("balance_u_cm", None)),
                    models.Q(("balance_cm__gt", 0), ("balance_u_cm__gte", 0)),
                    _connector="OR",
                ),
                name="spec_sheet_balance_with_spread",
            ),
        ),
        migrations.AddConstraint(
            model_name="specsheet",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("swingweight_kgcm2", None), ("swingweight_u_kgcm2", None)),
                    models.Q(("swingweight_kgcm2__gt", 0), ("swingweight_u_kgcm2__gte", 0)),
                    _connector="OR",
                ),
                name="spec_sheet_swingweight_with_spread",
            ),
        ),
        migrations.AddConstraint(
            model_name="specsheet",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("twistweight_kgcm2", None), ("twistweight_u_kgcm2", None)),
                    models.Q(("twistweight_kgcm2__gt", 0), ("twistweight_u_kgcm2__gte", 0)),
                    _connector="OR",
                ),
                name="spec_sheet_twistweight_with_spread",
            ),
        ),
        migrations.AddConstraint(
            model_name="setaside",
            constraint=models.UniqueConstraint(
                condition=models.Q(("lifted_at", None)),
                fields=("sheet",),
                name="set_aside_once_at_a_time",
            ),
        ),
        migrations.AddIndex(
            model_name="frame",
            index=models.Index(fields=["shop", "label"], name="frame_by_shop_and_label"),
        ),
        migrations.AddConstraint(
            model_name="frame",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(
                        ("beam_mm__gt", 0),
                        ("head_length_cm__gt", 0),
                        ("head_width_cm__gt", 0),
                        ("sport", "tennis"),
                    ),
                    models.Q(
                        ("corner_radius_cm__gt", 0),
                        ("shoulder_cm__gt", 0),
                        ("sport", "pickleball"),
                        ("thickness_mm__gt", 0),
                        ("width_cm__gt", 0),
                    ),
                    _connector="OR",
                ),
                name="frame_has_its_sports_dimensions",
            ),
        ),
    ]
