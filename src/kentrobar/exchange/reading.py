"""Reading a document safely: what is refused is told with its path in the document and the fix."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.exchange import models

LARGEST_DOCUMENT_BYTES = 2_000_000

_ALTERNATIVES = {"point", "rim", "sleeve", "plug", "strings", "float"} | {
    name for name in vars(models) if name[0].isupper()
}

DocumentT = TypeVar("DocumentT", bound=BaseModel)


class DocumentError(KentrobarError):
    """A document that cannot be read; the message names the path in it and the fix."""

    def __init__(self, path: str, problem: str) -> None:
        super().__init__(f"{path}: {problem}", code="bad_document", field=path)


@contextmanager
def at_path(path: str) -> Iterator[None]:
    """Tell an error of the rules with the path of the document's part that it is about."""
    try:
        yield
    except DocumentError:
        raise
    except KentrobarError as error:
        place = ".".join(part for part in (path, error.field) if part)
        raise DocumentError(place or "document", error.message) from None


def read_document(data: bytes, kind: type[DocumentT]) -> DocumentT:
    """The document in ``data`` (UTF-8 JSON).

    Raises:
        DocumentError: too large, not JSON, nested too deeply, NaN, a wrong, unknown or doubled key.
    """
    if len(data) > LARGEST_DOCUMENT_BYTES:
        raise DocumentError(
            "document",
            f"it is larger than the {LARGEST_DOCUMENT_BYTES / 1e6:.0f} MB that a kentrobar/1 "
            "document may have. Check that this is the right file.",
        )
    try:
        document = kind.model_validate_json(data)
    except ValidationError as error:
        raise _document_error(_most_telling(error.errors(include_url=False))) from None
    _require_keys_once(data)
    return document


class _Doubled(dict[str, Any]):
    """An object of a document in which ``key`` stands twice."""

    key: str


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            doubled = _Doubled(found)
            doubled.key = key
            return doubled
        found[key] = value
    return found


def _require_keys_once(data: bytes) -> None:
    """Refuse a key that stands twice in one object: which of the two is meant, nobody knows."""
    places: list[tuple[str, Any]] = [("", json.loads(data, object_pairs_hook=_once))]
    while places:
        path, value = places.pop()
        if isinstance(value, _Doubled):
            where = f"{path}.{value.key}".lstrip(".")
            raise DocumentError(where[:200], f"“{value.key[:40]}” stands here twice; leave one.")
        inner = (
            value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
        )
        places += [(f"{path}.{key}".lstrip("."), each) for key, each in inner]


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
            problem = f"this is not valid JSON ({reason}); export the file again or fix it there."
        case "extra_forbidden":
            problem = f"“{key[:40]}” is not a key of kentrobar/1 here; remove or rename it."
        case "missing":
            problem = f"“{key}” is missing; add it."
        case "literal_error" if key == "format":
            problem = f"the format must be “{models.FORMAT}”; this file says something else."
        case "literal_error":
            problem = f"this must be {error['ctx']['expected']}."
        case "finite_number" | "float_type" | "float_parsing":
            problem = "this must be an ordinary number, not text, true, NaN or infinity."
        case "value_error":
            problem = f"{error['ctx']['error']}."
        case _:
            problem = f"{error['msg'][:1].lower()}{error['msg'][1:160]}; fix it there."
    return DocumentError(path[:200], problem)
