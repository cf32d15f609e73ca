"""Sets: the list, the page of one, and what is done with it."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.set_targets import PRESETS
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.web.frames.queries import frames_of, shelf_of_accessories
from kentrobar.web.kit.archive import IN_USE, archive_or_restore, in_use_or_archived, shows_archive
from kentrobar.web.kit.requests import context_of, handed_out, one_of, page, read_count
from kentrobar.web.kit.searches import ask
from kentrobar.web.matching import dragging, services
from kentrobar.web.matching import paper as paper_sheet
from kentrobar.web.matching.change_all import ChangeAllForm
from kentrobar.web.matching.files import export_set, require_own_labels
from kentrobar.web.matching.forms import MemberPositionsForm, SetForm
from kentrobar.web.matching.models import FrameSet, SetMember
from kentrobar.web.matching.queries import sets_in_full, sets_listed, sets_of
from kentrobar.web.matching.searching import SetProblem, SetSearches
from kentrobar.web.matching.set_view import Shown, set_view
from kentrobar.web.matching.tables import set_table
from kentrobar.web.planning.paper.sheet import paper_of
from kentrobar.web.shops.requests import SignedIn

USUAL_WAYS = (SetWay.LEAST, SetWay.MOST_RELIABLE, SetWay.SAME_LOOK)


@require_GET
def set_list(request: SignedIn) -> HttpResponse:
    """All sets of the shop."""
    is_archive = shows_archive(request)
    sets = in_use_or_archived(sets_listed(request.user), is_archive=is_archive)
    return render(request, "matching/list.html", {"sets": sets, "is_archive": is_archive})


@require_POST
def create(request: SignedIn) -> HttpResponse:
    """Make a set of the frames marked in the list, or add them to one, and go to its page."""
    wanted = [read_count(pk) for pk in request.POST.getlist("frame")]
    frames = list(frames_of(request.user).filter(pk__in=wanted))
    try:
        made = services.create_set(frames, request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("frames:list")
    return redirect("matching:set", pk=made.pk)


def set_page(request: SignedIn, pk: int) -> HttpResponse:
    """One set: its frames, its target, what was found; a change of what is asked is taken here too."""
    shown = _shown(request, pk)
    if request.method == "POST":
        form = set_form(request, shown)
        if form.is_valid():
            return _ask(request, shown.of, form)
    else:
        form = set_form(request, shown)
    return page(request, "matching/set.html", context_of(set_view(shown), form=form))


def _ask(request: SignedIn, of: FrameSet, form: SetForm) -> HttpResponse:
    try:
        services.ask(of, form.cleaned_data["base"], **form.values())
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("matching:set", pk=of.pk)
    if "search" in request.POST:
        return _search(request, of.pk, USUAL_WAYS)
    return redirect("matching:set", pk=of.pk)


@require_POST
def add(request: SignedIn, pk: int) -> HttpResponse:
    """Take more frames into a set."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    wanted = [read_count(key) for key in request.POST.getlist("frame")]
    try:
        services.add_frames(of, list(frames_of(request.user).filter(pk__in=wanted)))
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("matching:set", pk=pk)


@require_POST
def preset(request: SignedIn, pk: int) -> HttpResponse:
    """Take tolerances to start from."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    chosen = PRESETS.get(request.POST.get("preset", ""))
    if chosen:
        typed = {name: v for name, v in of.typed.items() if not name.startswith("within_")}
        target = of.target.with_tolerances(chosen.tolerances)
        services.ask(of, of.version, target=target, typed=typed)
    return redirect("matching:set", pk=pk)


@require_POST
def widen(request: SignedIn, pk: int) -> HttpResponse:
    """Allow one spec more than before."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    try:
        wider = dragging.read_target(request.POST.dict())
    except KentrobarError as error:
        messages.error(request, error.message)
    else:
        services.widen(of, wider)
    return redirect("matching:set", pk=pk)


@require_POST
def leave_out(request: SignedIn, pk: int, frame_pk: int) -> HttpResponse:
    """Leave a frame out of what is planned, or take it back in."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    services.leave_out(of, frame_pk, request.POST.get("out") == "1")
    return redirect("matching:set", pk=pk)


def places(request: SignedIn, pk: int, frame_pk: int) -> HttpResponse:
    """Where weight may lie on one frame of a set."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    member = get_object_or_404(SetMember.objects.select_related("frame"), set=of, frame=frame_pk)
    form = MemberPositionsForm(request.POST if request.method == "POST" else None, member=member)
    if form.is_valid():
        services.allow(of, frame_pk, form.allowed)
        return redirect("matching:set", pk=pk)
    context = {"set": of, "frame": member.frame, "form": form}
    return page(request, "matching/places.html", context)


def change_all(request: SignedIn, pk: int) -> HttpResponse:
    """Change all frames of a set at once: what they share, a grip, a dampener, strings."""
    shown = _shown(request, pk)
    frames = [each.frame for each in shown.frames]
    shelf = list(shelf_of_accessories(request.user))
    form = ChangeAllForm(request.POST or None, frames=frames, shelf=shelf)
    if request.method == "POST" and form.is_valid():
        services.change_all(
            frames,
            known=form.known(),
            off=form.cleaned_data["off"],
            on=form.accessory,
            strings=form.strings(),
        )
        messages.success(request, f"Changed on all {len(frames)} frames.")
        return redirect("matching:set", pk=pk)
    return page(request, "matching/change_all.html", {"set": shown.of, "form": form})


@require_POST
def archive(request: SignedIn, pk: int) -> HttpResponse:
    """Put a set out of sight, or back."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    archive_or_restore(request, of, f"“{of.name}”", "its frames and plans stay as they are")
    return redirect("matching:list")


@require_POST
def rename(request: SignedIn, pk: int) -> HttpResponse:
    """Call a set something else."""
    services.rename(get_object_or_404(sets_of(request.user), pk=pk), request.POST.get("name", ""))
    return redirect("matching:set", pk=pk)


# -- the target in the hand ----------------------------------------------------------------


@require_GET
def costs(request: SignedIn, pk: int) -> JsonResponse:
    """What a target under the hand would cost each frame."""
    try:
        found = dragging.costs(request.user, pk, dragging.read_target(request.GET.dict()))
    except KentrobarError as error:
        return JsonResponse({"error": error.message}, status=422)
    return JsonResponse(found or {}, status=200 if found else 404)


@require_POST
def aim_at(request: SignedIn, pk: int) -> HttpResponse:
    """Take the target that the hand let go of."""
    of = get_object_or_404(sets_of(request.user), pk=pk)
    try:
        services.aim_at(of, dragging.read_target(request.POST.dict()))
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("matching:set", pk=pk)


# -- plans -----------------------------------------------------------------------------------


@require_POST
def search(request: SignedIn, pk: int) -> HttpResponse:
    """Have plans looked for in the ways that are asked for, the usual ones where none is."""
    chosen = [one_of(SetWay, key) for key in request.POST.getlist("way")]
    return _search(request, pk, chosen or USUAL_WAYS)


def _search(request: SignedIn, pk: int, ways: Sequence[SetWay]) -> HttpResponse:
    shown = _shown(request, pk)
    try:
        problem = SetProblem(shown.of, shown.frames, shown.shelf)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("matching:set", pk=pk)
    ask(SetSearches.name, pk, problem.ask(ways), request.user)
    return HttpResponseRedirect(f"{reverse('matching:set', args=[pk])}#plans")


@require_POST
def lay(request: SignedIn, pk: int, search_pk: int) -> HttpResponse:
    """Lay what a search found on the boards of all frames; nothing is solved again."""
    shown = _shown(request, pk)
    found = next((each for each in shown.searches() if each.pk == search_pk), None)
    if found is None or not found.result:
        messages.error(request, "The set was changed or measured since this search. Search again.")
        return redirect("matching:set", pk=pk)
    by_pk = {each.frame.pk: each.frame for each in shown.ready}
    laying = services.lay(
        shown.of,
        request.user,
        way=found.part,
        title=WAYS[SetWay(found.part)].title,
        target=found.result["target"],
        pieces=[(by_pk[f["frame"]], read_pieces(f["pieces"])) for f in found.result["frames"]],
    )
    messages.success(
        request, f"{laying.plans.count()} plans are ready. Print the set sheet, or open each board."
    )
    return redirect("matching:set", pk=pk)


# -- on paper and as a table ---------------------------------------------------------------


@require_GET
def sheet(request: SignedIn, pk: int) -> HttpResponse:
    """The set sheet: before, target, after; what is cut for all; then the bench sheet of each frame."""
    shown = _shown(request, pk)
    if not services.plans_applied(shown.of):
        messages.error(request, "Plan this set first; the sheet shows its plans.")
        return redirect("matching:set", pk=pk)
    paper = paper_of(request.GET)
    response = HttpResponse(paper_sheet.set_sheet(shown, paper), content_type="application/pdf")
    name = slugify(shown.of.name) or "set"
    response["Content-Disposition"] = f'inline; filename="{name}-{paper}.pdf"'
    return response


@require_GET
def file(request: SignedIn, pk: int) -> HttpResponse:
    """The set as a kentrobar/1 file."""
    shown = _shown(request, pk)
    try:
        require_own_labels(shown.ready)
        document = export_set(shown)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("matching:set", pk=pk)
    text = document.model_dump_json(indent=2, exclude_none=True, by_alias=True)
    return handed_out(text, "application/json", f"{slugify(shown.of.name) or 'set'}.json")


@require_GET
def table(request: SignedIn, pk: int) -> HttpResponse:
    """The set as CSV: a row a frame, units in the header."""
    shown = _shown(request, pk)
    name = f"{slugify(shown.of.name) or 'set'}.csv"
    return handed_out(set_table(shown), "text/csv; charset=utf-8", name)


def _shown(request: SignedIn, pk: int) -> Shown:
    return Shown(get_object_or_404(sets_in_full(request.user), pk=pk), request.user)


def set_form(request: SignedIn, shown: Shown) -> SetForm:
    """The form of what is asked of a set, as sent or as it stands."""
    others = list(sets_of(request.user).exclude(pk=shown.of.pk).filter(IN_USE)[:100])
    return SetForm(
        request.POST if request.method == "POST" else None,
        of=shown.of,
        frames=[each.frame for each in shown.frames],
        others=others,
        shelf=shown.shelf,
        units=shown.units,
    )
