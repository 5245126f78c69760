"""Pictures: taken in from a device, looked at, turned upright and written anew, so that nothing else comes along."""

from __future__ import annotations

import io
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

from .models import Picture

MOST_BYTES = 20_000_000
MOST_PIXELS = 60_000_000
LONG_SIDE, SMALL_SIDE = 2048, 360
KINDS = ("JPEG", "PNG", "WEBP", "MPO")  # MPO: what some phones call a JPEG with a second picture in it


class Unfit(Exception):
    """A picture that is not taken, and why."""


def clean(body: bytes) -> tuple[bytes, bytes, int, int]:
    """A picture as it is kept: JPEG, upright, without metadata, at most 2048 px, and a small one. Raises Unfit."""
    if len(body) > MOST_BYTES:
        raise Unfit(f"the picture is larger than {MOST_BYTES // 1_000_000} MB; let the camera take a smaller one")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(body), formats=KINDS) as opened:
                if opened.width * opened.height > MOST_PIXELS:
                    raise Unfit(f"the picture has more than {MOST_PIXELS // 1_000_000} million pixels")
                opened.draft("RGB", (LONG_SIDE, LONG_SIDE))
                upright = ImageOps.exif_transpose(opened).convert("RGB")
    except UnidentifiedImageError:
        raise Unfit("this is no picture that can be read; JPEG, PNG and WebP can") from None
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise Unfit("the picture unpacks to more than anything a camera takes") from None
    except (OSError, ValueError, SyntaxError, EOFError, MemoryError, OverflowError, IndexError, KeyError, TypeError):
        raise Unfit("the picture is damaged") from None
    upright.thumbnail((LONG_SIDE, LONG_SIDE))
    small = upright.copy()
    small.thumbnail((SMALL_SIDE, SMALL_SIDE))
    return _jpeg(upright, 86), _jpeg(small, 80), upright.width, upright.height


def _jpeg(image: Image.Image, quality: int) -> bytes:
    bare = Image.new("RGB", image.size)
    bare.paste(image)  # pixels only: what the camera wrote beside them stays behind
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=quality, optimize=True)
    return out.getvalue()


def keep(build_id: str, picture_id: str, body: bytes) -> Picture:
    """Keeps a picture under its id, once: sent again it is the one that there is. Raises Unfit."""
    known = Picture.objects.filter(build=build_id, picture_id=picture_id).first()
    if known is not None:
        return known
    whole, small, width, height = clean(body)
    return Picture.objects.get_or_create(
        build_id=build_id,
        picture_id=picture_id,
        defaults={"width": width, "height": height, "body": whole, "small": small},
    )[0]
