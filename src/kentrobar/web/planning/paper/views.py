"""What a plan hands out: the bench sheet, its drawing, its exchange file."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from kentrobar.web.kit.requests import context_of, handed_out
from kentrobar.web.planning.board.context import BoardView, board_view
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.paper import sheet
from kentrobar.web.planning.paper.files import export_plan
from kentrobar.web.planning.paper.picture import as_png, as_svg
from kentrobar.web.planning.paper.rim_ruler import rim_rulers
from kentrobar.web.planning.queries import plans_in_full
from kentrobar.web.planning.sensitivity import sensitivity_view
from kentrobar.web.shops.requests import SignedIn


@require_GET
def bench_sheet(request: SignedIn, pk: int) -> HttpResponse:
    """The bench sheet as a PDF, on A4 or US Letter; drawing and exchange file lie inside it."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    paper = sheet.paper_of(request.GET)
    board = board_view(plan, request.user)
    name = _file_name(plan)
    files = {f"{name}.svg": _drawn(board), f"{name}.json": _exported(plan)}
    context = context_of(board, sheet.sheet_view(board, paper, request.user))
    made = sheet.printed("planning/sheet.html", paper, context, files)
    return handed_out(made, "application/pdf", f"{name}-{paper}.pdf", inline=True)


@require_GET
def rim_ruler(request: SignedIn, pk: int) -> HttpResponse:
    """The rim ruler of a plan alone, at its true size, as a PDF."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    paper = sheet.paper_of(request.GET)
    board = board_view(plan, request.user)
    rulers = rim_rulers(board.state, board.shelf, board.units, usual=True)
    context = context_of(board, rulers=rulers, paper_name=sheet.PAPERS[paper], made_by=request.user)
    made = sheet.printed("planning/rim_ruler.html", paper, context)
    return handed_out(made, "application/pdf", f"{_file_name(plan)}-rim-ruler-{paper}.pdf", inline=True)


@require_GET
def sensitivity_card(request: SignedIn, frame_pk: int) -> HttpResponse:
    """What a gram does on one frame, as a card on one page of paper."""
    paper = sheet.paper_of(request.GET)
    view = sensitivity_view(request, frame_pk)
    name = slugify(f"{view.frame.label} a gram")
    made = sheet.printed("planning/sensitivity_card.html", paper, context_of(view, made_by=request.user))
    return handed_out(made, "application/pdf", f"{name}-{paper}.pdf", inline=True)


@require_GET
def picture(request: SignedIn, pk: int) -> HttpResponse:
    """The plan before and after as one picture to send, SVG or PNG; with names only where asked."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    board, is_named = board_view(plan, request.user), "named" in request.GET
    name = _file_name(plan) if is_named else "before-and-after"
    if request.GET.get("as") == "png":
        return handed_out(as_png(board, is_named=is_named), "image/png", f"{name}.png")
    return handed_out(as_svg(board, is_named=is_named), "image/svg+xml", f"{name}.svg")


@require_GET
def export(request: SignedIn, pk: int) -> HttpResponse:
    """The plan as a kentrobar/1 file."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    return handed_out(_exported(plan), "application/json", f"{_file_name(plan)}.json")


def _drawn(board: BoardView) -> str:
    """The drawing with its own style inside."""
    return render_to_string("planning/_drawing.html", context_of(board, drawing_style=sheet.drawing_style()))


def _exported(plan: Plan) -> str:
    return export_plan(plan).model_dump_json(indent=2, exclude_none=True)


def _file_name(plan: Plan) -> str:
    return slugify(f"{plan.frame.label} {plan.name}")[:80] or "plan"
