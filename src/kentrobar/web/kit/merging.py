"""A form that two people may have open at once: what each of them changed is kept.

A page carries along what its fields showed. When it is sent, a field that was left alone takes what the row
holds by now, and one that was typed in takes what was typed. Where both were changed, to different values, the
person sees what the other one typed and decides: the same form sent once more puts theirs in its place.
"""

from __future__ import annotations

import json
from typing import Final, TypeVar

from django import forms
from django.db import models
from django.db.models import QuerySet
from django.http import HttpRequest, QueryDict
from django.shortcuts import get_object_or_404
from django.utils.html import format_html
from django.utils.safestring import SafeString

_Row = TypeVar("_Row", bound=models.Model)
_Texts = list[str]  # what a browser sends of one field

_TICKED: Final = ["on"]


def row_to_edit(request: HttpRequest, rows: QuerySet[_Row], pk: int) -> _Row:
    """The row that a page changes, or not found.

    While a change is sent the row is locked, so that two sent at once follow each other: the view is to be
    one transaction.
    """
    if request.method == "POST":
        rows = rows.select_for_update(of=("self",))
    return get_object_or_404(rows, pk=pk)


class MergedForm(forms.BaseForm):
    """A form of a row as it is now, which keeps what others changed of it since its page was made."""

    @property
    def _seen_name(self) -> str:
        return self.add_prefix(f"seen_{type(self).__name__.lower()}")

    @property
    def seen_field(self) -> SafeString:
        """The hidden field of what the others show, for the page's form."""
        shown = {name: self._now(name) for name in self.fields}
        return format_html('<input type="hidden" name="{}" value="{}">', self._seen_name, json.dumps(shown))

    def full_clean(self) -> None:
        clashes = self._merge() if self.is_bound else {}
        super().full_clean()
        for name, text in clashes.items():
            self.add_error(name, f"Somebody changed this to “{text}” meanwhile. Save again to keep yours.")

    def _merge(self) -> dict[str, str]:
        """Take what others changed into the data; the fields that both changed, with what stands there now."""
        if not isinstance(self.data, QueryDict) or self._seen_name not in self.data:
            return {}
        clashes, data = {}, self.data.copy()
        seen = _read_seen(str(data[self._seen_name]))
        for name in self.fields.keys() & seen.keys():
            before, now, sent = seen[name], self._now(name), self._sent(name, self.data)
            if sent is None or sent == before:
                self._put(name, now, data)
            elif now not in (before, sent):
                clashes[name] = self._text(name, now)
        self.data = data
        return clashes

    def _names(self, name: str) -> list[str]:
        """The names that a field's parts are sent under."""
        widget, html_name = self.fields[name].widget, self.add_prefix(name)
        if isinstance(widget, forms.MultiWidget):
            return [f"{html_name}_{i}" for i in range(len(widget.widgets))]
        return [html_name]

    def _now(self, name: str) -> _Texts:
        """What a browser would send of a field that nobody touched."""
        field = self.fields[name]
        widget, value = field.widget, field.prepare_value(self.get_initial_for_field(field, name))
        if isinstance(widget, forms.MultiWidget):
            parts = value if isinstance(value, list | tuple) else widget.decompress(value) or []
            texts = [_text_of(each, part) for each, part in zip(widget.widgets, parts, strict=False)]
            texts += [_text_of(each, None) for each in widget.widgets[len(texts) :]]
            return texts if texts[0] else []
        if isinstance(widget, forms.CheckboxInput):
            return list(_TICKED) if value else []
        if getattr(widget, "allow_multiple_selected", False):
            return sorted(map(str, value or []))
        return [_text_of(widget, value)]

    def _sent(self, name: str, data: QueryDict) -> _Texts | None:
        """What was sent of a field; None where the page did not show it."""
        widget, names = self.fields[name].widget, self._names(name)
        if isinstance(widget, forms.CheckboxInput):
            return list(_TICKED) if names[0] in data else []
        if getattr(widget, "allow_multiple_selected", False):
            return sorted(map(str, data.getlist(names[0])))
        if names[0] not in data:
            return None
        texts = [_plain(str(data.get(each, ""))) for each in names]
        return texts if texts[0] or len(texts) == 1 else []

    def _put(self, name: str, texts: _Texts, data: QueryDict) -> None:
        """Let a field be sent with these texts."""
        names = self._names(name)
        parts = [texts] if len(names) == 1 else [[text] for text in texts or [""] * len(names)]
        for html_name, part in zip(names, parts, strict=True):
            data.setlist(html_name, part)

    def _text(self, name: str, texts: _Texts) -> str:
        """What stands in a field now, as a person reads it."""
        field = self.fields[name]
        if isinstance(field.widget, forms.CheckboxInput):
            return "yes" if texts else "no"
        titles = dict(getattr(field, "choices", ()))
        return " ".join(str(titles.get(each, each)) for each in texts if each) or "nothing"


def _read_seen(text: str) -> dict[str, _Texts]:
    try:
        seen = json.loads(text or "{}")
    except (ValueError, RecursionError):
        return {}
    return seen if isinstance(seen, dict) else {}


def _text_of(widget: forms.Widget, value: object) -> str:
    """What a plain field sends while it shows a value; a choice of one sends its first where none is chosen."""
    found = widget.format_value(value)
    text = str(found[0]) if isinstance(found, list | tuple) and found else str(found or "")
    if isinstance(widget, forms.Select) and not isinstance(widget, forms.RadioSelect):
        offered = [str(key) for key, _ in widget.choices]
        return text if text in offered or not offered else offered[0]
    return _plain(text)


def _plain(text: str) -> str:
    """A text without what a browser changes by itself: line ends, and space around it."""
    return text.replace("\r\n", "\n").strip()
