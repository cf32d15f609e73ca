"""What a set and its plans are to become stands in one target, no longer in columns of its parts."""

from django.db import migrations

from kentrobar.web.kit.migrating import target_1


def join(apps, _editor):
    for each in apps.get_model("matching", "FrameSet").objects.all():
        centres = each.target if each.kind == "written" else {}
        for key, value in each.target.items() if each.kind != "written" else ():
            field = key.partition("_")[0]
            unit = {"mass": "g", "balance": "cm"}.get(field, "kg·cm²")
            each.typed.setdefault(f"target_{field}", {"text": f"{value:g}", "unit": unit})
        each.target = target_1(
            centres,
            each.tolerances,
            each.axis_cm,
            alike=each.alike,
            setup=each.build,
            chance=each.chance,
            ceiling_g=each.ceiling_g,
        )
        each.save(update_fields=["target", "typed"])
    for each in apps.get_model("matching", "SetLaying").objects.select_related("set"):
        each.target = target_1(
            each.target,
            each.tolerances,
            each.set.axis_cm,
            alike=each.alike,
            setup=each.set.build,
            chance=each.set.chance,
            ceiling_g=each.set.ceiling_g,
        )
        each.save(update_fields=["target"])


class Migration(migrations.Migration):
    dependencies = [("matching", "0001_baseline")]

    operations = [migrations.RunPython(join, migrations.RunPython.noop)]
