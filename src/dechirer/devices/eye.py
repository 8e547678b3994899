"""What a machine's camera sees of a printed sheet: paper of some colour, noise, blur, glare, a mark that is dirty."""

from __future__ import annotations

from typing import Any

import numpy as np
from msgspec import Struct


class Light(Struct, frozen=True):
    """How a sheet is looked at. `paper` is its colour (red, green, blue from 0 to 1); `noise` is of 255; `blur` in px;
    `uneven` the share the light falls off by across the sheet; `glare` how bright a reflection is, 0 to 1."""

    paper: tuple[float, float, float] = (1.0, 1.0, 1.0)
    noise: float = 3.0
    blur: float = 0.8
    uneven: float = 0.1
    glare: float = 0.0
    seed: int = 0


class Spot(Struct, frozen=True):
    """A spot that covers ink: its middle and size in mm, and how grey it is (0 black, 1 white)."""

    x: float
    y: float
    width: float
    height: float
    grey: float = 0.6


def look_at(picture: Any, size: tuple[float, float], light: Light, spots: tuple[Spot, ...] = ()) -> Any:
    """A sheet's picture (h, w, 3) as a camera sees it, in grey (h, w), 0 to 255.

    Args:
        size: width and height of the sheet in mm.
    """
    random = np.random.default_rng(light.seed)
    grey = (picture.astype(np.float32) * np.array(light.paper, dtype=np.float32)).mean(axis=2)
    high, wide = grey.shape
    for spot in spots:
        across, down = wide / size[0], high / size[1]
        rows = slice(max(0, round((spot.y - spot.height / 2) * down)), round((spot.y + spot.height / 2) * down))
        columns = slice(max(0, round((spot.x - spot.width / 2) * across)), round((spot.x + spot.width / 2) * across))
        grey[rows, columns] = 255.0 * spot.grey
    if light.blur > 0:
        grey = _blurred(grey, light.blur)
    if light.uneven:
        fall = 1 - light.uneven * np.linspace(0, 1, wide, dtype=np.float32)
        grey = grey * fall
    if light.glare:
        x, y = random.uniform(0.2, 0.8, 2)
        across, down = np.linspace(0, 1, wide) - x, np.linspace(0, 1, high) - y
        shine = np.exp(-(down[:, None] ** 2 + across[None, :] ** 2) / 0.08)
        grey = grey + (255.0 - grey) * (light.glare * shine).astype(np.float32)
    grey = grey + random.normal(0.0, light.noise, grey.shape).astype(np.float32)
    return np.clip(grey, 0, 255).astype(np.uint8)


def _blurred(grey: Any, sigma: float) -> Any:
    """Blurred by a Gaussian, along rows and then along columns."""
    reach = max(1, int(3 * sigma + 0.5))
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / sigma) ** 2)
    kernel /= kernel.sum()
    for axis in (0, 1):
        padded = np.pad(grey, [(reach, reach) if each == axis else (0, 0) for each in (0, 1)], mode="edge")
        total = np.zeros_like(grey)
        for step, weight in enumerate(kernel):
            take = [slice(None), slice(None)]
            take[axis] = slice(step, step + grey.shape[axis])
            total += np.float32(weight) * padded[tuple(take)]
        grey = total
    return grey
