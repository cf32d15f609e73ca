"""The frames of the shop: the list, one frame's page, correcting what is known of it."""

from __future__ import annotations

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from kentrobar.core.weight.grip import grip_size_text
from kentrobar.web.frames import hooks, queries, services
from kentrobar.web.frames.forms import FORM_OF
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.place import spec_rows_of
from kentrobar.web.frames.tables import frame_table
from kentrobar.web.kit.archive import archive_or_restore, shows_archive
from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.requests import is_part, page
from kentrobar.web.shops.requests import SignedIn


def frame_list(request: SignedIn) -> HttpResponse:
    """All frames, searched as one types; those that are archived on a page of their own."""
    is_archive = shows_archive(request)
    frames = queries.listed(request.user, is_archive=is_archive)
    words, sport = request.GET.get("q", ""), request.GET.get("sport", "")
    found = queries.with_words(frames, words)
    if sport in Frame.SportChoice:
        found = found.filter(sport=sport)
    table = frame_table(found, request.GET, request.user.units)
    template = "frames/_table.html" if is_part(request) else "frames/list.html"
    context = {"words": words, "sport": sport, "table": table, "is_archive": is_archive}
    return render(request, template, context)


@require_POST
def archive(request: SignedIn, pk: int) -> HttpResponse:
    """Put a frame out of sight, or back."""
    frame = get_object_or_404(queries.frames_of(request.user), pk=pk)
    archive_or_restore(request, frame, frame.label, "plans, sets and jobs keep it")
    return redirect("frames:detail", pk=pk)


def detail(request: SignedIn, pk: int) -> HttpResponse:
    """One frame: its specs in the person's units, and what apps above hand in."""
    frame = get_object_or_404(queries.frames_with_fittings(request.user), pk=pk)
    context = {
        "frame": frame,
        "rows": spec_rows_of(frame, request.user, has_strips=True),
        "about": _about(frame, request.user.units.of_sport(frame.sport)),
        "missing": frame.measured.missing(),
        "panels": hooks.panels_of(frame, request.user),
    }
    return render(request, "frames/detail.html", context)


def _about(frame: Frame, units: Units) -> list[tuple[str, str]]:
    """What is known of a frame beside its specs, as term and text."""
    known = [
        ("Model", frame.model.name if frame.model else ""),
        ("Mark", frame.mark),
        ("Colour", frame.colour),
        ("Strings", f"{frame.mains} x {frame.crosses}" if frame.mains else ""),
        ("Handle", frame.get_handle_build_display() if frame.handle_build != "unknown" else ""),
        ("Grip", grip_size_text(frame.grip_mm) if frame.grip_mm else ""),
        ("Pallet", frame.pallet),
        (
            "Ceiling of static weight",
            f"{units.mass_text(frame.ceiling_g)} {units.mass}" if frame.ceiling_g else "",
        ),
        ("Stringing machine", frame.get_post_hold_display() if frame.post_hold != "unknown" else ""),
        ("Blocked on the rim", frame.blocked),
        ("Head", "usual, 100 in² (size not given)" if frame.has_usual_head else ""),
        ("Reported pain", frame.client.strain_text if frame.client else ""),
        ("Stiffness", "" if frame.stiffness is None else f"{frame.stiffness:g}"),
        ("Complaint", frame.complaint),
        ("Wishes", frame.wishes),
        ("Must not change", frame.must_keep),
        ("Notes", frame.notes),
    ]
    return [(term, text) for term, text in known if text]


@transaction.atomic
def edit(request: SignedIn, pk: int) -> HttpResponse:
    """Correct what is known of a frame; its readings stay as they are."""
    frame = row_to_edit(request, queries.frames_of(request.user), pk)
    form = FORM_OF[frame.sport](request.POST or None, user=request.user, frame=frame)
    if request.method == "POST" and form.is_valid():
        services.change_frame(
            frame, about=form.about, dimensions=form.dimensions, typed=form.typed_dimensions()
        )
        messages.success(request, f"{frame.label} is saved.")
        return redirect("frames:detail", pk=frame.pk)
    context = {"form": form, "frame": frame, "title": f"Edit {frame.label}"}
    return page(request, "frames/form.html", context)
