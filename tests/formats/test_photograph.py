"""Photographs: turned as they were taken, small, and with nothing of what the camera wrote into them."""

import io
import os

import pytest
from PIL import Image

from humble_relay.formats.photograph import LARGEST_JPEG_BYTES, UnreadablePhotograph, plain_jpeg


def taken(width: int, height: int, kind: str = "JPEG", noise: bool = False, **more: object) -> bytes:
    """A file as a camera writes it: dark above, light below."""
    picture = Image.new("RGB", (width, height), "white")
    picture.paste("black", (0, 0, width, height // 2))
    if noise:
        picture = Image.frombytes("RGB", (width, height), os.urandom(3 * width * height))
    written = io.BytesIO()
    picture.save(written, kind, **more)  # type: ignore[arg-type]
    return written.getvalue()


def test_where_it_was_taken_and_by_which_camera_stays_on_the_phone() -> None:
    exif = Image.Exif()
    exif[0x010F], exif[0x0112] = "Teasel", 6  # Make, and Orientation: turned by a quarter (Exif 2.3, §4.6.4)
    exif.get_ifd(0x8825)[1] = "N"  # GPSLatitudeRef
    found = plain_jpeg(taken(400, 300, exif=exif, comment=b"key is tide-table"))
    assert b"Exif" not in found and b"Teasel" not in found and b"tide-table" not in found
    with Image.open(io.BytesIO(found)) as picture:
        assert picture.format == "JPEG" and picture.size == (300, 400) and not picture.getexif()
        bright = [picture.getpixel(at)[0] for at in ((290, 200), (10, 200))]  # type: ignore[index]
        assert bright[0] < 60 and bright[1] > 200  # what was above is at the right, as the phone was held


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_any_photograph_of_a_phone_is_made_small(kind: str) -> None:
    found = plain_jpeg(taken(3000, 2600, kind, noise=True))
    with Image.open(io.BytesIO(found)) as picture:
        assert max(picture.size) == 2000 and len(found) <= LARGEST_JPEG_BYTES


@pytest.mark.parametrize("data", [b"", b"GIF89a" + bytes(40), b"<svg xmlns='http://www.w3.org/2000/svg'/>", taken(64, 64)[:300]])  # fmt: skip
def test_what_is_no_photograph_says_so(data: bytes) -> None:
    with pytest.raises(UnreadablePhotograph, match="JPEG, PNG or WebP"):
        plain_jpeg(data)


def test_a_picture_that_would_fill_the_memory_is_not_decoded() -> None:
    with pytest.raises(UnreadablePhotograph, match="million pixels"):
        plain_jpeg(taken(12_000, 6_000, "PNG"))
