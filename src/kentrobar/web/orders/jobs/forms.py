"""What is agreed with a client."""

from __future__ import annotations

from typing import Any

from django import forms
from django.db.models import QuerySet

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_in_use
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.queries import sets_of
from kentrobar.web.orders.models import Job
from kentrobar.web.shops.models import User

MOST_OF_A_CLIENT = 40


class JobForm(MergedForm, forms.ModelForm):
    """Brief, for whom, by when; the frames of a new job too."""

    client = forms.CharField(label="Client", max_length=80, required=False)

    class Meta:
        model = Job
        fields = (
            "brief",
            "promised_on",
            "bench_on",
            "minutes",
            "waiting_for",
            "price_material",
            "price_time",
            "notes",
        )
        labels = {
            "brief": "Brief",
            "minutes": "Minutes at the bench",
            "waiting_for": "Waiting for",
            "price_material": "Price of the material",
            "price_time": "Price of the work",
        }
        help_texts = {
            "minutes": "Left empty: from the plans.",
            "waiting_for": "Parts or an answer. The job waits until you clear it.",
        }
        widgets = {
            "promised_on": forms.DateInput({"type": "date"}, "%Y-%m-%d"),
            "bench_on": forms.DateInput({"type": "date"}, "%Y-%m-%d"),
            "notes": forms.Textarea({"rows": 3}),
            "brief": forms.TextInput({"placeholder": "Make the two play alike"}),
        }

    def __init__(self, data: Sent = None, *, user: User, **options: Any) -> None:
        super().__init__(data, **options)
        self.user = user
        self.fields["client"].widget.attrs |= {"list": "clients", "autocomplete": "off"}
        if self.instance.client:
            self.initial["client"] = self.instance.client.name
        self.order_fields(["client", *self.Meta.fields])
        for name in ("price_material", "price_time", "minutes"):
            self.fields[name].widget.attrs |= {"inputmode": "decimal", "min": "0"}
        for name in ("promised_on", "bench_on"):
            self.fields[name].widget.attrs["class"] = "form-control"
        style_fields(self)
        for name in ("price_material", "price_time"):
            self.fields[name].label = f"{self.fields[name].label}, {user.own_shop.currency}"

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        for name in ("price_material", "price_time"):
            price = cleaned.get(name)
            if price is not None and price < 0:
                self.add_error(name, "A price is 0 or more.")

    def about(self) -> dict[str, Any]:
        """What was agreed, by field."""
        return {
            name: self.cleaned_data[name] for name in ("client", *self.Meta.fields) if name in self.fields
        }

    def refuse(self, error: KentrobarError) -> None:
        """Say at the client's name why it cannot be taken."""
        self.add_error("client", error.message)


class NewJobForm(JobForm):
    """A new job: little is asked, the rest may be said later."""

    frames = forms.ModelMultipleChoiceField(
        Frame.objects.none(), required=False, widget=forms.CheckboxSelectMultiple, label="Frames"
    )
    of = forms.ModelChoiceField(FrameSet.objects.none(), required=False, label="Or all of a set")

    def __init__(
        self, data: Sent = None, *, user: User, client: str, marked: list[str], **options: Any
    ) -> None:
        super().__init__(data, user=user, **options)
        for name in ("minutes", "waiting_for", "price_material", "price_time"):
            del self.fields[name]
        mine = frames_in_use(user)
        frames, sets = self.fields["frames"], self.fields["of"]
        assert isinstance(frames, forms.ModelMultipleChoiceField)  # noqa: S101 - as declared above
        assert isinstance(sets, forms.ModelChoiceField)  # noqa: S101 - as declared above
        frames.queryset = mine
        frames.choices = [(each.pk, str(each)) for each in offered(mine, client, marked)]
        sets.queryset = sets_of(user).filter(IN_USE)
        self.initial = {**self.initial, "frames": marked, "client": client}
        style_fields(self)


def offered(mine: QuerySet[Frame], client: str, marked: list[str]) -> list[Frame]:
    """The frames to tick: those that were marked, and those of the client."""
    keys = [int(key) for key in marked if key.isascii() and key.isdigit() and len(key) < 19]
    found = list(mine.filter(pk__in=keys)) if keys else []
    if client:
        found += mine.filter(client__name__iexact=client).exclude(pk__in=keys)[:MOST_OF_A_CLIENT]
    return found


class PhotoForm(forms.Form):
    """A photo of a job."""

    photo = forms.FileField(label="Photo", widget=forms.ClearableFileInput({"accept": "image/*"}))
    caption = forms.CharField(label="What it shows", max_length=120, required=False)

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        style_fields(self)
        self.fields["photo"].widget.attrs["class"] = "form-control"
