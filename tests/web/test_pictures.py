"""Photos that people bring: turned upright, stripped, or refused with a reason."""

from __future__ import annotations

import io
import struct
import subprocess
import sys
import zlib
from pathlib import Path

import numpy as np
import pillow_heif
import pytest
from flask.testing import FlaskClient
from PIL import ExifTags, Image

from aspectum.pictures.isolated import open_isolated
from aspectum.pictures.opening import PictureError, in_colour, open_picture
from aspectum.service.errors import NoRoom
from aspectum.service.sheets.pictures import tidy_name
from aspectum.store import picture_files
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
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", header)
        + chunk(b"IDAT", zlib.compress(b"\0" * 1000))
        + chunk(b"IEND", b"")
    )


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


def test_where_an_original_stands_its_copies_stand_too(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Another server may look for it at any moment: the original is written last."""
    written: list[str] = []
    monkeypatch.setattr(picture_files, "_write_whole", lambda path, _: written.append(path.name))
    sha = PictureFiles(tmp_path).keep(b"one", {"view": b"two", "thumb": b"three"})
    assert written == [f"{sha}.view.jpg", f"{sha}.thumb.jpg", f"{sha}.jpg"]


def test_a_full_disk_refuses_the_photo_and_keeps_the_rest(
    client: FlaskClient, crates_jpeg: bytes, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*args: object) -> str:
        raise NoRoom("The picture could not be stored: No space left on device.")

    monkeypatch.setattr("aspectum.service.sheets.pictures.keep_picture", full)
    answer = upload(client, crates_jpeg)
    assert answer.status_code == 507 and "No space" in answer.get_json()["detail"]


def grey(values: list[int], bits: int) -> bytes:
    """A 64-row PNG of as many columns of grey as ``values``, each 64 px wide."""
    row = np.repeat(np.array(values), 64)
    return encoded(Image.fromarray(np.tile(row, (64, 1)).astype(np.uint8 if bits == 8 else np.uint16)), "PNG")


@pytest.mark.parametrize(("bits", "top"), [(8, 255), (16, 65535)])
def test_greys_keep_their_value_whatever_their_depth(bits: int, top: int) -> None:
    opened = open_picture(grey([0, top // 4, top // 2, top], bits))
    seen = np.asarray(Image.open(io.BytesIO(opened.original)))[32, 32::64].mean(axis=1)
    assert seen == pytest.approx([0, 63.75, 127.5, 255], abs=3)


@pytest.mark.parametrize(
    ("values", "expected"),
    [
        (np.array([0, 0.25, 1.0], np.float32), [0, 64, 255]),
        (np.array([0, 64, 255], np.float32), [0, 64, 255]),
        (np.array([0, 16384, 65535], np.float32), [0, 64, 255]),
        (np.array([-2, 0, 2], np.float32), [0, 128, 255]),
        (np.array([0, 64, 255], np.int32), [0, 64, 255]),
        (np.array([0, 16384, 65535], np.int32), [0, 64, 255]),
        (np.array([-1000, 0, 1000], np.int32), [0, 128, 255]),
        (np.array([np.nan, 0.5, 1.0], np.float32), [0, 128, 255]),
        (np.array([7e9, 7e9, 7e9], np.float32), [0, 0, 0]),
    ],
)
def test_deep_and_fractional_greys_are_brought_to_eight_bits_by_range(values: np.ndarray, expected: list[int]) -> None:
    """As a TIFF-like decoder hands them over: whole numbers of 32 bits, and fractions."""
    brought = np.asarray(in_colour(Image.fromarray(values[None, :])))
    assert brought.shape == (1, 3, 3)
    assert brought[0, :, 0] == pytest.approx(expected, abs=1)


def test_deep_colour_and_clear_pictures_keep_their_values() -> None:
    clear = photo().convert("RGBA")
    clear.putalpha(0)
    assert np.asarray(Image.open(io.BytesIO(open_picture(encoded(clear, "PNG")).original))).min() > 250
    assert in_colour(Image.new("LA", (70, 70), (40, 255))).getpixel((3, 3)) == (40, 40, 40)


@pytest.mark.usefixtures("pictures_anew")
def test_a_photo_is_opened_in_a_process_of_its_own_that_takes_its_memory_along(crates_jpeg: bytes) -> None:
    opened = open_isolated(crates_jpeg)
    assert (opened.width_px, opened.height_px, opened.focal_35mm) == (1280, 960, 28.0)
    assert opened == open_picture(crates_jpeg)
    with pytest.raises(PictureError, match="SVG"):
        open_isolated(b"<svg xmlns='http://www.w3.org/2000/svg'/>")


@pytest.mark.usefixtures("pictures_anew")
def test_a_decoder_that_dies_or_hangs_is_a_damaged_picture(monkeypatch: pytest.MonkeyPatch, crates_jpeg: bytes) -> None:
    monkeypatch.setattr("sys.executable", "/bin/false")
    with pytest.raises(PictureError, match="damaged"):
        open_isolated(crates_jpeg)
    monkeypatch.undo()
    monkeypatch.setattr("aspectum.pictures.isolated.PATIENCE_S", 0.01)
    with pytest.raises(PictureError, match="too long"):
        open_isolated(crates_jpeg)


def test_fifty_megapixels_are_opened_under_700_megabytes() -> None:
    """The child's peak, and what its parent holds when it is done."""
    program = (
        "import pathlib, resource, sys; from aspectum.pictures.isolated import open_isolated;"
        "open_isolated(sys.stdin.buffer.read()); print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss);"
        "print(pathlib.Path('/proc/self/status').read_text().split('VmRSS:')[1].split()[0])"
    )
    noise = np.random.default_rng(0).integers(0, 60, (500, 500, 3), np.uint8)
    data = encoded(Image.fromarray(np.tile(noise, (10, 19, 1))[:5000, :9500]), "JPEG")
    done = subprocess.run([sys.executable, "-c", program], input=data, capture_output=True, check=True)
    child, parent = (int(kilobytes) / 1024 for kilobytes in done.stdout.split())
    assert child < 700 and parent < 250
