"""Every write of a shop's own rules of thumb."""

from __future__ import annotations

import secrets
from typing import Any

from django.db import transaction

from kentrobar.web.kit.records import write
from kentrobar.web.play.advice.queries import OWN
from kentrobar.web.play.models import ShopRule
from kentrobar.web.shops.models import User


@transaction.atomic
def keep_rule(by: User, key: str, **values: Any) -> ShopRule:
    """Put a rule in the place of that of this key, or add one of the shop's own where there is no key."""
    key = key or f"{OWN}{secrets.token_hex(6)}"
    rule, _ = ShopRule.objects.get_or_create(shop=by.own_shop, key=key)
    write(rule, **values, changed_by=by)
    return rule


@transaction.atomic
def drop_rule(by: User, key: str) -> None:
    """Back to the house's rule; one of the shop's own is gone."""
    ShopRule.objects.filter(shop=by.shop_id, key=key).delete()
