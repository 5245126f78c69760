"""What little of colour the bench needs: how light a paint is."""

from __future__ import annotations


def lightness_of(srgb: str) -> float:
    """L* (CIE 1976), 0–100, of a colour as `#rrggbb`: sRGB decoded (IEC 61966-2-1), luminance by its primaries.

    >>> [round(lightness_of(c)) for c in ("#000000", "#777777", "#ffffff")]
    [0, 50, 100]
    """
    parts = [int(srgb[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    y = 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
    return 116 * y ** (1 / 3) - 16 if y > 216 / 24389 else y * 24389 / 27
