"""A frame at the timer: the method, its instruments, what was sent, and the page that shows it."""

from __future__ import annotations

from typing import NamedTuple

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.measuring import queries
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.timing.swing import METHODS, SwingForm, TimedFrame, TimedSwing
from kentrobar.web.shops.requests import SignedIn


class TimerLinks(NamedTuple):
    """Where the timer's page leads to: the app whose row ``pk`` is timed, and back.

    ``at`` says where the frame is; ``base`` is how many events the work at the bench has.
    """

    app: str
    pk: int
    back: str
    at: str = ""
    base: int | None = None

    def methods(self) -> list[tuple[str, str, str]]:
        """Key, name and address of each method."""
        return [(k, name, reverse(f"{self.app}:swing", args=[self.pk, k])) for k, name in METHODS.items()]

    def summary(self, method: str) -> str:
        """Where a page asks what its taps come to."""
        return reverse(f"{self.app}:swing_summary", args=[self.pk, method])


class Timer:
    """What is timed of a frame by one method. Raises Http404 for a method that there is not."""

    def __init__(self, request: SignedIn, of: TimedFrame, method: str) -> None:
        if method not in METHODS:
            raise Http404
        self.of, self.frame, self.method = of, of.frame, method
        self.instruments = [each for each in queries.in_use(request.user) if each.kind == method]
        self.instrument = self._chosen(request)
        learnt = queries.scatter_learnt_of(request.user)
        data, files = (request.POST, request.FILES) if request.method == "POST" else (None, None)
        self.form = SwingForm(data, files, method, of, self.instrument, learnt)
        is_timed = self.form.is_bound and self.form.is_valid()
        self.found = TimedSwing(of, method, self.form, self.instrument) if is_timed else None
        is_kept = bool(self.found and (not self.found.suspicion or request.POST.get("keep")))
        self.settled = self.found if self.found and self.found.answer and is_kept else None

    def _chosen(self, request: SignedIn) -> Instrument | None:
        """The instrument that is asked for; the first of the method where none is."""
        chosen = request.POST.get("instrument", request.GET.get("instrument", ""))
        if chosen:
            return next((each for each in self.instruments if str(each.pk) == chosen), None)
        return next(iter(self.instruments), None)

    @property
    def title(self) -> str:
        """The method by its name."""
        return METHODS[self.method]

    @property
    def missing(self) -> list[str]:
        """What must be read of the frame before a swing says anything."""
        measured = self.of.measured
        return [
            noun
            for noun, known in (("weight", measured.knows_mass), ("balance", measured.knows_balance))
            if not known and (noun == "weight" or self.method == "pendulum")
        ]

    @property
    def gravity(self) -> Estimate:
        """Of the shop's place, cm/s²."""
        return self.frame.shop.gravity_cms2

    def page(self, request: SignedIn, links: TimerLinks) -> HttpResponse:
        """The timer's page; what could not be kept is said on it."""
        context = {
            "timer": self,
            "frame": self.frame,
            "links": links,
            "methods": links.methods(),
            "summary_address": links.summary(self.method),
            "form": self.form,
            "found": self.found,
        }
        status = 422 if self.form.is_bound else 200
        return render(request, "measuring/swing.html", context, status=status)

    def summary(self, request: SignedIn) -> HttpResponse:
        """What the taps or the recording come to so far."""
        return render(request, "measuring/_swing.html", {"form": self.form, "found": self.found})
