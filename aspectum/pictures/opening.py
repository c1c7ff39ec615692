"""Opening a photo that somebody brings: check it, turn it upright, strip what is personal."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import pillow_heif
from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

pillow_heif.register_heif_opener()

LIMIT_BYTES = 60 * 1024 * 1024
LIMIT_PIXELS = 50_000_000
SMALLEST_PX = 64
VIEW_SIDE_PX = 2200
THUMB_SIDE_PX = 480
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
    if len(data) > LIMIT_BYTES:
        raise PictureError(f"The file is larger than {LIMIT_BYTES // 1024 // 1024} MB.")
    if not data:
        raise PictureError("The file is empty.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(data), formats=FORMATS) as image:
                return _develop(image)
    except PictureError:
        raise
    except Image.DecompressionBombError:
        raise PictureError(_too_large()) from None
    except UnidentifiedImageError:
        raise PictureError(_unknown(data)) from None
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError, RuntimeError, IndexError, TypeError) as error:
        raise PictureError("The picture is damaged or cut short and cannot be opened.") from error


def _too_large() -> str:
    return f"The picture has more than {LIMIT_PIXELS // 1_000_000} megapixels. Save a smaller copy and open that."


def _unknown(data: bytes) -> str:
    if data[:4] == b"%PDF":
        return "This is a PDF. Export the page as a JPEG or PNG picture first."
    if b"<svg" in data[:2048].lower():
        return "This is an SVG drawing. Export it as a PNG picture first."
    return "This is not a JPEG, PNG, WebP or HEIC picture, whatever its name says."


def _develop(image: Image.Image) -> OpenedPicture:
    width, height = image.size
    if width * height > LIMIT_PIXELS:
        raise PictureError(_too_large())
    if min(width, height) < SMALLEST_PX:
        raise PictureError(f"The picture is only {width} by {height} pixels; {SMALLEST_PX} is the least that can be sighted.")
    focal = focal_35mm(image)
    image.load()
    upright = ImageOps.exif_transpose(image)
    if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
        ground = Image.new("RGB", upright.size, "white")
        layer = upright.convert("RGBA")
        ground.paste(layer, mask=layer.getchannel("A"))
        plain = ground
    else:
        plain = upright.convert("RGB")
    plain.info.clear()
    return OpenedPicture(
        plain.width,
        plain.height,
        focal,
        _jpeg(plain, 92),
        _jpeg(_fitted(plain, VIEW_SIDE_PX), 86),
        _jpeg(_fitted(plain, THUMB_SIDE_PX), 80),
    )


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
    copy = image.copy()
    copy.thumbnail((side, side), Image.Resampling.LANCZOS, reducing_gap=2.0)
    return copy


def _jpeg(image: Image.Image, quality: int) -> bytes:
    buffer = io.BytesIO()
    image.save(buffer, "JPEG", quality=quality, optimize=True, progressive=True)
    return buffer.getvalue()
