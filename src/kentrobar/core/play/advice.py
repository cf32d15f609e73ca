"""Rules of thumb for what suits whom: starting points, each with its reason and where it does not hold.

They are customs of the trade in this project's own words and figures, nothing that was measured; a shop puts
its own in their place. Where schools differ, each has its say. Some are tried on the frame at hand: so much
weight at a place, whose effect is computed and stands beside them. Quantities stand in square brackets, so
that everybody reads them in their own units.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.sites import sites_of
from kentrobar.core.play.what_if import with_weight_at


class Topic(StrEnum):
    """What a rule of thumb is about, in the order in which they are read."""

    START = "Starting points by aim"
    STEPS = "Small steps first"
    WEIGHT = "How heavy, and where it balances"
    SPREAD = "Where the weight goes"
    TWIST = "How much twist weight"
    MEANS = "Which frame, which material"


class Dose(NamedTuple):
    """So much weight at a named site, half of it on either side."""

    grams: float
    site: str


@dataclass(frozen=True)
class RuleOfThumb:
    """What is advised, by one school or by several; why; where it does not hold.

    ``tried`` are the doses, by sport, that show on a frame what it is about; ``shows`` are keys of specs of
    the frame that belong beside it; ``looks_low``: so does what a ball low on the face meets. ``sport`` is
    that of which it speaks; None: both.
    """

    key: str
    topic: Topic
    title: str
    says: tuple[str, ...]
    reason: str
    not_where: str
    tried: Mapping[Sport, tuple[Dose, ...]] = field(default_factory=dict)
    shows: tuple[str, ...] = ()
    looks_low: bool = False
    sport: Sport | None = None


def _doses(racket: tuple[Dose, ...], paddle: tuple[Dose, ...]) -> Mapping[Sport, tuple[Dose, ...]]:
    return MappingProxyType({Sport.TENNIS: racket, Sport.PICKLEBALL: paddle})


ADVICE: Final[Mapping[str, RuleOfThumb]] = MappingProxyType(
    {
        rule.key: rule
        for rule in (
            RuleOfThumb(
                "steadier",
                Topic.START,
                "Steadier off centre",
                ("A racket: [3 to 4 g] at 3 and 9. A paddle: [2 to 3 g] along both sides.",),
                "Far from the long axis a gram does most against twisting. It moves the balance toward the tip, too.",
                "Hits that scatter along the long axis, not across it; hands that are late already.",
                _doses((Dose(4.0, "three_nine"),), (Dose(3.0, "sides"),)),
            ),
            RuleOfThumb(
                "power",
                Topic.START,
                "More weight behind the ball",
                ("[1 to 2 g] at the tip, and half as much more only after some hours of play.",),
                "Nowhere does a gram raise the swing weight more.",
                "A sore arm; volleys that come late; a swing that slows down with it gives back what the weight won.",
                _doses((Dose(2.0, "twelve"),), (Dose(2.0, "top_edge"),)),
            ),
            RuleOfThumb(
                "quicker",
                Topic.START,
                "Quicker in the hand",
                ("About [5 g] in the handle.",),
                "The balance comes nearer to the hand, and the swing weight hardly moves.",
                "Who swings it fully, or turns it over quickly: no inertia falls. Who is at a weight ceiling.",
                _doses((Dose(5.0, "butt_cap"),), (Dose(5.0, "butt_cap"),)),
            ),
            RuleOfThumb(
                "heft",
                Topic.START,
                "Plain heft",
                (
                    "At the balance point: the balance stays, and the swing weight rises far less than from the tip.",
                    "Never there, since it works nowhere: a third of it to the tip, the rest into the handle.",
                ),
                "One school wants weight that the swing hardly feels, the other none that does not work.",
                "Whoever wants more behind the ball: at the balance point a gram does little for that.",
                _doses((Dose(6.0, "balance_point"),), (Dose(4.0, "balance_point"),)),
            ),
            RuleOfThumb(
                "steps",
                Topic.STEPS,
                "One place, one dose, some hours of play",
                (
                    "[1 to 2 g] at the tip, [3 to 4 g] at 3 and 9, about [5 g] in the handle; change one of them at "
                    "a time, and play three hours before the next.",
                    "Half a dose when the player can tell half of one: some feel [5 kg·cm²] of swing weight, most "
                    "about [10 kg·cm²].",
                ),
                "What changes two things at once tells nothing of either, and the first ten minutes tell of the "
                "novelty.",
                "Twins that are made alike: there the target is known. A planned trial asks in an evening what "
                "weeks of trying would.",
            ),
            RuleOfThumb(
                "ceiling",
                Topic.WEIGHT,
                "Ceilings of static weight",
                (
                    "Juniors: no weight in the hoop, [10 g] more in all at most. Who plays once a week: rackets up "
                    "to [320 g], paddles up to [235 g] ready to play. Beyond that only those who train.",
                ),
                "What is easily carried for ten minutes is heavy in the third set, and a growing arm heals slowly.",
                "A junior close to grown, whose coach asks for it; who has played heavier for years without "
                "complaint.",
                shows=("mass_g",),
            ),
            RuleOfThumb(
                "headlight",
                Topic.WEIGHT,
                "How head-light, by weight",
                (
                    "Rackets, ready to play. Under [290 g]: even to 2 points head-light. [290 to 310 g]: 3 to 5. "
                    "[310 to 325 g]: 5 to 7. Above: 7 to 10. If the hoop will get weight, start 2 points more "
                    "head-light.",
                ),
                "A heavy frame is played by moving it early from the hand; weight at the tip takes some of that back.",
                "Long bodies and double-handers who let the head fall; paddles, whose makers hardly differ in this.",
                shows=("mass_g", "balance_cm"),
                sport=Sport.TENNIS,
            ),
            RuleOfThumb(
                "polarized",
                Topic.SPREAD,
                "Polarized or depolarized",
                (
                    "Polarized, tip and butt: for a long, fast swing with much spin; with the balance "
                    "held, more swing weight for each gram than the sides give.",
                    "Depolarized, 3 and 9 and throat: for flat hitters, blockers and doubles; steadier, the swing "
                    "changes less.",
                ),
                "Mass at the ends resists turning in the swing plane, mass in the middle resists twisting and "
                "goes through the ball.",
                "Whoever has to be quick at the net loses more by the polarized way than the static weight tells.",
                _doses(
                    (Dose(2.0, "twelve"), Dose(4.0, "butt_cap")),
                    (Dose(2.0, "top_edge"), Dose(3.0, "butt_cap")),
                ),
            ),
            RuleOfThumb(
                "throat",
                Topic.SPREAD,
                "Weight at the throat",
                (
                    "Useful: it makes the frame heavier to a ball low on the face and hardly moves the balance.",
                    "Wasted: so near the balance point a gram raises the swing weight little.",
                ),
                "Both look at the same map: see what it does to this frame, in the middle and low on the face.",
                "Paddles with a short handle, where the throat is part of the face.",
                _doses((Dose(6.0, "throat"),), (Dose(4.0, "throat_edge"),)),
                looks_low=True,
            ),
            RuleOfThumb(
                "ten_two",
                Topic.SPREAD,
                "Weight at 10 and 2",
                (
                    "[2 to 3 g]: a bit of both, where the tip alone twists easily and the sides alone feel dull.",
                ),
                "Known, since it is computed: a gram there adds less swing weight than at the tip and less twist "
                "weight than at 3 and 9. Not known: whether a player feels it as more than the sum of both.",
                "Who can say which of the two is missing: then place it there.",
                _doses((Dose(3.0, "ten_two"),), ()),
                sport=Sport.TENNIS,
            ),
            RuleOfThumb(
                "six",
                Topic.SPREAD,
                "Weight at 6",
                ("[2 to 4 g] on the bridge, for hits low on the face and a firmer feel.",),
                "Known: near the balance point a gram moves weight alone, adds little swing weight and no twist "
                "weight to speak of. Not known: a firmer feel, which no sum of weights tells; try it blind.",
                "Where more stability is wanted: at 3 and 9 a gram does far more against twisting.",
                _doses((Dose(4.0, "six"),), ()),
                looks_low=True,
                sport=Sport.TENNIS,
            ),
            RuleOfThumb(
                "spin",
                Topic.SPREAD,
                "Weight and spin",
                (
                    "Polarized, for a whip of the head late in the swing.",
                    "Lighter in the head, so that it comes faster.",
                ),
                "Known: spin comes from how fast and how steeply the strings brush the ball; weight changes neither "
                "by itself. Not known: how much slower this player swings a heavier head, and which of the two wins.",
                "Strings, pattern and technique, which change spin far more surely than grams do.",
                _doses(
                    (Dose(2.0, "twelve"), Dose(4.0, "butt_cap")),
                    (Dose(2.0, "top_edge"), Dose(3.0, "butt_cap")),
                ),
            ),
            RuleOfThumb(
                "pronation",
                Topic.TWIST,
                "Turning the face over",
                (
                    "Keep weight off 3 and 9 where the face has to turn over fast; place it at the tip or in "
                    "the handle.",
                ),
                "Known: turning the face over is turning about the long axis, which weight on that axis hardly "
                "resists. Not known: how much of it the arm does, which turns with the frame and is far heavier.",
                "Blocks and returns, which gain from every bit of twist weight.",
                _doses((Dose(4.0, "twelve"),), (Dose(4.0, "top_edge"),)),
                shows=("twistweight_kgcm2",),
            ),
            RuleOfThumb(
                "twist",
                Topic.TWIST,
                "Where more twist weight stops paying",
                (
                    "Up to about [15 kg·cm²] for rackets and [7 kg·cm²] for paddles each step is felt on mishits; "
                    "beyond that it is paid for with quickness.",
                    "As much as the player can turn: who blocks and returns more than they swing takes it gladly.",
                ),
                "Turning the face over for spin, or from forehand to backhand at the net, is turning about the "
                "long axis.",
                "Spin players with a brushing swing; doubles at the net; a wrist that complains.",
                _doses((Dose(6.0, "three_nine"),), (Dose(5.0, "sides"),)),
                shows=("twistweight_kgcm2",),
            ),
            RuleOfThumb(
                "platform",
                Topic.MEANS,
                "The lighter frame of the mould",
                (
                    "Buy the lightest of a mould that suits and bring it up: weight is easily added "
                    "and hardly removed.",
                ),
                "Two new frames of one model may differ by [14 g]; the light one leaves room for weight where it "
                "works.",
                "Who wants it played out of the shop; a mould whose light version is of another lay-up.",
            ),
            RuleOfThumb(
                "material",
                Topic.MEANS,
                "Lead, tungsten, copper, putty, silicone, leather",
                (
                    "Tape in the hoop while you search, putty in the handle, and what is lasting only when nothing "
                    "changes any more. Tungsten where it must be short or must not poison; lead where it must be "
                    "cheap and soft.",
                ),
                "Tape and putty come off clean; silicone, leather and glued weight do not.",
                "Children's frames and shared ones: no lead. Sweat through a grip: no lead there either.",
            ),
        )
    }
)


def rules_for(sport: Sport) -> list[RuleOfThumb]:
    """The rules of a sport in the order of their topics."""
    return [rule for rule in ADVICE.values() if rule.sport in (None, sport)]


def tried_on(rule: RuleOfThumb, plan: PlanState) -> PlanState | None:
    """A plan with the doses of a rule on top; None where the rule has none for this frame."""
    sites = {site.key: site for site in sites_of(plan.outline, plan.measured.balance_cm)}
    doses = rule.tried.get(plan.outline.sport, ())
    if not doses or any(dose.site not in sites for dose in doses):
        return None
    for dose in doses:
        plan = with_weight_at(plan, dose.grams, sites[dose.site])
    return plan
