"""Frames or builds side by side."""

from __future__ import annotations

from urllib.parse import urlencode

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from kentrobar.core.weight.builds import Build
from kentrobar.web.frames.builds import BUILD_NAMES, NAMED_BUILDS, builds_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.frames.reference_strips import among_each, strips
from kentrobar.web.kit.quantities import read_axis
from kentrobar.web.kit.requests import read_count
from kentrobar.web.kit.spec_rows import ReferenceStrip
from kentrobar.web.measuring.comparing.table import AS_READ, MOST_COMPARED, FrameInSetup, compared, table
from kentrobar.web.measuring.stiffness import stiffness_rows
from kentrobar.web.shops.requests import SignedIn


def compare(request: SignedIn) -> HttpResponse:
    """The frames asked for, each in the build asked for; or one frame in all its builds.

    The list of frames sends what is marked as it does for all that can be done with it; the page itself is
    looked at by its address.
    """
    if request.method == "POST":
        marked = request.POST.getlist("frame")[:MOST_COMPARED]
        query = urlencode([("frame", read_count(pk)) for pk in marked])
        return redirect(f"{reverse('measuring:compare')}?{query}")
    wanted = [read_count(pk) for pk in request.GET.getlist("frame")][:MOST_COMPARED]
    by_pk = {f.pk: f for f in frames_with_fittings(request.user).filter(pk__in=wanted)}
    frames = [by_pk[pk] for pk in dict.fromkeys(wanted) if pk in by_pk]
    build = request.GET.get("build", "")
    build = build if build in (*NAMED_BUILDS, AS_READ, "all") else AS_READ
    context: dict[str, object] = {"frames": frames, "build": build, "builds": _builds()}
    if frames:
        context |= _compared(request, frames, build)
    return render(request, "measuring/compare.html", context)


def _builds() -> list[tuple[str, str]]:
    return [
        (AS_READ, "each as measured"),
        *((b.value, BUILD_NAMES[b]) for b in NAMED_BUILDS),
        ("all", "every setup of each"),
    ]


def _strips(request: SignedIn, columns: list[FrameInSetup]) -> list[dict[str, ReferenceStrip]]:
    """Where each stands among the frames of its sport; none in another build than those are in."""
    units = request.user.units
    others = among_each(request.user.own_shop, (column.frame for column in columns))
    return [
        strips(
            others[column.frame.sport],
            column.frame.outline,
            column.about_usual_axis,
            None,
            units,
            column.specs.axis_cm,
        )
        if column.build == Build.PLAYING
        else {}
        for column in columns
    ]


def _compared(request: SignedIn, frames: list[Frame], build: str) -> dict[str, object]:
    axis_cm, axis_error = read_axis(request.GET.get("axis", ""), frames[0].measured.axis_cm)
    columns = [
        compared(frame, each, axis_cm)
        for frame in frames
        for each in (builds_of(frame) if build == "all" else (build,))
    ][:MOST_COMPARED]
    read = {str(c.frame.specs.build) for c in columns if c.frame.specs}
    rule = request.user.own_shop.felt_rule
    return {
        "columns": [(c, BUILD_NAMES[c.build]) for c in columns],
        "rows": table(columns, _strips(request, columns), request.user.units, rule),
        "stiffness": stiffness_rows([column.frame for column in columns]),
        "axis_cm": axis_cm,
        "axis_error": axis_error,
        "mixed": len({c.build for c in columns}) > 1 and build != "all",
        "converted": any(c.converted for c in columns),
        "read_in": sorted(BUILD_NAMES[b] for b in read),
        "rule": rule,
        "playing": Build.PLAYING.value,
    }
