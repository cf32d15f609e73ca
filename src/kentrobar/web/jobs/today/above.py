"""What an app above hands in for the home page of a shop that has nothing yet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from kentrobar.web.shops.models import User

_forms: list[Callable[[User], Any]] = []


def offer_first_form(make: Callable[[User], Any]) -> None:
    """Have this form stand on the home page of an empty shop."""
    _forms.append(make)


def first_form(user: User) -> Any:
    """The form of the first steps, None where no app offers one."""
    return _forms[0](user) if _forms else None
