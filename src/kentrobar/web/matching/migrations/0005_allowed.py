"""The places of a set and of its frames become one value, ``allowed``."""

from django.db import migrations

import kentrobar.web.kit.fields


def join(apps, schema_editor):
    for name in ("FrameSet", "SetMember"):
        model = apps.get_model("matching", name)
        for pk, places in model.objects.exclude(places=[]).values_list("pk", "places").iterator():
            model.objects.filter(pk=pk).update(allowed={"sites": sorted(places), "hoop": "either"})


class Migration(migrations.Migration):
    dependencies = [("matching", "0004_searches_in_kit")]

    operations = [
        *(
            migrations.AddField(
                model_name=name,
                name="allowed",
                field=kentrobar.web.kit.fields.AllowedField(
                    default=kentrobar.web.kit.fields.anywhere, verbose_name="places that may be used"
                ),
            )
            for name in ("frameset", "setmember")
        ),
        migrations.RunPython(join, migrations.RunPython.noop),
        *(migrations.RemoveField(model_name=name, name="places") for name in ("frameset", "setmember")),
    ]
