"""The frames of the shop."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django_tables2 import RequestConfig

from kentrobar.core.errors import KentrobarError
from kentrobar.core.outline import Sport, outline_of
from kentrobar.core.plans import predict
from kentrobar.exchange.documents import LARGEST_DOCUMENT_BYTES
from kentrobar.web.frames import queries, services
from kentrobar.web.frames.forms import FORM_OF, FrameForm, ImportForm
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.tables import FrameTable
from kentrobar.web.kit.numbers import beside_balance, shown_specs
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.imports import import_plan
from kentrobar.web.planning.queries import plans_of


def frame_list(request: HttpRequest) -> HttpResponse:
    """All frames, searched as one types."""
    found = queries.FrameFilter(request.GET, queryset=queries.listed(request.user))
    table = FrameTable(found.qs, request=request)
    RequestConfig(request).configure(table)
    whole_page = not request.htmx or request.htmx.boosted
    template = "frames/list.html" if whole_page else "frames/_table.html"
    return render(request, template, {"filter": found, "table": table})


def detail(request: HttpRequest, pk: int) -> HttpResponse:
    """One frame: its specs in the person's units, its readings, its plans."""
    frame = get_object_or_404(queries.frames_of(request.user), pk=pk)
    axis_cm = frame.measured.axis_cm
    specs = predict(frame.measured, [], length_cm=frame.length_cm, axis_cm=axis_cm).before
    units = request.user.units
    shown = [
        (spec, spec.value(getattr(specs, spec.key)), spec.spread(getattr(specs, spec.key)))
        for spec in shown_specs(units)
    ]
    context = {
        "frame": frame,
        "shown": shown,
        "axis_cm": axis_cm,
        "beside_balance": beside_balance(specs, units),
        "about": _about(frame),
        "missing": frame.measured.missing(),
        "sheets": frame.spec_sheets.select_related("taken_by")[:20],
        "plans": plans_of(request.user).filter(frame=frame),
    }
    return render(request, "frames/detail.html", context)


def _about(frame: Frame) -> list[tuple[str, str]]:
    """What is known of a frame beside its specs, as term and text."""
    said = [
        ("Model", frame.model.name if frame.model else ""),
        ("Mark", frame.mark),
        ("Colour", frame.colour),
        ("Strings", f"{frame.mains} x {frame.crosses}" if frame.mains else ""),
        ("Handle", frame.get_handle_build_display() if frame.handle_build != "unknown" else ""),
        (
            "Stringing machine",
            frame.get_post_hold_display() if frame.post_hold != "unknown" else "",
        ),
        ("Blocked on the rim", frame.blocked),
        ("Complaint", frame.complaint),
        ("Wishes", frame.wishes),
        ("Must not change", frame.must_keep),
        ("Notes", frame.notes),
    ]
    return [(term, text) for term, text in said if text]


def create(request: HttpRequest, sport: str) -> HttpResponse:
    """Take a new frame in."""
    form = FORM_OF[sport](request.POST or None, units=request.user.units)
    if request.method == "POST" and form.is_valid():
        frame = services.create_frame(
            request.user.shop,
            about=form.about,
            dimensions=form.dimensions,
            typed=form.typed_dimensions(),
        )
        services.record_specs(
            frame, form.measured, form.cleaned_data["build"], form.typed_specs(), request.user
        )
        messages.success(request, f"{frame.label} is saved.")
        return redirect("frames:detail", pk=frame.pk)
    return _form_page(request, form, {"sport": sport})


def edit(request: HttpRequest, pk: int) -> HttpResponse:
    """Correct a frame; changed readings become a new sheet."""
    frame = get_object_or_404(queries.frames_of(request.user), pk=pk)
    form = FORM_OF[frame.sport](request.POST or None, units=request.user.units, frame=frame)
    if request.method == "POST" and form.is_valid() and _plans_fit(frame, form):
        services.change_frame(
            frame, about=form.about, dimensions=form.dimensions, typed=form.typed_dimensions()
        )
        build = form.cleaned_data["build"]
        if not frame.specs or build != frame.specs.build or form.was_reread(frame.specs.typed):
            services.record_specs(frame, form.measured, build, form.typed_specs(), request.user)
        messages.success(request, f"{frame.label} is saved.")
        return redirect("frames:detail", pk=frame.pk)
    return _form_page(request, form, {"frame": frame, "sport": frame.sport})


def _plans_fit(frame: Frame, form: FrameForm) -> bool:
    """Whether the plans on the frame still fit its new dimensions; else the form says which not."""
    outline = outline_of(form.dimensions)
    try:
        for plan in frame.plans.select_related("frame"):
            Board.of(plan).require_fit(outline, form.measured)
    except KentrobarError as error:
        form.add_error(None, error.message)
        return False
    return True


def _form_page(request: HttpRequest, form: object, context: dict) -> HttpResponse:
    status = 422 if request.method == "POST" else 200
    racket = context["sport"] == Sport.TENNIS
    context |= {"form": form, "noun": "racket" if racket else "paddle"}
    return render(request, "frames/form.html", context, status=status)


def import_file(request: HttpRequest) -> HttpResponse:
    """Read a kentrobar/1 file into a frame with a plan."""
    form = ImportForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        try:
            data = form.cleaned_data["file"].read(LARGEST_DOCUMENT_BYTES + 1)
            plan = import_plan(request.user, data)
        except KentrobarError as error:
            form.add_error("file", error.message)
        else:
            messages.success(request, f"{plan.frame.label} is read in, with its plan.")
            return redirect("planning:board", pk=plan.pk)
    status = 422 if request.method == "POST" else 200
    return render(request, "frames/import.html", {"form": form}, status=status)
