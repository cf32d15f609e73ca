"""Between the documents of kentrobar/1 and the values of ``core``."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, READ, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT, Specs
from kentrobar.core.frame.clock import clock_text, parse_clock
from kentrobar.core.frame.outline import Dimensions, PaddleDimensions, RacketDimensions
from kentrobar.core.frame.places import CLOCK_DECIMALS, ClockPlace, HeightPlace, RimPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.quantities.estimates import Quantity as CoreQuantity
from kentrobar.core.reading.pendulum import (
    GRAVITY_U_CMS2,
    HANG_U_CM,
    NO_HOLDER,
    Holder,
    PendulumReading,
    gravity_at,
)
from kentrobar.core.reading.pendulum import PendulumResult as CorePendulumAnswer
from kentrobar.core.reading.series import Precision, summarize
from kentrobar.core.rounds.estimation import NO_BIASES, Bias, Biases
from kentrobar.core.solving.candidates import PointSlot, RimSlot, Slot
from kentrobar.core.weight.pieces import (
    CUT_LENGTH_U_CM,
    DENSITY_U_RELATIVE,
    WEIGHED_U_G,
    Piece,
    PointPiece,
    RimStrip,
    Sleeve,
    StringBed,
)
from kentrobar.core.weight.pieces import Plug as PlugBody
from kentrobar.exchange import models

DECIMALS = 6


def estimate(quantity: models.Quantity, usual_u: float) -> Estimate:
    """The quantity with its stated uncertainty, or the usual one where none is stated."""
    if isinstance(quantity, models.Measured):
        return Estimate(quantity.value, usual_u if quantity.u is None else quantity.u)
    return Estimate(quantity, usual_u)


def _optional(quantity: models.Quantity | None, usual_u: float) -> CoreQuantity:
    return NOT_MEASURED if quantity is None else estimate(quantity, usual_u)


# -- frames ---------------------------------------------------------------------------


def measured_specs(block: models.MeasuredBlock) -> MeasuredSpecs:
    swing = block.swingweight_kgcm2
    return MeasuredSpecs(
        mass_g=_optional(block.mass_g, STATIC_WEIGHT.usual_u),
        balance_cm=_optional(block.balance_cm, BALANCE.usual_u),
        swingweight_kgcm2=_optional(swing, SWING_WEIGHT.usual_u),
        axis_cm=swing.axis_cm if swing else 10.0,
        twistweight_kgcm2=_optional(block.twistweight_kgcm2, TWIST_WEIGHT.usual_u),
    )


def biases(block: models.MeasuredBlock) -> dict[str, Bias]:
    """What the instruments of a block are off by in all their readings, by the keys of the specs."""
    return {
        spec.key: Bias((read.instrument, spec.key), read.shared_u)
        for spec in READ
        if isinstance(read := getattr(block, spec.key), models.Measured) and read.shared_u
    }


def measured_block(specs: MeasuredSpecs, build: str, biases: Biases = NO_BIASES) -> models.MeasuredBlock:
    """What was read as a block; ``biases`` by the keys of the specs, each of an instrument named by its key."""
    block: dict[str, Any] = {
        spec.key: quantity._asdict() | _shared(quantity, biases.get(spec.key))
        for spec in READ
        if (quantity := specs.of(spec))
    }
    if specs.swingweight_kgcm2:
        block[SWING_WEIGHT.key]["axis_cm"] = specs.axis_cm
    return models.MeasuredBlock.model_validate({"build": build} | block)


def _shared(quantity: Estimate, bias: Bias | None) -> dict[str, object]:
    if bias is None:
        return {}
    return {"shared_u": min(bias.u, quantity.u), "instrument": str(bias.key)}


def dimensions(frame: models.FrameDocument) -> Dimensions | None:
    """The dimensions of the frame's outline, None where it gives none."""
    if frame.outline is None:
        return None
    kind = RacketDimensions if isinstance(frame.outline, models.RacketOutline) else PaddleDimensions
    return kind(length_cm=frame.length_cm, **frame.outline.model_dump())


def outline_document(d: Dimensions) -> models.RacketOutline | models.PaddleOutline:
    fields = {name: value for name, value in vars(d).items() if name != "length_cm"}
    if isinstance(d, RacketDimensions):
        return models.RacketOutline(**fields)
    return models.PaddleOutline(**fields)


# -- pieces ---------------------------------------------------------------------------


USUAL_WORK = models.WorkErrors(density_rel=DENSITY_U_RELATIVE, length_cm=CUT_LENGTH_U_CM)


def piece(document: models.AnyPiece, work: models.WorkErrors = USUAL_WORK) -> Piece:
    """The piece of a document. Raises PieceError or OutlineError for an impossible one."""
    about: Any = document.model_dump(include={"label", "material", "removed"})
    if isinstance(document, models.Rim):
        density = document.g_per_cm
        value = density.value if isinstance(density, models.Measured) else density
        return RimStrip(
            **about,
            at=_place(document.at),
            length_cm=estimate(document.length_cm, work.length_cm),
            g_per_cm=_optional(density, work.density_rel * (value or 0.0)),
            mass_g=_optional(document.mass_g, WEIGHED_U_G),
            face=Face(document.face),
            mirrored=document.mirrored,
            both_faces=document.both_faces,
            gap_cm=document.gap_cm,
            layers=document.layers,
        )
    mass_g = estimate(document.mass_g, WEIGHED_U_G)
    if isinstance(document, models.Point):
        return PointPiece(
            **about,
            mass_g=mass_g,
            y_cm=document.y_cm,
            x_cm=document.x_cm,
            z_cm=document.z_cm,
            mirrored=document.mirrored,
        )
    if isinstance(document, models.Strings):
        return StringBed(**about, mass_g=mass_g, mains=document.mains, crosses=document.crosses)
    span: Any = {name: getattr(document, name) for name in ("from_cm", "to_cm", "radius_cm")}
    if isinstance(document, models.SleevePiece):
        return Sleeve(**about, mass_g=mass_g, on_corners=document.on_corners, **span)
    return PlugBody(**about, mass_g=mass_g, **span)


def _place(at: models.AtClock | models.AtHeight) -> RimPlace:
    if isinstance(at, models.AtClock):
        return ClockPlace(parse_clock(at.clock))
    return HeightPlace(at.y_cm)


def _place_document(at: RimPlace) -> models.AtClock | models.AtHeight:
    if isinstance(at, ClockPlace):
        text = clock_text(at.minutes, CLOCK_DECIMALS)
        return models.AtClock(clock=text.rstrip("0").rstrip(".") if "." in text else text)
    return models.AtHeight(y_cm=at.y_cm)


def piece_document(piece: Piece) -> models.AnyPiece:
    """The document of a piece; the inverse of :func:`piece`, uncertainties written out."""
    values = {
        name: models.Measured(value=value.value, u=value.u) if isinstance(value, Estimate) else value
        for name, value in ((f.name, getattr(piece, f.name)) for f in fields(piece))
        if value is not NOT_MEASURED and name not in ("at", "source")
    }
    if isinstance(piece, RimStrip):
        return models.Rim(at=_place_document(piece.at), **{**values, "face": piece.face.value})
    if isinstance(piece, PointPiece):
        return models.Point(**values)
    if isinstance(piece, StringBed):
        return models.Strings(**values)
    return models.SleevePiece(**values) if isinstance(piece, Sleeve) else models.PlugPiece(**values)


# -- sites ----------------------------------------------------------------------------


def site(document: models.SiteDocument) -> Slot:
    """The site of a document. Raises OutlineError for an hour that is none."""
    if isinstance(document, models.PointSiteDocument):
        return PointSlot(**document.model_dump(exclude={"kind"}))
    return RimSlot(
        label=document.label,
        start=_place(document.start),
        end=_place(document.end),
        g_per_cm=Estimate(document.g_per_cm, DENSITY_U_RELATIVE * document.g_per_cm),
        mirrored=document.mirrored,
        face=Face(document.face),
        step_cm=document.step_cm,
        layers=document.layers,
    )


def site_document(slot: PointSlot | RimSlot) -> models.SiteDocument:
    """The document of a site; a body that fills a length is told as one that is compact."""
    if isinstance(slot, PointSlot):
        return models.PointSiteDocument(
            label=slot.label,
            kind="point",
            y_cm=slot.y_cm,
            x_cm=slot.x_cm,
            mirrored=slot.mirrored,
            step_g=slot.step_g,
            max_g=slot.max_g,
        )
    return models.RimSiteDocument.model_validate(
        {
            "label": slot.label,
            "kind": "rim",
            "from": _place_document(slot.start),
            "to": _place_document(slot.end),
            "g_per_cm": slot.g_per_cm.value,
            "mirrored": slot.mirrored,
            "face": slot.face.value,
            "step_cm": slot.step_cm,
            "layers": slot.layers,
        }
    )


# -- swings ---------------------------------------------------------------------------

STOPWATCH = Precision(resolution=0.0, repeatability=0.002)  # of one period timed over many swings


def pendulum_reading(request: models.PendulumRequest) -> PendulumReading:
    """The hanging frame of a request. Raises SpecError for a place that is not on earth."""
    if request.periods_s is not None:
        period = summarize(request.periods_s, STOPWATCH).estimate
    else:
        assert request.period_s is not None  # noqa: S101 - held by the model
        period = estimate(request.period_s, STOPWATCH.repeatability)
    holder = request.holder
    return PendulumReading(
        mass_g=estimate(request.mass_g, STATIC_WEIGHT.usual_u),
        balance_cm=estimate(request.balance_cm, BALANCE.usual_u),
        hang_cm=estimate(request.hang_cm, HANG_U_CM),
        period_s=period,
        gravity_cms2=_gravity(request),
        amplitude_deg=estimate(request.amplitude_deg, 0.0),
        holder=Holder(**holder.model_dump()) if holder else NO_HOLDER,
    )


def _gravity(request: models.PendulumRequest) -> Estimate:
    if request.gravity_cms2 is not None:
        return estimate(request.gravity_cms2, GRAVITY_U_CMS2)
    return gravity_at(request.latitude_deg, request.altitude_m)


def pendulum_document(answer: CorePendulumAnswer, warnings: list[str]) -> models.PendulumAnswer:
    swing = answer.swingweight_kgcm2
    return models.PendulumAnswer(
        swingweight_kgcm2=models.ValueAtAxis(**value(swing).model_dump(), axis_cm=answer.axis_cm),
        recoil_kgcm2=value(answer.recoil_kgcm2),
        period_s=value(answer.period_s),
        warnings=warnings,
    )


# -- answers --------------------------------------------------------------------------


def specs_document(specs: Specs) -> models.SpecsDocument:
    swing = _value(specs.swingweight_kgcm2)
    return models.SpecsDocument(
        mass_g=_value(specs.mass_g),
        balance_cm=_value(specs.balance_cm),
        points_headlight=_value(specs.points_headlight),
        swingweight_kgcm2=(
            models.ValueAtAxis(value=swing.value, u=swing.u, axis_cm=specs.axis_cm) if swing else None
        ),
        twistweight_kgcm2=_value(specs.twistweight_kgcm2),
        recoil_kgcm2=_value(specs.recoil_kgcm2),
        gyration_cm=_value(specs.gyration_cm),
    )


def _value(quantity: CoreQuantity) -> models.Value | None:
    return value(quantity) if quantity else None


def value(quantity: Estimate) -> models.Value:
    """A number with its ± as documents write it."""
    return models.Value(value=round(quantity.value, DECIMALS), u=round(quantity.u, DECIMALS))
