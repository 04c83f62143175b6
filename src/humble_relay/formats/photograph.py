"""A photograph made small and plain: JPEG without anything that was written into it (where, when, by which camera)."""

import io

from PIL import Image, ImageOps

LARGEST_JPEG_BYTES = 2_000_000
_LARGEST_PIXELS = 60_000_000
_LONGEST_PX = 2000
_QUALITIES = (85, 70, 50, 30)


class UnreadablePhotograph(ValueError):
    """What was sent is no photograph that can be read; the message says what to do."""


def plain_jpeg(data: bytes) -> bytes:
    """The picture as JPEG of at most 2000 px and 2 MB, turned as it was taken, without EXIF, profiles or comments.

    Decodes what a stranger sent: to be called where memory and time are bounded. Raises UnreadablePhotograph.
    """
    try:
        with Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP")) as found:
            if found.width * found.height > _LARGEST_PIXELS:
                raise UnreadablePhotograph(
                    f"The picture has {found.width * found.height / 1e6:.0f} million pixels; send one of at most {_LARGEST_PIXELS / 1e6:.0f}."
                )
            picture = ImageOps.exif_transpose(found).convert("RGB")
    except UnreadablePhotograph:
        raise
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise UnreadablePhotograph(
            f"This is no picture that can be read ({type(error).__name__}): send it as JPEG, PNG or WebP."
        ) from None
    picture.thumbnail((_LONGEST_PX, _LONGEST_PX))
    bare = Image.new("RGB", picture.size)  # nothing that was written into the file comes along
    bare.paste(picture)
    for quality in _QUALITIES:
        written = io.BytesIO()
        bare.save(written, "JPEG", quality=quality, optimize=True)
        if written.tell() <= LARGEST_JPEG_BYTES:
            break
    return written.getvalue()
