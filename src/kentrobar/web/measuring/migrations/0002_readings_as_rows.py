"""What was typed beside a sheet of readings becomes rows, the one place where it is kept."""

from django.db import migrations

COLUMNS = {
    "mass": "mass_g",
    "balance": "balance_cm",
    "swingweight": "swingweight_kgcm2",
    "twistweight": "twistweight_kgcm2",
}


def make_rows(apps, schema_editor):
    SpecSheet = apps.get_model("frames", "SpecSheet")
    Reading = apps.get_model("measuring", "Reading")
    rows = {}
    for reading in Reading.objects.order_by("number"):
        rows.setdefault((reading.sheet_id, reading.spec), []).append(reading)
    for sheet in SpecSheet.objects.order_by("pk").select_related("replaces"):
        for spec, column in COLUMNS.items():
            if spec not in sheet.typed or _is_carried(sheet, spec, column):
                continue
            detail = _detail(sheet.typed, spec)
            found = rows.get((sheet.pk, spec), [])
            for reading in found:
                reading.detail = detail | reading.detail
            Reading.objects.bulk_update(found, ["detail"])
            if not found:
                Reading.objects.create(
                    sheet=sheet,
                    spec=spec,
                    number=1,
                    text=sheet.typed[spec]["text"][:60],
                    unit=sheet.typed[spec]["unit"],
                    value=getattr(sheet, column),
                    detail=detail,
                )


def _is_carried(sheet, spec, column):
    """Whether a spec stands as the sheet before had it, and was not read anew."""
    before = sheet.replaces
    return (
        before is not None
        and before.typed.get(spec) == sheet.typed[spec]
        and getattr(before, column) == getattr(sheet, column)
        and (spec != "swingweight" or before.typed.get("axis") == sheet.typed.get("axis"))
    )


def _detail(typed, spec):
    detail = {"spread": typed[spec]["spread"]} if typed[spec].get("spread") else {}
    if spec == "swingweight" and "axis" in typed:
        detail["axis"] = {"text": typed["axis"]["text"], "unit": typed["axis"]["unit"]}
    return detail


class Migration(migrations.Migration):
    dependencies = [("measuring", "0001_intake"), ("frames", "0004_factory_tape")]

    operations = [migrations.RunPython(make_rows, migrations.RunPython.noop)]
