"""All tables of this app as version 1.0.0 found them; takes the place of what went before."""

import django.db.models.deletion
import simple_history.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    replaces = [
        ("materials", "0001_start"),
        ("materials", "0002_intake"),
        ("materials", "0003_shelf"),
        ("materials", "0004_factory_tape"),
        ("materials", "0005_thickness_and_archive"),
    ]

    initial = True

    dependencies = [
        ("shops", "0001_baseline"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="HistoricalAccessory",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
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
                ("name", models.CharField(max_length=60)),
                ("mass_g", models.FloatField(verbose_name="weight, g")),
                ("mass_u_g", models.FloatField(verbose_name="± of weight, g")),
                ("weighings_g", models.JSONField(default=list, verbose_name="own weighings, g")),
                (
                    "thickness_mm",
                    models.FloatField(blank=True, null=True, verbose_name="thickness, mm"),
                ),
                ("typed", models.JSONField(default=dict, verbose_name="as typed")),
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
                    "history_user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
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
            ],
            options={
                "verbose_name": "historical accessory",
                "verbose_name_plural": "historical accessories",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="HistoricalMaterial",
            fields=[
                (
                    "id",
                    models.BigIntegerField(
                        auto_created=True, blank=True, db_index=True, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=60)),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("lead_tape", "lead tape"),
                            ("tungsten_tape", "tungsten tape"),
                            ("copper_tape", "copper tape"),
                            ("edge_tape", "protective edge tape"),
                            ("tungsten_putty", "tungsten putty"),
                            ("removable_putty", "removable putty"),
                            ("silicone", "silicone"),
                            ("butt_cap", "heavier butt cap"),
                            ("module", "clip-on module"),
                            ("cotton", "cotton plug"),
                            ("dampener", "dampener"),
                            ("leather", "leather grip"),
                            ("grip", "grip"),
                            ("overgrip", "overgrip"),
                        ],
                        max_length=15,
                    ),
                ),
                (
                    "g_per_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="weight per length, g/cm"
                    ),
                ),
                (
                    "g_per_cm_u",
                    models.FloatField(
                        blank=True, null=True, verbose_name="± of weight per length, g/cm"
                    ),
                ),
                (
                    "density_g_cm3",
                    models.FloatField(blank=True, null=True, verbose_name="density, g/cm³"),
                ),
                (
                    "each_g",
                    models.FloatField(blank=True, null=True, verbose_name="weight of one, g"),
                ),
                (
                    "each_u_g",
                    models.FloatField(blank=True, null=True, verbose_name="± of weight of one, g"),
                ),
                (
                    "typed_density",
                    models.JSONField(blank=True, default=dict, verbose_name="weight as typed"),
                ),
                (
                    "cuts",
                    models.JSONField(
                        blank=True, default=list, verbose_name="weighed cuts, cm and g"
                    ),
                ),
                ("width_mm", models.FloatField(blank=True, null=True, verbose_name="width, mm")),
                (
                    "hardness",
                    models.CharField(
                        choices=[
                            ("soft", "soft, follows any curve"),
                            ("bends", "bends with a little care"),
                            ("stiff", "stiff, hardly bends into a channel"),
                        ],
                        max_length=5,
                    ),
                ),
                (
                    "undo",
                    models.CharField(
                        choices=[
                            ("clean", "comes off clean"),
                            ("lasting", "stays for good"),
                            ("trial", "for trials only"),
                        ],
                        max_length=7,
                        verbose_name="taking off",
                    ),
                ),
                (
                    "sold_amount",
                    models.FloatField(blank=True, null=True, verbose_name="amount in one package"),
                ),
                (
                    "price",
                    models.DecimalField(
                        blank=True,
                        decimal_places=2,
                        max_digits=9,
                        null=True,
                        verbose_name="price of one package",
                    ),
                ),
                (
                    "left_amount",
                    models.FloatField(blank=True, null=True, verbose_name="amount left"),
                ),
                (
                    "thickness_mm",
                    models.FloatField(blank=True, null=True, verbose_name="thickness, mm"),
                ),
                ("note", models.CharField(blank=True, max_length=200, verbose_name="what to mind")),
                ("archived_at", models.DateTimeField(null=True)),
                ("order", models.PositiveSmallIntegerField(default=0)),
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
                    "history_user",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
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
            ],
            options={
                "verbose_name": "historical material",
                "verbose_name_plural": "historical materials",
                "ordering": ("-history_date", "-history_id"),
                "get_latest_by": ("history_date", "history_id"),
            },
            bases=(simple_history.models.HistoricalChanges, models.Model),
        ),
        migrations.CreateModel(
            name="Material",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("name", models.CharField(max_length=60)),
                (
                    "kind",
                    models.CharField(
                        choices=[
                            ("lead_tape", "lead tape"),
                            ("tungsten_tape", "tungsten tape"),
                            ("copper_tape", "copper tape"),
                            ("edge_tape", "protective edge tape"),
                            ("tungsten_putty", "tungsten putty"),
                            ("removable_putty", "removable putty"),
                            ("silicone", "silicone"),
                            ("butt_cap", "heavier butt cap"),
                            ("module", "clip-on module"),
                            ("cotton", "cotton plug"),
                            ("dampener", "dampener"),
                            ("leather", "leather grip"),
                            ("grip", "grip"),
                            ("overgrip", "overgrip"),
                        ],
                        max_length=15,
                    ),
                ),
                (
                    "g_per_cm",
                    models.FloatField(
                        blank=True, null=True, verbose_name="weight per length, g/cm"
                    ),
                ),
                (
                    "g_per_cm_u",
                    models.FloatField(
                        blank=True, null=True, verbose_name="± of weight per length, g/cm"
                    ),
                ),
                (
                    "density_g_cm3",
                    models.FloatField(blank=True, null=True, verbose_name="density, g/cm³"),
                ),
                (
                    "each_g",
                    models.FloatField(blank=True, null=True, verbose_name="weight of one, g"),
                ),
                (
                    "each_u_g",
                    models.FloatField(blank=True, null=True, verbose_name="± of weight of one, g"),
                ),
                (
                    "typed_density",
                    models.JSONField(blank=True, default=dict, verbose_name="weight as typed"),
                ),
                (
                    "cuts",
                    models.JSONField(
                        blank=True, default=list, verbose_name="weighed cuts, cm and g"
                    ),
                ),
                ("width_mm", models.FloatField(blank=True, null=True, verbose_name="width, mm")),
                (
                    "hardness",
                    models.CharField(
                        choices=[
                            ("soft", "soft, follows any curve"),
                            ("bends", "bends with a little care"),
                            ("stiff", "stiff, hardly bends into a channel"),
                        ],
                        max_length=5,
                    ),
                ),
                (
                    "undo",
                    models.CharField(
                        choices=[
                            ("clean", "comes off clean"),
                            ("lasting", "stays for good"),
                            ("trial", "for trials only"),
                        ],
                        max_length=7,
                        verbose_name="taking off",
                    ),
                ),
                (
                    "sold_amount",
                    models.FloatField(blank=True, null=True, verbose_name="amount in one package"),
                ),
                (
                    "price",
                    models.DecimalField(
                        blank=True,
                        decimal_places=2,
                        max_digits=9,
                        null=True,
                        verbose_name="price of one package",
                    ),
                ),
                (
                    "left_amount",
                    models.FloatField(blank=True, null=True, verbose_name="amount left"),
                ),
                (
                    "thickness_mm",
                    models.FloatField(blank=True, null=True, verbose_name="thickness, mm"),
                ),
                ("note", models.CharField(blank=True, max_length=200, verbose_name="what to mind")),
                ("archived_at", models.DateTimeField(null=True)),
                ("order", models.PositiveSmallIntegerField(default=0)),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="materials",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "ordering": ["order", "name"],
            },
        ),
        migrations.CreateModel(
            name="StockChange",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                ("amount", models.FloatField()),
                ("left_after", models.FloatField()),
                (
                    "why",
                    models.CharField(
                        choices=[("counted", "counted"), ("bought", "bought"), ("cut", "cut")],
                        max_length=7,
                    ),
                ),
                ("note", models.CharField(blank=True, max_length=120)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "made_by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.PROTECT,
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
                (
                    "material",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="stock_changes",
                        to="materials.material",
                    ),
                ),
            ],
            options={
                "ordering": ["-made_at", "-pk"],
            },
        ),
        migrations.CreateModel(
            name="Accessory",
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
                ("name", models.CharField(max_length=60)),
                ("mass_g", models.FloatField(verbose_name="weight, g")),
                ("mass_u_g", models.FloatField(verbose_name="± of weight, g")),
                ("weighings_g", models.JSONField(default=list, verbose_name="own weighings, g")),
                (
                    "thickness_mm",
                    models.FloatField(blank=True, null=True, verbose_name="thickness, mm"),
                ),
                ("typed", models.JSONField(default=dict, verbose_name="as typed")),
                ("archived_at", models.DateTimeField(null=True)),
                (
                    "shop",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="accessories",
                        to="shops.shop",
                    ),
                ),
            ],
            options={
                "verbose_name_plural": "accessories",
                "ordering": ["kind", "pk"],
                "constraints": [
                    models.UniqueConstraint(
                        fields=("shop", "name"), name="accessory_name_once_a_shop"
                    ),
                    models.CheckConstraint(
                        condition=models.Q(("mass_g__gt", 0), ("mass_u_g__gte", 0)),
                        name="accessory_weighs_something",
                    ),
                ],
            },
        ),
        migrations.AddConstraint(
            model_name="material",
            constraint=models.UniqueConstraint(
                fields=("shop", "name"), name="material_name_once_a_shop"
            ),
        ),
        migrations.AddConstraint(
            model_name="material",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(
                        ("g_per_cm__gt", 0),
                        ("g_per_cm_u__gte", 0),
                        ("kind__in", ["lead_tape", "tungsten_tape", "copper_tape", "edge_tape"]),
                    ),
                    models.Q(
                        ("density_g_cm3__gt", 0),
                        ("kind__in", ["tungsten_putty", "removable_putty", "silicone"]),
                    ),
                    models.Q(
                        ("each_g__gt", 0),
                        ("each_u_g__gte", 0),
                        (
                            "kind__in",
                            [
                                "butt_cap",
                                "module",
                                "cotton",
                                "dampener",
                                "leather",
                                "grip",
                                "overgrip",
                            ],
                        ),
                    ),
                    _connector="OR",
                ),
                name="material_has_its_weight",
            ),
        ),
        migrations.AddConstraint(
            model_name="material",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("sold_amount", None), ("sold_amount__gt", 0), _connector="OR"),
                    models.Q(("left_amount", None), ("left_amount__gte", 0), _connector="OR"),
                    models.Q(("price", None), ("price__gte", 0), _connector="OR"),
                ),
                name="material_amounts_are_real",
            ),
        ),
    ]
