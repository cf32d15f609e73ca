"""Where plans may lay weight becomes one value, ``allowed``, in place of ``places`` and ``hoop``."""

from django.db import migrations

import kentrobar.web.kit.fields


def join(apps, schema_editor):
    for name in ("Frame", "HistoricalFrame"):
        model = apps.get_model("frames", name)
        told = model.objects.exclude(places=[], hoop="either").values_list("pk", "places", "hoop")
        for pk, places, hoop in told.iterator():
            model.objects.filter(pk=pk).update(allowed={"sites": sorted(places) or None, "hoop": hoop})


class Migration(migrations.Migration):
    dependencies = [("frames", "0001_baseline")]

    operations = [
        *(
            migrations.AddField(
                model_name=name,
                name="allowed",
                field=kentrobar.web.kit.fields.AllowedField(
                    default=kentrobar.web.kit.fields.anywhere, verbose_name="places that plans may use"
                ),
            )
            for name in ("frame", "historicalframe")
        ),
        migrations.RunPython(join, migrations.RunPython.noop),
        *(
            migrations.RemoveField(model_name=name, name=column)
            for name in ("frame", "historicalframe")
            for column in ("places", "hoop")
        ),
    ]
