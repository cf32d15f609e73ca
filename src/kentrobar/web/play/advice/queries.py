"""The rules of thumb that hold in a shop: those of the house, with the shop's own in their place."""

from __future__ import annotations

from typing import NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.play.advice import ADVICE, RuleOfThumb, rules_for
from kentrobar.web.play.models import ShopRule
from kentrobar.web.shops.models import User

OWN: str = "own-"  # how the keys of a shop's own rules begin


class HeldRule(NamedTuple):
    """A rule as the shop holds it; ``own`` is what it put in its place, ``rule`` None for one of its own."""

    key: str
    title: str
    says: tuple[str, ...]
    reason: str
    not_where: str
    rule: RuleOfThumb | None
    own: ShopRule | None

    @property
    def topic(self) -> str:
        return self.rule.topic.value if self.rule else "This shop's own"


def held_rules(user: User, sport: Sport | None = None) -> list[HeldRule]:
    """All rules of a sport, or of both, in the order of their topics, hidden ones left out."""
    return [each for each in all_rules(user, sport) if not (each.own and each.own.is_hidden)]


def all_rules(user: User, sport: Sport | None = None) -> list[HeldRule]:
    """The same with the hidden ones."""
    own = {each.key: each for each in ShopRule.objects.filter(shop=user.shop_id).select_related("changed_by")}
    rules = rules_for(sport) if sport else list(ADVICE.values())
    found = [_held(rule, own.get(rule.key)) for rule in rules]
    return found + [_own(each) for key, each in own.items() if key not in ADVICE]


def one_rule(user: User, key: str) -> HeldRule | None:
    """One of them by its key."""
    return next((each for each in all_rules(user) if each.key == key), None)


def _held(rule: RuleOfThumb, own: ShopRule | None) -> HeldRule:
    if own is None:
        return HeldRule(rule.key, rule.title, rule.says, rule.reason, rule.not_where, rule, None)
    says, reason, limits = tuple(own.says) or rule.says, own.reason, own.not_where
    return HeldRule(rule.key, own.title or rule.title, says, reason, limits, rule, own)


def _own(each: ShopRule) -> HeldRule:
    return HeldRule(each.key, each.title, tuple(each.says), each.reason, each.not_where, None, each)
