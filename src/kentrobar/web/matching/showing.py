"""What the page of a set is given."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.web.frames.queries import frames_in_use
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.searches import in_order, known, list_context
from kentrobar.web.matching import cards, picture, presenting, services
from kentrobar.web.matching.forms import SetForm
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.prepared import PreparedFrame, prepared_frames
from kentrobar.web.matching.searching import SetProblem, SetSearches
from kentrobar.web.matching.targets import given_target, start_of_drag, target_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.shops.models import User

MOST_ADDABLE = 200


class Shown:
    """A set with its frames as one person looks at it; what is derived is worked out once."""

    def __init__(self, of: FrameSet, user: User) -> None:
        self.of, self.user = of, user

    @cached_property
    def frames(self) -> list[PreparedFrame]:
        return prepared_frames(self.of)

    @cached_property
    def ready(self) -> list[PreparedFrame]:
        return [each for each in self.frames if each.is_ready]

    @cached_property
    def shelf(self) -> Shelf:
        return shelf_of(self.user)

    @cached_property
    def searchable(self) -> SetProblem | None:
        """The set as it is planned; None where it cannot be."""
        try:
            return SetProblem(self.of, self.frames, self.shelf)
        except KentrobarError:
            return None

    def searches(self) -> list[Search]:
        """What was searched for the set as it is now."""
        if self.searchable is None:
            return []
        return known(SetSearches.name, self.of.pk, self.searchable.ask(list(SetWay)), self.user)


def set_context(shown: Shown, form: SetForm) -> dict[str, Any]:
    """What the page of a set is given."""
    of, user = shown.of, shown.user
    problem = ""
    try:
        target = given_target(of, shown.ready) or {}
        target_of(of, shown.ready)
    except KentrobarError as error:
        target, problem = {}, error.message
    start = start_of_drag(of, shown.ready)
    reach = of.target.tolerances
    searches = shown.searches()
    rule = user.own_shop.felt_rule
    asked = {each.part for each in searches}
    waiting = [cards.waiting_card(each, user.units) for each in searches]
    found = cards.answered(waiting, of, shown.ready, shown.shelf, user.units)
    first, laying = shown.frames[0].frame, next(iter(of.layings.all()), None)
    return {
        "set": of,
        "form": form,
        "units": user.units,
        "problem": problem,
        "specs": presenting.set_specs(of, user.units),
        "rows": presenting.rows(of, shown.frames, target, user.units, rule),
        "spreads": presenting.spreads(of, shown.ready, user.units),
        "differences": presenting.differing(shown.frames, user.units),
        "has_target": bool(target),
        "pictures": picture.pictures(shown.frames, start, reach, user.units, first.length_cm),
        "start": start,
        "presets": presenting.presets(),
        "alike_sentence": presenting.alike_sentence(of),
        **list_context(searches, in_order(found)),
        "further_ways": [
            (way.value, told.title, told.reason) for way, told in WAYS.items() if way.value not in asked
        ],
        "plans": services.plans_laid(of),
        "laying": laying,
        "laid_target": presenting.target_shown(laying.target.centres, first, user.units) if laying else [],
        "addable": frames_in_use(user)
        .filter(sport=first.sport, specs__isnull=False)
        .exclude(pk__in=[each.frame.pk for each in shown.frames])
        .values_list("pk", "label", "client__name")[:MOST_ADDABLE],
        "is_ready": len(shown.ready) > 1 and not problem,
    }
