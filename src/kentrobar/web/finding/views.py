"""Search, tables to take out, readings to bring in."""

from __future__ import annotations

from django.contrib import messages
from django.core import signing
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.exchange.tables import write_table
from kentrobar.web.finding.files import MOST_FRAMES, frames_document
from kentrobar.web.finding.forms import ReadingsForm
from kentrobar.web.finding.queries import found, found_frames
from kentrobar.web.finding.reading_in import carried_as, lines_of, record_signed
from kentrobar.web.finding.search_form import SearchForm
from kentrobar.web.finding.tables import TABLES
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.requests import handed_out, page
from kentrobar.web.shops.requests import SignedIn


@require_GET
def search(request: SignedIn) -> HttpResponse:
    """Over everything, by words, ranges of specs, materials and days."""
    form = SearchForm(request.GET or None, units=request.user.units)
    groups = None
    if form.is_bound and form.is_valid() and not form.is_empty:
        groups = found(request.user, form, request.user.units)
    status = 422 if form.is_bound and form.errors else 200
    query = request.GET.urlencode()
    context = {"form": form, "groups": groups, "query": query}
    return render(request, "finding/search.html", context, status=status)


@require_GET
def files(request: SignedIn) -> HttpResponse:
    """What can be brought in and taken out."""
    return render(request, "finding/files.html", {"tables": TABLES})


@require_GET
def table(request: SignedIn, name: str) -> HttpResponse:
    """A table of the shop as CSV; of frames those that a search finds."""
    if name not in TABLES:
        raise Http404
    chosen, rows = TABLES[name], TABLES[name].rows(request.user)
    form = SearchForm(request.GET or None, units=request.user.units)
    if name == "frames" and form.is_bound and form.is_valid():
        keys = found_frames(request.user, form).order_by().values("pk")
        rows = frames_of(request.user).filter(pk__in=keys)
    written = write_table(chosen.heads, (chosen.written(row) for row in rows))
    return handed_out(written, "text/csv; charset=utf-8", f"kentrobar-{name}.csv")


@require_GET
def frames_file(request: SignedIn) -> HttpResponse:
    """The frames that a search finds as one kentrobar/1 document."""
    form = SearchForm(request.GET or None, units=request.user.units)
    frames = frames_of(request.user).filter(specs__isnull=False)
    if form.is_bound and form.is_valid():
        frames = frames.filter(pk__in=found_frames(request.user, form).order_by().values("pk"))
    chosen = list(frames[: MOST_FRAMES + 1])
    if not 1 <= len(chosen) <= MOST_FRAMES:
        messages.error(request, f"A document holds 1 to {MOST_FRAMES} frames that were read; search first.")
        return redirect("finding:search")
    document = frames_document(chosen).model_dump_json(indent=2, exclude_none=True)
    return handed_out(document, "application/json", "kentrobar-frames.json")


def read_in(request: SignedIn) -> HttpResponse:
    """Import readings: first shown row by row, then recorded."""
    form = ReadingsForm(request.POST or None, request.FILES or None)
    context: dict[str, object] = {"form": form}
    if request.method == "POST" and form.is_valid():
        build, axis_cm = form.cleaned_data["build"], form.cleaned_data["axis"].base
        try:
            lines = lines_of(request.user, form.cleaned_data["text"], build, axis_cm)
        except KentrobarError as error:
            form.add_error("text", error.message)
        else:
            sound = [line for line in lines if not line.problem]
            context |= {"lines": lines, "sound": len(sound), "carried": carried_as(lines, build, axis_cm)}
            return render(request, "finding/read_in.html", context)
    return page(request, "finding/read_in.html", context)


@require_POST
def record(request: SignedIn) -> HttpResponse:
    """Record the readings that were shown."""
    try:
        count = record_signed(request.user, request.POST.get("carried", ""))
    except signing.BadSignature:
        messages.error(request, "This preview has expired. Send the table again.")
        return redirect("finding:read_in")
    messages.success(request, f"The readings of {count} frame{'s' if count != 1 else ''} are recorded.")
    return redirect("frames:list")
