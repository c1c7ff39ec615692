"""Opening a photo that somebody brings: check it, turn it upright, strip what is personal."""

from __future__ import annotations

import io
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
import pillow_heif
from numpy.typing import NDArray
from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from aspectum.language import say

pillow_heif.register_heif_opener()

LIMIT_BYTES = 60 * 1024 * 1024  # larger than a camera's JPEG
LIMIT_PIXELS = 50_000_000  # more is seldom a photo, and takes a gigabyte to open
SMALLEST_PX = 64  # an edge must be some tens of pixels long to have a tilt
VIEW_SIDE_PX = 2200  # what the stage shows: a pixel of it is finer than a hand points, and it loads on a phone
THUMB_SIDE_PX = 480  # twice what a card of the list is wide
Made = TypeVar("Made")

FORMATS = ("JPEG", "PNG", "WEBP", "HEIF")


class PictureError(ValueError):
    """A file that cannot be opened as a photo; the message tells a person why."""


@dataclass(frozen=True)
class OpenedPicture:
    """``original``, ``view`` and ``thumb`` are JPEG bytes without any metadata."""

    width_px: int
    height_px: int
    focal_35mm: float | None
    original: bytes
    view: bytes
    thumb: bytes


def open_picture(data: bytes) -> OpenedPicture:
    """Decode a JPEG, PNG, WebP or HEIC photo of up to 50 megapixels.

    The result is turned upright by its Exif orientation and carries no tags; the 35 mm-equivalent
    focal length (Exif tag FocalLengthIn35mmFilm, CIPA DC-008) is read first. Raises
    ``PictureError``.
    """
    return _decoded(data, _copies)


def read_pixels(data: bytes) -> tuple[NDArray[np.uint8], float | None]:
    """RGB pixels (h, w, 3) of such a photo, upright, and its 35 mm-equivalent focal length. Raises ``PictureError``."""
    return _decoded(data, lambda plain, focal: (np.asarray(plain), focal))


def _decoded(data: bytes, use: Callable[[Image.Image, float | None], Made]) -> Made:
    if len(data) > LIMIT_BYTES:
        raise PictureError(say("The file is larger than {limit_bytes} MB.", limit_bytes=LIMIT_BYTES // 1024 // 1024))
    if not data:
        raise PictureError(say("The file is empty."))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as image:
                return use(*_develop(image))
    except PictureError:
        raise
    except Image.DecompressionBombError:
        raise PictureError(_too_large()) from None
    except UnidentifiedImageError:
        raise PictureError(_unknown(data)) from None
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError, RuntimeError, IndexError, TypeError) as error:
        raise PictureError(say("The picture is damaged or cut short and cannot be opened.")) from error


def _too_large() -> str:
    return say(
        "The picture has more than {limit_pixels} megapixels. Save a smaller copy and open that.",
        limit_pixels=LIMIT_PIXELS // 1000000,
    )


def _unknown(data: bytes) -> str:
    if data[:4] == b"%PDF":
        return say("This is a PDF. Export the page as a JPEG or PNG picture first.")
    if b"<svg" in data[:2048].lower():
        return say("This is an SVG drawing. Export it as a PNG picture first.")
    return say("This is not a JPEG, PNG, WebP or HEIC picture, whatever its name says.")


def _develop(image: Image.Image) -> tuple[Image.Image, float | None]:
    width, height = image.size
    if width * height > LIMIT_PIXELS:
        raise PictureError(_too_large())
    if min(width, height) < SMALLEST_PX:
        raise PictureError(
            say(
                "The picture is only {width} by {height} pixels; {smallest_px} is the least that can be sighted.",
                width=width,
                height=height,
                smallest_px=SMALLEST_PX,
            )
        )
    focal = focal_35mm(image)
    image.load()
    # in place and without needless copies: fifty megapixels are 150 MB each time
    ImageOps.exif_transpose(image, in_place=True)
    plain = in_colour(image)
    plain.info.clear()
    return plain, focal


def develop(pixels: NDArray[np.uint8]) -> OpenedPicture:
    """A picture of RGB ``pixels`` (h, w, 3) that was made here. Raises ``PictureError`` for one too small."""
    if min(pixels.shape[:2]) < SMALLEST_PX:
        raise PictureError(
            say(
                "The sheet is only {shape} by {shape2} pixels; {smallest_px} is the least that can be sighted.",
                shape=pixels.shape[1],
                shape2=pixels.shape[0],
                smallest_px=SMALLEST_PX,
            )
        )
    return _copies(Image.fromarray(pixels), None)


def _copies(plain: Image.Image, focal: float | None) -> OpenedPicture:
    view = _fitted(plain, VIEW_SIDE_PX)
    return OpenedPicture(
        plain.width, plain.height, focal, _jpeg(plain, 92), _jpeg(view, 86), _jpeg(_fitted(view, THUMB_SIDE_PX), 80)
    )


def in_colour(image: Image.Image) -> Image.Image:
    """The picture in 8-bit RGB; what is clear lies on white, deeper greys are brought to 8 bits by
    their range.
    """
    if image.mode == "RGB":
        return image
    if image.mode in ("I", "F") or image.mode.startswith("I;16"):
        return grey_by_range(image).convert("RGB")
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        layer = image if image.mode == "RGBA" else image.convert("RGBA")
        ground = Image.new("RGB", image.size, "white")
        ground.paste(layer, mask=layer.getchannel("A"))
        return ground
    return image.convert("RGB")


BAND_ROWS = 512  # converted at once, to keep copies small


def grey_by_range(image: Image.Image) -> Image.Image:
    """A grey picture of 16 or 32 bits or of fractions in 8 bits: 16 bits by their whole range; integers
    and fractions by the least usual range that holds them (0 to 1, 255, 65535), else by their own.
    """
    values = np.asarray(image)
    low, high = 0.0, 65535.0
    if not image.mode.startswith("I;16"):
        low, high = float(np.nanmin(values)), float(np.nanmax(values))
        fits = [
            top
            for top in ((1.0, 255.0, 65535.0) if image.mode == "F" else (255.0, 65535.0))
            if low >= 0 and high <= top
        ]
        low, high = (0.0, fits[0]) if fits else (low, high)
    grey = np.empty(values.shape, np.uint8)
    for row in range(0, len(values), BAND_ROWS):
        share = (values[row : row + BAND_ROWS].astype(np.float32) - low) / max(high - low, 1e-30)
        grey[row : row + BAND_ROWS] = np.clip(np.rint(np.nan_to_num(share) * 255.0), 0, 255)
    return Image.fromarray(grey)


def focal_35mm(image: Image.Image) -> float | None:
    """The 35 mm-equivalent focal length in the picture's Exif data, where it is plausible."""
    try:
        value = float(image.getexif().get_ifd(ExifTags.IFD.Exif).get(ExifTags.Base.FocalLengthIn35mmFilm, 0))
    except (TypeError, ValueError, KeyError, SyntaxError, OSError, ZeroDivisionError):
        return None
    return value if 5 <= value <= 3000 else None


def _fitted(image: Image.Image, side: int) -> Image.Image:
    if max(image.size) <= side:
        return image
    scale = side / max(image.size)
    size = (max(1, round(image.width * scale)), max(1, round(image.height * scale)))
    return image.resize(size, Image.Resampling.LANCZOS, reducing_gap=2.0)


def _jpeg(image: Image.Image, quality: int) -> bytes:
    buffer = io.BytesIO()
    image.save(buffer, "JPEG", quality=quality, optimize=True, progressive=True)
    return buffer.getvalue()
