"""Every write of people and shops."""

from __future__ import annotations

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.shops.models import Client, Shop


class AmbiguousNameError(KentrobarError):
    """A typed name fits several records and is none of them to the letter."""


def the_one_named(names: list[str], typed: str) -> str:
    """The name that is meant: the very one typed, or the only one that differs in capitals; empty for none.

    Raises:
        AmbiguousNameError: several differ from it in capitals only.
    """
    if typed in names:
        return typed
    if len(names) > 1:
        raise AmbiguousNameError(
            f"“{typed}” fits {' and '.join(f'“{name}”' for name in names)}; type it as one of them is "
            "written.",
            code="ambiguous_name",
        )
    return names[0] if names else ""


def client_named(shop: Shop, name: str) -> Client | None:
    """The shop's client of this name, a new one where there is none; None for no name.

    Raises:
        AmbiguousNameError: several are called so but for capitals.
    """
    plain = " ".join(name.split())
    if not plain:
        return None
    alike = list(Client.objects.filter(shop=shop, name__iexact=plain))
    meant = the_one_named([client.name for client in alike], plain)
    known = next((client for client in alike if client.name == meant), None)
    return known or Client.objects.create(shop=shop, name=plain)
