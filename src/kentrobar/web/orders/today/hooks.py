"""What an app above hands in for the home page of a shop that has nothing yet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

from kentrobar.web.kit.hooks import Hook
from kentrobar.web.shops.models import User

FIRST_FORM: Final[Hook[Callable[[User], Any]]] = Hook()


def first_form(user: User) -> Any:
    """The form of the first steps, None where no app offers one."""
    return next((make(user) for make in FIRST_FORM), None)
