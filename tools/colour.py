"""Colour arithmetic for the theme's checks: OKLCH to sRGB, contrast, colour-blind vision, difference.

Sources: CSS Color 4 (OKLab); WCAG 2.2 (contrast); Machado, Oliveira, Fernandes, "A Physiologically-based
Model for Simulation of Color Vision Deficiency", 2009 (severity 1.0); CIEDE2000 as in Sharma and
others, 2005.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Colour = NDArray[np.float64]

DEFICIENCIES: dict[str, Colour] = {
    "protanopia": np.array(
        [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]]
    ),
    "deuteranopia": np.array(
        [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]]
    ),
    "tritanopia": np.array(
        [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.303900]]
    ),
}


def linear_rgb(lightness: float, chroma: float, hue_degrees: float) -> Colour:
    """Linear sRGB of an OKLCH colour, clipped to the gamut."""
    a = chroma * math.cos(math.radians(hue_degrees))
    b = chroma * math.sin(math.radians(hue_degrees))
    lms = np.array(
        [
            lightness + 0.3963377774 * a + 0.2158037573 * b,
            lightness - 0.1055613458 * a - 0.0638541728 * b,
            lightness - 0.0894841775 * a - 1.2914855480 * b,
        ]
    )
    to_rgb = np.array(
        [
            [4.0767416621, -3.3077115913, 0.2309699292],
            [-1.2684380046, 2.6097574011, -0.3413193965],
            [-0.0041960863, -0.7034186147, 1.7076147010],
        ]
    )
    return np.clip(to_rgb @ lms**3, 0, 1)


def luminance(rgb: Colour) -> float:
    """Relative luminance of linear sRGB."""
    return float(rgb @ np.array([0.2126, 0.7152, 0.0722]))


def contrast(one: Colour, other: Colour) -> float:
    """WCAG contrast of two linear sRGB colours, 1 to 21."""
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def seen_with(deficiency: str, rgb: Colour) -> Colour:
    """Linear sRGB as somebody with the deficiency sees it."""
    return np.clip(DEFICIENCIES[deficiency] @ rgb, 0, 1)


def lab(rgb: Colour) -> Colour:
    """CIE L*a*b* (D65) of linear sRGB."""
    to_xyz = np.array(
        [
            [0.4124564, 0.3575761, 0.1804375],
            [0.2126729, 0.7151522, 0.0721750],
            [0.0193339, 0.1191920, 0.9503041],
        ]
    )
    ratio = to_xyz @ rgb / np.array([0.95047, 1.0, 1.08883])
    f = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def difference(one: Colour, other: Colour) -> float:
    """CIEDE2000 of two linear sRGB colours."""
    l1, a1, b1 = lab(one)
    l2, a2, b2 = lab(other)
    mean_chroma7 = ((math.hypot(a1, b1) + math.hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - math.sqrt(mean_chroma7 / (mean_chroma7 + 25**7)))
    a1, a2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = math.hypot(a1, b1), math.hypot(a2, b2)
    h1, h2 = math.degrees(math.atan2(b1, a1)) % 360, math.degrees(math.atan2(b2, a2)) % 360
    turn = (h2 - h1 + 180) % 360 - 180 if c1 * c2 else 0.0
    dl, dc, dh = l2 - l1, c2 - c1, 2 * math.sqrt(c1 * c2) * math.sin(math.radians(turn / 2))
    ml, mc, mh = (l1 + l2) / 2, (c1 + c2) / 2, (h1 + turn / 2) % 360 if c1 * c2 else h1 + h2
    t = (
        1
        - 0.17 * math.cos(math.radians(mh - 30))
        + 0.24 * math.cos(math.radians(2 * mh))
        + 0.32 * math.cos(math.radians(3 * mh + 6))
        - 0.20 * math.cos(math.radians(4 * mh - 63))
    )
    sl = 1 + 0.015 * (ml - 50) ** 2 / math.sqrt(20 + (ml - 50) ** 2)
    sc, sh = 1 + 0.045 * mc, 1 + 0.015 * mc * t
    rt = (
        -2
        * math.sqrt(mc**7 / (mc**7 + 25**7))
        * math.sin(math.radians(60 * math.exp(-(((mh - 275) / 25) ** 2))))
    )
    return math.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rt * (dc / sc) * (dh / sh))
