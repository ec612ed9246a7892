"""Opening a picture that somebody sent: the right way up, without what else is in the file."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile, TooLarge

if TYPE_CHECKING:
    from PIL import Image

MOST_PIXELS = 64_000_000
ENOUGH = 24_000_000
# px: beyond it a photograph is halved as it is decoded. A card at arm's length has 0.05 mm a pixel then, finer
# than any lens draws it, and a telephone's 48 megapixels would take a gigabyte in floating point
LEAST_SIDE = 200
FORMATS = ("JPEG", "PNG", "TIFF", "WEBP", "BMP")
HEIF = "HEIF"
# as many telephones keep their photographs (ISO/IEC 23008-12); read in a guarded child only

Rgb = NDArray[np.uint8]


def open_photo(data: bytes, heif: bool = False) -> Rgb:
    """RGB (h, w, 3), turned as its orientation tag says; nothing else of its metadata is kept.

    ``heif``: whether HEIC and HEIF are read as well. Their decoder is large, so only where a bad file ends a child
    process and nothing else.

    More than ENOUGH pixels are halved, so that memory stays bounded whatever is sent. Raises BadFile for what is not a picture, TooLarge beyond 64 megapixels.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    Image.MAX_IMAGE_PIXELS = None  # the limit below is stricter, and says so in a sentence
    try:
        with Image.open(io.BytesIO(data), formats=_formats(heif)) as picture:
            if picture.width * picture.height > MOST_PIXELS:
                raise TooLarge("This picture has more than 64 megapixels; save it smaller.", "file")
            if min(picture.size) < LEAST_SIDE:
                raise BadFile(
                    f"This picture is too small to measure on: {picture.width} x {picture.height} pixels."
                )
            upright = _not_too_large(picture)
            ImageOps.exif_transpose(upright, in_place=True)
            upright = _on_screen(upright)
            if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
                white = Image.new("RGBA", upright.size, "white")
                upright = Image.alpha_composite(white, upright.convert("RGBA"))
            plain = _eight_bits(upright)
            return np.asarray(plain if plain.mode == "RGB" else plain.convert("RGB"))
    except UnidentifiedImageError as error:
        raise BadFile("This is not a picture that can be read: JPEG, PNG, TIFF or WebP.", "file") from error
    except (OSError, ValueError, SyntaxError, EOFError) as error:
        raise BadFile("This picture is damaged and cannot be read.", "file") from error


def _formats(heif: bool) -> tuple[str, ...]:
    if not heif:
        return FORMATS
    import pillow_heif

    # without thumbnails and depth maps: one picture is wanted
    pillow_heif.register_heif_opener(thumbnails=False)
    return (*FORMATS, HEIF)


def _not_too_large(picture: Image.Image) -> Image.Image:
    """Halved where it has more pixels than are of use: a JPEG while it is decoded, others at once after."""
    if picture.width * picture.height <= ENOUGH:
        return picture
    half = (picture.width + 1) // 2, (picture.height + 1) // 2
    picture.draft(None, half)  # of JPEG only; never smaller than asked for
    if picture.size == half or picture.width * picture.height <= ENOUGH:
        return picture
    tag = picture.getexif()
    smaller = picture.reduce(2)
    # which way is up, and what its numbers mean, belong to the smaller one too
    smaller.info["exif"] = tag.tobytes()
    smaller.info["icc_profile"] = picture.info.get("icc_profile")
    return smaller


def _on_screen(picture: Image.Image) -> Image.Image:
    """In sRGB: telephones write wider colours and say so in a profile; without one sRGB is taken for granted."""
    from PIL import Image, ImageCms

    profile = picture.info.get("icc_profile")
    if not profile or picture.mode not in ("RGB", "RGBA", "CMYK", "L"):
        return picture
    try:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        there = "RGBA" if picture.mode == "RGBA" else "RGB"
        found = ImageCms.profileToProfile(picture, own, ImageCms.createProfile("sRGB"), outputMode=there)
    except (ImageCms.PyCMSError, OSError, ValueError):
        return picture  # a damaged profile is no reason to refuse the picture
    return found if isinstance(found, Image.Image) else picture


def _eight_bits(picture: Image.Image) -> Image.Image:
    """Sixteen-bit greys scaled, which Pillow would cut off."""
    from PIL import Image

    if not picture.mode.startswith(("I", "F")):
        return picture
    values = np.asarray(picture, dtype=np.float64)
    top = max(1.0, float(values.max()))
    full = 255.0 if top <= 255 else max(top, 65535.0)
    return Image.fromarray(np.rint(values / full * 255).astype(np.uint8))
