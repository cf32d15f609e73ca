"""Errors a person can act on. Every message says what is wrong and how to fix it."""

from __future__ import annotations


class KentrobarError(ValueError):
    """Base of all errors of the rules.

    ``code`` is stable and short; ``field`` names the quantity that is at fault, where one is.
    """

    def __init__(self, message: str, *, code: str, field: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.code = code
        self.field = field


class UnitError(KentrobarError):
    """A typed quantity could not be read, or its unit does not fit."""


class OutlineError(KentrobarError):
    """The dimensions do not make a frame, or a place is not on it."""


class PieceError(KentrobarError):
    """A piece cannot be what it says it is, or cannot lie where it is put."""


class SpecError(KentrobarError):
    """Measured specs cannot belong to a real frame."""
