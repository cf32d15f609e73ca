"""Reading a document safely, and answering it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from kentrobar.core.frame.outline import outline_of
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.checks import require_possible
from kentrobar.core.reading.pendulum import pendulum
from kentrobar.core.weight.prediction import piece_changes, predict
from kentrobar.exchange import convert, models

LARGEST_DOCUMENT_BYTES = 2_000_000

_ALTERNATIVES = {"point", "rim", "sleeve", "plug", "float"} | {
    name for name in vars(models) if name[0].isupper()
}

DocumentT = TypeVar("DocumentT", bound=BaseModel)


class DocumentError(KentrobarError):
    """A document that cannot be read; the message names the path in it and the mend."""

    def __init__(self, path: str, problem: str) -> None:
        super().__init__(f"{path}: {problem}", code="bad_document", field=path)


def read_document(data: bytes, kind: type[DocumentT]) -> DocumentT:
    """The document in ``data`` (UTF-8 JSON).

    Raises:
        DocumentError: too large, not JSON, nested too deeply, NaN, a wrong or unknown key.
    """
    if len(data) > LARGEST_DOCUMENT_BYTES:
        raise DocumentError(
            "document",
            f"it is larger than the {LARGEST_DOCUMENT_BYTES / 1e6:.0f} MB that a kentrobar/1 "
            "document may have. Check that this is the right file.",
        )
    try:
        return kind.model_validate_json(data)
    except ValidationError as error:
        raise _document_error(_most_telling(error.errors(include_url=False))) from None


def _most_telling(errors: Sequence[Any]) -> Any:
    """Of all errors the unknown key, since a misspelt key also counts as missing."""
    return next((e for e in errors if e["type"] == "extra_forbidden"), errors[0])


def _path(location: Sequence[str | int]) -> str:
    """The path as it stands in the document, without the names of the alternatives tried."""
    in_document = (
        str(part)
        for part in location
        if isinstance(part, int)
        or not (part in _ALTERNATIVES or part.startswith(("constrained-", "function-")))
    )
    return ".".join(in_document) or "document"


def _document_error(error: Any) -> DocumentError:
    path = _path(error["loc"])
    key = path.rpartition(".")[2]
    match error["type"]:
        case "json_invalid":
            reason = str(error["ctx"]["error"]) if "ctx" in error else "it ends too early"
            problem = f"this is not valid JSON ({reason}); export the file again or mend it there."
        case "extra_forbidden":
            problem = f"“{key[:40]}” is not a key of kentrobar/1 here; remove or rename it."
        case "missing":
            problem = f"“{key}” is missing; add it."
        case "literal_error" if key == "format":
            problem = f"the format must be “{models.FORMAT}”; this file says something else."
        case "literal_error":
            problem = f"this must be {error['ctx']['expected']}."
        case "finite_number" | "float_type" | "float_parsing":
            problem = "this must be an ordinary number, not text, NaN or infinity."
        case "value_error":
            problem = f"{error['ctx']['error']}."
        case _:
            problem = f"{error['msg'][:1].lower()}{error['msg'][1:160]}; mend it there."
    return DocumentError(path[:200], problem)


def answer_predict(request: models.PredictRequest) -> models.PredictAnswer:
    """What ``predict`` prints for this request.

    Raises:
        DocumentError: dimensions or pieces that cannot be; the path says which.
    """
    outline = None
    dimensions = convert.dimensions(request.frame)
    if dimensions is not None:
        try:
            outline = outline_of(dimensions)
        except KentrobarError as error:
            place = "frame" if error.field == "length_cm" else "frame.outline"
            raise DocumentError(f"{place}.{error.field}", error.message) from None
    pieces = []
    for index, document in enumerate(request.pieces):
        try:
            pieces.append(convert.piece(document))
        except KentrobarError as error:
            raise DocumentError(f"pieces.{index}.{error.field}", error.message) from None
    measured = convert.measured_specs(request.frame.measured)
    try:
        require_possible(measured, request.frame.length_cm)
    except KentrobarError as error:
        raise DocumentError(f"frame.measured.{error.field}", error.message) from None
    setting: Any = {
        "length_cm": request.frame.length_cm,
        "axis_cm": request.axis_cm,
        "outline": outline,
    }
    for index, piece in enumerate(pieces):
        try:
            predict(measured, [piece], **setting)
        except KentrobarError as error:
            raise DocumentError(f"pieces.{index}.{error.field}", error.message) from None
    try:
        prediction = predict(measured, pieces, **setting)
    except KentrobarError as error:
        raise DocumentError("pieces", error.message) from None
    return models.PredictAnswer(
        before=convert.specs_document(prediction.before),
        after=convert.specs_document(prediction.after),
        change=convert.specs_document(prediction.change),
        pieces=[
            models.PieceChange(label=piece.label, change=convert.specs_document(change))
            for piece, change in zip(
                pieces, piece_changes(measured, pieces, **setting), strict=True
            )
        ],
        warnings=list(prediction.warnings),
    )


def answer_pendulum(request: models.PendulumRequest) -> models.PendulumAnswer:
    """What ``pendulum`` prints for this request.

    Raises:
        DocumentError: quantities that no swinging frame can have; the path says which.
    """
    try:
        answer = pendulum(convert.pendulum_reading(request), request.axis_cm)
    except KentrobarError as error:
        several = error.field == "period_s" and request.periods_s is not None
        raise DocumentError("periods_s" if several else error.field, error.message) from None
    return convert.pendulum_document(answer)
