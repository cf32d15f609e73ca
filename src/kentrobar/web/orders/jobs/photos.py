"""Photos of a job: decoded and encoded anew, so that nothing but the picture is kept.

They lie in the database, which all web processes share.
"""

from __future__ import annotations

import io
from typing import Final, NamedTuple

from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from PIL import Image, ImageOps, UnidentifiedImageError

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.records import locked
from kentrobar.web.orders.models import Job, JobPhoto
from kentrobar.web.shops.models import User

LONGEST_SIDE_PX: Final = 1600
MOST_PIXELS: Final = 60_000_000  # more is no photo but an attempt to fill the memory
MOST_A_JOB: Final = 30
_FORMATS: Final = ("JPEG", "PNG", "WEBP")


class Encoded(NamedTuple):
    """A photo as it is kept: JPEG, upright, without what the camera wrote beside it."""

    image: bytes
    width: int
    height: int


def encoded(file: UploadedFile) -> Encoded:
    """A photo that was sent, encoded anew. Raises KentrobarError for what is none."""
    try:
        with Image.open(file, formats=_FORMATS) as sent:
            if sent.width * sent.height > MOST_PIXELS:
                raise KentrobarError("The photo has too many pixels; send a smaller one.", code="photo")
            picture = ImageOps.exif_transpose(sent).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise KentrobarError("This photo cannot be read. Send a JPEG, PNG or WebP.", code="photo") from None
    picture.thumbnail((LONGEST_SIDE_PX, LONGEST_SIDE_PX))
    kept = io.BytesIO()
    picture.save(kept, "JPEG", quality=80, optimize=True)
    return Encoded(kept.getvalue(), picture.width, picture.height)


@transaction.atomic
def keep_photo(job: Job, photo: Encoded, caption: str, by: User) -> JobPhoto:
    """Keep a photo with its job. Raises KentrobarError where it has enough of them."""
    kept = locked(job)
    if kept.photos.count() >= MOST_A_JOB:
        raise KentrobarError(f"A job has at most {MOST_A_JOB} photos.", code="too_many_photos")
    return JobPhoto.objects.create(job=kept, **photo._asdict(), caption=caption, made_by=by)
