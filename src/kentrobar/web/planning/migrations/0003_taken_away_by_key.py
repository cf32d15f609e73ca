"""A piece that takes weight away names the fitting by its key, no longer by its label alone."""

from django.db import migrations

ENDINGS = ("", ", trimmed", ", lighter")


def add_keys(apps, schema_editor):
    Plan = apps.get_model("planning", "Plan")
    FrameFitting = apps.get_model("frames", "FrameFitting")
    fittings = {}
    for fitting in FrameFitting.objects.order_by("-is_on", "pk"):
        fittings.setdefault(fitting.frame_id, []).append(fitting)
    for plan in Plan.objects.prefetch_related("revisions"):
        for state in [plan, *plan.revisions.all()]:
            if _add_keys(state.pieces, fittings.get(plan.frame_id, [])):
                state.save(update_fields=["pieces"])


def _add_keys(pieces, fittings):
    """Note the key of what each piece takes away; of several of one label, the next one not taken yet."""
    taken = set()
    for item in pieces:
        piece = item["piece"]
        if not piece.get("removed") or item.get("fitting"):
            continue
        names = piece.get("label", "")
        fit = [each for each in fittings if names in {each.label + end for end in ENDINGS}]
        fit.sort(key=lambda each: (each.pk in taken, -len(each.label)))
        if fit:
            item["fitting"] = fit[0].pk
            taken.add(fit[0].pk)
    return bool(taken)


class Migration(migrations.Migration):
    dependencies = [("planning", "0002_order_and_archive"), ("frames", "0004_factory_tape")]

    operations = [migrations.RunPython(add_keys, migrations.RunPython.noop)]
