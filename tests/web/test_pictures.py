"""Photos that people bring: turned upright, stripped, or refused with a reason."""

from __future__ import annotations

import io
import struct
import zlib
from pathlib import Path

import numpy as np
import pillow_heif
import pytest
from flask.testing import FlaskClient
from PIL import ExifTags, Image

from aspectum.pictures.opening import PictureError, open_picture
from aspectum.service.errors import NoRoom
from aspectum.service.pictures import tidy_name
from aspectum.store.picture_files import PictureFiles
from tests.web.test_api import upload


def photo(width: int = 400, height: int = 300) -> Image.Image:
    """Dark but for a bright upper left quarter, so that turns show."""
    pixels = np.full((height, width, 3), 30, np.uint8)
    pixels[: height // 2, : width // 2] = (220, 160, 90)
    return Image.fromarray(pixels)


def encoded(image: Image.Image, format: str, exif: Image.Exif | None = None) -> bytes:
    buffer = io.BytesIO()
    image.save(buffer, format, exif=exif or Image.Exif())
    return buffer.getvalue()


@pytest.mark.parametrize("format", ["JPEG", "PNG", "WEBP"])
def test_common_formats_open(format: str) -> None:
    opened = open_picture(encoded(photo(), format))
    assert (opened.width_px, opened.height_px) == (400, 300)


def test_heic_opens() -> None:
    buffer = io.BytesIO()
    pillow_heif.from_pillow(photo()).save(buffer)
    assert open_picture(buffer.getvalue()).width_px == 400


def test_exif_orientation_is_applied_and_personal_tags_are_gone() -> None:
    exif = Image.Exif()
    exif[ExifTags.Base.Orientation] = 6  # turn a quarter clockwise to view
    exif[ExifTags.Base.Artist] = "Somebody"
    exif.get_ifd(ExifTags.IFD.GPSInfo)[ExifTags.GPS.GPSLatitude] = (52.0, 30.0, 0.0)
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.FocalLengthIn35mmFilm] = 35
    opened = open_picture(encoded(photo(), "JPEG", exif))
    assert (opened.width_px, opened.height_px, opened.focal_35mm) == (300, 400, 35.0)
    for part in (opened.original, opened.view, opened.thumb):
        kept = Image.open(io.BytesIO(part))
        assert not dict(kept.getexif()) and b"Somebody" not in part
    turned = np.asarray(Image.open(io.BytesIO(opened.original)))
    assert turned[20, -20].mean() > 120 and turned[20, 20].mean() < 60


def test_large_photos_keep_their_size_for_measuring_and_get_a_copy_for_showing() -> None:
    opened = open_picture(encoded(photo(5000, 3000), "JPEG"))
    sizes = [Image.open(io.BytesIO(part)).size for part in (opened.original, opened.view, opened.thumb)]
    assert sizes[0] == (5000, 3000) and max(sizes[1]) == 2200 and max(sizes[2]) == 480


def bomb_png(side: int) -> bytes:
    """A few kilobytes that claim to be side × side pixels."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    header = struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("data", "reason"),
    [
        (b"", "empty"),
        (b"hello", "not a JPEG"),
        (b"%PDF-1.7 ...", "PDF"),
        (b'<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>', "SVG"),
        (b"GIF89a" + b"\0" * 60, "not a JPEG"),
        (bomb_png(40_000), "megapixels"),
        (bomb_png(8_000), "megapixels"),
        (bomb_png(2_000), "damaged or cut short"),
        (encoded(photo(), "JPEG")[:900], "damaged or cut short"),
        (encoded(photo(20, 20), "PNG"), "only 20 by 20"),
    ],
)
def test_anything_else_is_refused_with_a_reason(client: FlaskClient, data: bytes, reason: str) -> None:
    with pytest.raises(PictureError, match=reason):
        open_picture(data)
    answer = upload(client, data)
    assert answer.status_code == 422 and reason in answer.get_json()["detail"]
    assert client.get("/api/sheets").get_json()["sheets"] == []


def test_a_mislabelled_picture_is_known_by_its_content(client: FlaskClient) -> None:
    assert upload(client, encoded(photo(), "PNG"), "holiday.jpg").status_code == 200


def test_names_of_files_lose_their_folders() -> None:
    assert tidy_name("../../etc/passwd") == "passwd"
    assert tidy_name("C:\\photos\\crates.jpg") == "crates.jpg"
    assert tidy_name("\0\n") == "picture"


def test_pictures_are_named_by_content_and_written_whole(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    files = PictureFiles(tmp_path)
    sha = files.keep(b"one", {"view": b"two"})
    assert files.keep(b"one", {"view": b"two"}) == sha and files.path(sha).read_bytes() == b"one"

    def no_space(fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", no_space)
    with pytest.raises(OSError, match="No space"):
        files.keep(b"three", {})
    assert not [p for p in tmp_path.rglob("*") if p.is_file() and p.read_bytes() == b"three"]


def test_a_full_disk_refuses_the_photo_and_keeps_the_rest(client: FlaskClient, crates_jpeg: bytes, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*args: object) -> str:
        raise NoRoom("The picture could not be stored: No space left on device.")

    monkeypatch.setattr("aspectum.web.api.pictures.keep_picture", full)
    answer = upload(client, crates_jpeg)
    assert answer.status_code == 507 and "No space" in answer.get_json()["detail"]
