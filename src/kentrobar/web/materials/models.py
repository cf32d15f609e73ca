"""What weight is made of, as one shop has it on its shelf."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from kentrobar.core.editing.shelf import Stock
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, Estimate, Quantity
from kentrobar.core.weight.builds import USUAL_FITTINGS, Fitting, FittingKind
from kentrobar.core.weight.grip import THICKNESS_U_MM
from kentrobar.core.weight.materials import KINDS, Form, Hardness, KindFacts, MaterialKind, Undo
from kentrobar.web.kit.archive import Archivable
from kentrobar.web.kit.records import WrittenOnce

AMOUNT_UNITS = {Form.TAPE: "cm", Form.PUTTY: "g", Form.SLEEVE: "pieces", Form.ITEM: "pieces"}
MaterialKinds = models.TextChoices(  # type: ignore[call-overload]  # Django makes it from a mapping
    "MaterialKinds", {kind.name: (kind.value, facts.label) for kind, facts in KINDS.items()}
)


def kinds_of(*forms: Form) -> list[str]:
    """The kinds of material that are measured out in one of these ways."""
    return [kind.value for kind, facts in KINDS.items() if facts.form in forms]


class Material(Archivable):
    """A tape, a putty, a grip or a single thing of weight, as it lies on one shop's shelf.

    Amounts (``sold_amount``, ``left_amount``) are cm of a tape, g of a putty, pieces of the rest. What
    is typed beside the canonical value is kept.
    """

    class HardnessChoice(models.TextChoices):
        SOFT = Hardness.SOFT.value, "soft, follows any curve"
        BENDS = Hardness.BENDS.value, "bends with a little care"
        STIFF = Hardness.STIFF.value, "stiff, hardly bends into a channel"

    class UndoChoice(models.TextChoices):
        CLEAN = Undo.CLEAN.value, "comes off clean"
        LASTING = Undo.LASTING.value, "stays for good"
        TRIAL = Undo.TRIAL.value, "for trials only"

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="materials")
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=15, choices=MaterialKinds)
    g_per_cm = models.FloatField("weight per length, g/cm", null=True, blank=True)
    g_per_cm_u = models.FloatField("± of weight per length, g/cm", null=True, blank=True)
    density_g_cm3 = models.FloatField("density, g/cm³", null=True, blank=True)
    each_g = models.FloatField("weight of one, g", null=True, blank=True)
    each_u_g = models.FloatField("± of weight of one, g", null=True, blank=True)
    typed_density = models.JSONField("weight as typed", default=dict, blank=True)
    cuts = models.JSONField("weighed cuts, cm and g", default=list, blank=True)
    width_mm = models.FloatField("width, mm", null=True, blank=True)
    hardness = models.CharField(max_length=5, choices=HardnessChoice)
    undo = models.CharField("taking off", max_length=7, choices=UndoChoice)
    sold_amount = models.FloatField("amount in one package", null=True, blank=True)
    price = models.DecimalField("price of one package", max_digits=9, decimal_places=2, null=True, blank=True)
    left_amount = models.FloatField("amount left", null=True, blank=True)
    thickness_mm = models.FloatField("thickness, mm", null=True, blank=True)
    look = models.CharField(max_length=40, blank=True)
    note = models.CharField("what to mind", max_length=200, blank=True)
    order = models.PositiveSmallIntegerField(default=0)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order", "name"]
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="material_name_once_a_shop"),
            models.CheckConstraint(
                name="material_has_its_weight",
                condition=Q(kind__in=kinds_of(Form.TAPE), g_per_cm__gt=0, g_per_cm_u__gte=0)
                | Q(kind__in=kinds_of(Form.PUTTY), density_g_cm3__gt=0)
                | Q(kind__in=kinds_of(Form.SLEEVE, Form.ITEM), each_g__gt=0, each_u_g__gte=0),
            ),
            models.CheckConstraint(
                name="material_amounts_are_real",
                condition=Q(Q(sold_amount=None) | Q(sold_amount__gt=0))
                & Q(Q(left_amount=None) | Q(left_amount__gte=0))
                & Q(Q(price=None) | Q(price__gte=0)),
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def facts(self) -> KindFacts:
        """What holds of its kind, with what the shop says of this one."""
        of_kind = KINDS[MaterialKind(self.kind)]
        return of_kind._replace(hardness=Hardness(self.hardness), undo=Undo(self.undo))

    @property
    def form(self) -> Form:
        return self.facts.form

    @property
    def density(self) -> Estimate:
        """Grams per cm of a tape, with ±."""
        return Estimate(self.g_per_cm or 0.0, self.g_per_cm_u or 0.0)

    @property
    def unit(self) -> str:
        """What its amounts count."""
        return AMOUNT_UNITS[self.form]

    @property
    def stock(self) -> Stock:
        """The material as the rules know it."""
        return Stock(
            key=self.pk,
            name=self.name,
            kind=MaterialKind(self.kind),
            facts=self.facts,
            density=self.density,
            g_cm3=self.density_g_cm3 or 1.0,
            each_g=self.each_g or 0.0,
            width_mm=_amount(self.width_mm),
            thickness_mm=thickness(self.thickness_mm),
            sold=_amount(self.sold_amount),
            left=_amount(self.left_amount),
            unit_price=self._unit_price,
            is_archived=self.is_archived,
            look=self.look,
        )

    @property
    def _unit_price(self) -> Amount:
        """What one cm, g or piece costs, where the shop says so."""
        if self.price is None or not self.sold_amount:
            return NOT_MEASURED
        return float(self.price) / self.sold_amount

    @property
    def caution(self) -> str:
        """What to mind with it: the shop's own words, or those of its kind."""
        return self.note or self.facts.caution


def thickness(stored: float | None) -> Quantity:
    """A thickness as it was measured, mm; a ruler or a gauge tells it to a tenth."""
    return NOT_MEASURED if stored is None else Estimate(stored, THICKNESS_U_MM)


def _amount(stored: float | None) -> Amount:
    return NOT_MEASURED if stored is None else stored


class StockChange(WrittenOnce):
    """One change of what is left of a material: counted, bought, or cut for a plan."""

    class Why(models.TextChoices):
        COUNTED = "counted", "counted"
        BOUGHT = "bought", "bought"
        CUT = "cut", "cut"

    material = models.ForeignKey(Material, on_delete=models.CASCADE, related_name="stock_changes")
    amount = models.FloatField()
    left_after = models.FloatField()
    why = models.CharField(max_length=7, choices=Why)
    note = models.CharField(max_length=120, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey("shops.User", null=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.material_id}: {self.amount:+g}"


FittingKinds = models.TextChoices(  # type: ignore[call-overload]
    "FittingKinds", {kind.name: (kind.value, usual.label) for kind, usual in USUAL_FITTINGS.items()}
)


class Accessory(Archivable):
    """What one kind of strings, grip, cap or tape weighs in this shop.

    It starts at the usual weight of its kind; ``weighings_g`` are the shop's own and win.
    """

    shop = models.ForeignKey("shops.Shop", on_delete=models.PROTECT, related_name="accessories")
    kind = models.CharField(max_length=14, choices=FittingKinds)
    name = models.CharField(max_length=60)
    mass_g = models.FloatField("weight, g")
    mass_u_g = models.FloatField("± of weight, g")
    weighings_g = models.JSONField("own weighings, g", default=list)
    thickness_mm = models.FloatField("thickness, mm", null=True, blank=True)
    note = models.CharField("what is special about it", max_length=80, blank=True)
    typed = models.JSONField("as typed", default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["kind", "pk"]
        verbose_name_plural = "accessories"
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="accessory_name_once_a_shop"),
            models.CheckConstraint(
                name="accessory_weighs_something", condition=Q(mass_g__gt=0, mass_u_g__gte=0)
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def fitting(self) -> Fitting:
        """What the shop knows of one of it, by its own key."""
        return Fitting(
            key=self.pk,
            kind=FittingKind(self.kind),
            label=self.name,
            mass_g=Estimate(self.mass_g, self.mass_u_g),
            thickness_mm=thickness(self.thickness_mm),
        )
