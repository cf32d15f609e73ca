"""Addresses as codes that a phone reads off a screen or a label."""

from __future__ import annotations

import segno
from django.utils.safestring import SafeString, mark_safe


def qr(address: str) -> SafeString:
    """A QR code of an address as inline SVG, readable with a quarter of it dirty."""
    drawn: str = segno.make(address, error="q", micro=False).svg_inline(omitsize=True, border=2)
    return mark_safe(drawn)  # noqa: S308 - drawn here, of our own address
