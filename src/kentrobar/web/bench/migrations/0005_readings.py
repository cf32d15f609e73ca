"""What was read at the bench is kept reading by reading, as a sheet of readings keeps it."""

from django.db import migrations


def as_readings(data):
    """The readings of an event whose texts, instruments and times stood in mappings of their own."""
    used, swing = data.pop("instruments", {}), data.pop("swing", {})
    times = data.pop("times", 1)
    keys = {key.partition("_")[0]: key for key in data["specs"]}
    return [
        {
            "spec": field,
            "text": typed["text"],
            "unit": typed["unit"],
            "value": data["specs"][keys[field]]["value"],
            "left_out": False,
            "instrument": used.get(field),
            "detail": swing if typed["unit"] == "s" else {"mean_of": times} if times > 1 else {},
        }
        for field, typed in data.pop("typed", {}).items()
        if field in keys
    ]


def convert(apps, _editor):
    for event in apps.get_model("bench", "BenchEvent").objects.filter(kind="read").iterator():
        if "readings" not in event.data:
            event.data["readings"] = as_readings(event.data)
            event.save(update_fields=["data"])


class Migration(migrations.Migration):
    dependencies = [("bench", "0004_one_target")]

    operations = [migrations.RunPython(convert, migrations.RunPython.noop, elidable=False)]
