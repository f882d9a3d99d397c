"""Photographs that were never taken: seas, dunes and lights from noise and a little optics."""

import io
from collections.abc import Callable

import numpy as np
from PIL import Image, ImageCms, ImageFilter

from picture.photos.icc import DISPLAY_P3, rgb_profile

__all__ = ["SCENES", "make", "skerry_subject"]

Pixels = np.ndarray
"""Height × width × 3 floats, 0 to 1, in sRGB."""


def _noise(rng: np.random.Generator, w: int, h: int, cell_x: float, cell_y: float) -> np.ndarray:
    """Return smooth noise 0 to 1 with features of about the given size in px."""
    small = rng.random((max(2, int(h / cell_y) + 2), max(2, int(w / cell_x) + 2)), dtype=np.float32)
    return np.asarray(Image.fromarray(small).resize((w, h), Image.Resampling.BICUBIC)).clip(0, 1)


def _fractal(rng: np.random.Generator, w: int, h: int, cell: float, octaves: int, stretch: float = 1.0) -> np.ndarray:
    total, size, weight = np.zeros((h, w), np.float32), 1.0, 0.0
    for _ in range(octaves):
        total += size * _noise(rng, w, h, max(2.0, cell * stretch), max(2.0, cell))
        weight += size
        size, cell = size * 0.55, cell / 2
    return total / weight


def _mix(stops: list[tuple[float, tuple[int, int, int]]], t: np.ndarray) -> Pixels:
    at = [s for s, _ in stops]
    return np.stack([np.interp(t, at, [c[k] / 255 for _, c in stops]) for k in range(3)], axis=-1).astype(np.float32)


def _grid(w: int, h: int) -> tuple[np.ndarray, np.ndarray]:
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    return x / w, y / h


def _finish(rng: np.random.Generator, p: Pixels, grain: float = 0.012, vignette: float = 0.22) -> Pixels:
    h, w = p.shape[:2]
    x, y = _grid(w, h)
    falloff = 1 - vignette * ((x - 0.5) ** 2 + (y - 0.5) ** 2) * 2
    grainy = rng.normal(0, grain, (h, w, 1)).astype(np.float32)
    return (p * falloff[..., None] + grainy).clip(0, 1)


def _ridge(rng: np.random.Generator, w: int, base: float, height: float, cell: float) -> np.ndarray:
    line = _fractal(rng, w, 2, cell, 6, 1.0)[0]
    return base - height * (line - 0.35)


def dusk_sea(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """A low sun over the sea."""
    x, y = _grid(w, h)
    horizon = 0.46
    sky = _mix([(0, (38, 58, 88)), (0.28, (120, 110, 128)), (0.4, (214, 148, 108)), (0.47, (246, 212, 156))], y)
    clouds = _fractal(rng, w, h, h / 9, 5, 5.0)
    streak = np.clip((clouds - 0.52) * 4, 0, 1) * np.clip((horizon - y) * 5, 0, 1)
    sky += streak[..., None] * (np.array([0.35, 0.12, 0.02]) * 0.6)
    glow = np.exp(-(((x - 0.6) / 0.16) ** 2 + ((y - horizon + 0.03) / 0.09) ** 2))
    sky += glow[..., None] * np.array([0.35, 0.26, 0.12])
    disc = np.clip((0.023 - np.hypot((x - 0.6) * w / h, y - horizon + 0.045)) * 200, 0, 1)
    sky = sky * (1 - disc[..., None]) + disc[..., None] * np.array([1, 0.96, 0.82])
    depth = np.clip((y - horizon) / (1 - horizon), 0, 1)
    sea = _mix([(0, (196, 158, 128)), (0.12, (98, 112, 122)), (0.5, (44, 66, 78)), (1, (20, 36, 44))], depth)
    waves = np.zeros((h, w), np.float32)
    for k, cell in enumerate((h / 260, h / 110, h / 40)):
        part = _fractal(rng, w, h, cell, 2, 7.0)
        waves += part * np.clip(1 - abs(depth * 2 - k), 0, 1)
    glitter = np.exp(-(((x - 0.6) / (0.02 + 0.2 * depth)) ** 2)) * np.clip((waves - 0.5) * 9, 0, 1)
    sea += (waves - 0.5)[..., None] * 0.16 + glitter[..., None] * np.array([0.8, 0.55, 0.3]) * (
        1 - 0.4 * depth[..., None]
    )
    out = np.where((y < horizon)[..., None], sky, sea)
    ridge = _ridge(rng, w, horizon, 0.11, w / 5) + np.clip((x[0] - 0.42) * 0.4, 0, 1)
    land = (y > ridge[None]) & (y < horizon + 0.004)
    out[land] = np.array([0.12, 0.16, 0.19]) + 0.03 * waves[land][:, None]
    return _finish(rng, out)


def dune_ripples(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """Wind ripples in sand under a low light."""
    x, y = _grid(w, h)
    warp = _fractal(rng, w, h, h / 3, 4, 1.6)
    phase = (y * 1.15 + 0.12 * x + 0.5 * (warp - 0.5)) * (24 + 16 * y) * 2 * np.pi
    height = np.sin(phase) + 0.35 * np.sin(2 * phase + 1.1) + 0.9 * (warp - 0.5)
    light = np.gradient(height, axis=0) * h / 160 + 0.4 * np.gradient(height, axis=1) * w / 160
    shade = 0.56 - 0.16 * np.tanh(light) + 0.08 * (warp - 0.5)
    grains = rng.normal(0, 0.035, (h, w)).astype(np.float32)
    t = (shade + grains).clip(0, 1)
    return _finish(
        rng, _mix([(0, (70, 48, 34)), (0.4, (168, 128, 90)), (0.65, (222, 190, 146)), (1, (252, 238, 212))], t)
    )


def headlands(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """Headlands one behind another in the haze."""
    x, y = _grid(w, h)
    out = _mix([(0, (150, 176, 190)), (0.5, (222, 222, 210)), (0.62, (238, 226, 204))], y)
    for k in range(6):
        near = k / 5
        base = 0.46 + 0.075 * k
        line = (
            _ridge(rng, w, base, 0.24 - 0.015 * k, w / (2.2 + k * 0.7)) + 0.14 * np.abs(x[0] - (0.2 + 0.13 * k)) ** 1.5
        )
        color = np.array([0.66, 0.73, 0.74]) * (1 - near) + np.array([0.10, 0.19, 0.18]) * near
        cover = np.clip((y - line[None]) * h / 2.5, 0, 1)[..., None]
        mist = np.clip((y - line[None]) * 3.2, 0, 0.6)[..., None] * (1 - near)
        texture = (_fractal(rng, w, h, h / (18 + 8 * k), 4) - 0.5)[..., None] * 0.1 * (0.3 + near)
        land = (color + texture) * (1 - mist) + np.array([0.9, 0.88, 0.82]) * mist
        out = out * (1 - cover) + land * cover
    sea = np.clip((y - 0.9) * 40, 0, 1)[..., None]
    ripple = (_fractal(rng, w, h, h / 120, 3, 8.0) - 0.5)[..., None] * 0.2
    return _finish(rng, out * (1 - sea) + (np.array([0.36, 0.45, 0.47]) + ripple) * sea)


def harbour_lights(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """Harbour lights out of focus at night."""
    _, y = _grid(w, h)
    out = _mix([(0, (8, 14, 30)), (0.5, (26, 34, 54)), (0.62, (44, 44, 56)), (1, (8, 14, 22))], y)
    colors = np.array([[1, 0.72, 0.35], [1, 0.86, 0.6], [0.5, 0.8, 1], [1, 0.4, 0.3], [0.55, 1, 0.75]])
    for _ in range(90):
        r = h * rng.uniform(0.012, 0.055)
        cx, cy = rng.uniform(-0.05, 1.05) * w, h * rng.normal(0.54, 0.09)
        x0, x1 = int(max(0, cx - r - 3)), int(min(w, cx + r + 3))
        color = colors[rng.choice(5, p=[0.4, 0.3, 0.14, 0.1, 0.06])] * rng.uniform(0.14, 0.5)
        for mirror, strength in ((cy, 1.0), (1.24 * h - cy, 0.35)):
            stretch = 1.0 if strength == 1.0 else 2.4
            y0, y1 = int(max(0, mirror - r * stretch - 3)), int(min(h, mirror + r * stretch + 3))
            if x1 <= x0 or y1 <= y0:
                continue
            dy = (np.arange(y0, y1)[:, None] - mirror) / stretch
            d = np.hypot(np.arange(x0, x1)[None] - cx, dy)
            disc = np.clip(r - d, 0, 1.5) / 1.5 * (0.75 + 0.35 * np.exp(-(((d - r * 0.93) / (r * 0.08)) ** 2)))
            out[y0:y1, x0:x1] += (disc * strength)[..., None] * color
    out += (_fractal(rng, w, h, h / 90, 2, 9.0) - 0.5)[..., None] * np.clip((y - 0.62) * 0.25, 0, 0.07)[..., None]
    return _finish(rng, out, 0.016, 0.4)


def pebbles(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """Wet pebbles from above."""
    scale = 4
    sw, sh = w // scale, h // scale
    count = 420
    points = np.stack([rng.uniform(0, sw, count), rng.uniform(0, sh, count)], axis=1)
    best = np.full((sh, sw), np.inf, np.float32)
    second = best.copy()
    owner = np.zeros((sh, sw), np.int32)
    yy, xx = np.mgrid[0:sh, 0:sw].astype(np.float32)
    warp_x = (_fractal(rng, sw, sh, sh / 8, 3) - 0.5) * 30
    warp_y = (_fractal(rng, sw, sh, sh / 8, 3) - 0.5) * 30
    for k, (px, py) in enumerate(points):
        d = np.hypot(xx + warp_x - px, (yy + warp_y - py) * 1.2)
        closer = d < best
        second = np.where(closer, best, np.minimum(second, d))
        best = np.where(closer, d, best)
        owner[closer] = k
    up = (w, h)
    round_ = np.asarray(Image.fromarray(np.clip((second - best) / 17, 0, 1)).resize(up, Image.Resampling.BICUBIC))
    tone = rng.random(count).astype(np.float32)
    hue = _mix(
        [(0, (52, 60, 66)), (0.3, (118, 112, 104)), (0.5, (158, 130, 104)), (0.75, (196, 186, 170)), (1, (96, 70, 60))],
        tone,
    )
    colors = np.stack(
        [np.asarray(Image.fromarray(hue[owner][..., k]).resize(up, Image.Resampling.BILINEAR)) for k in range(3)],
        axis=-1,
    )
    dome = np.sqrt(np.clip(round_, 0, 1))
    light = np.gradient(dome, axis=0) * -h / 30 + np.gradient(dome, axis=1) * -w / 45
    speck = (_fractal(rng, w, h, h / 160, 3) - 0.5)[..., None] * 0.25
    out = (colors + speck) * (0.25 + 0.75 * dome[..., None]) + np.clip(light, -0.5, 0.6)[..., None] * 0.3
    return _finish(rng, out)


def lamp_lens(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """The ring lens of a lamp room, lit from behind."""
    x, y = _grid(w, h)
    dx, dy = (x - 0.5) * w / h, y - 0.5
    r = np.hypot(dx, dy)
    ring = (r / 0.034) % 1.0
    glass = 0.35 + 0.5 * ring**2 - 0.22 * (ring > 0.93)
    angle = np.arctan2(dy, dx)
    sheen = 0.75 + 0.25 * np.cos(3 * angle + 9 * np.floor(r / 0.034) * 0.37)
    warm = np.exp(-((r / 0.22) ** 2))
    lit = [(0, (10, 24, 28)), (0.4, (44, 92, 92)), (0.75, (172, 196, 170)), (1, (255, 250, 226))]
    out = _mix(lit, glass * sheen * np.exp(-r * 1.1))
    out += warm[..., None] * np.array([0.9, 0.62, 0.25])
    frame = (np.abs(np.abs(dx) - 0.62) < 0.022) | (np.abs(np.abs(dy) - 0.47) < 0.018)
    brass = np.array([0.42, 0.30, 0.14]) * (0.7 + 0.5 * _fractal(rng, w, h, h / 40, 3)[..., None])
    out = np.where(frame[..., None], brass, out)
    dust = np.clip((_fractal(rng, w, h, h / 200, 2) - 0.62) * 3, 0, 1)[..., None]
    return _finish(rng, out + 0.12 * dust, 0.012, 0.5)


def _skerry_rock(w: int) -> np.ndarray:
    """Return the height of the rock at each column, as a share of the picture's; 1 where there is none."""
    rng = np.random.default_rng(20270301)
    x = np.linspace(0, 1, w, dtype=np.float32)
    rough = _fractal(rng, w, 2, w / 14, 5)[0] - 0.5
    rise = np.clip(1 - ((x - 0.5) / 0.34) ** 2, 0, 1) ** 0.6
    return np.where(rise > 0, 0.88 - 0.16 * rise - 0.05 * rough * np.minimum(1, 3 * rise), 1.0)


def skerry_subject(w: int, h: int) -> np.ndarray:
    """Return the mask of the rock with its tower and house in the scene "skerry-light" (h, w), True inside."""
    x, y = _grid(w, h)
    dx = np.abs(x - 0.56) * w / h
    part = [
        (y > _skerry_rock(w)[None]) & (y < 0.885 + 0.006 * np.sin(40 * x)),
        (dx < 0.036 + 0.026 * (y - 0.26) / 0.48) & (y > 0.26) & (y < 0.76),  # the tower
        (dx < 0.055) & (y > 0.245) & (y < 0.264),  # its gallery
        (dx < 0.03) & (y > 0.175) & (y < 0.25),  # the lantern
        (dx < 0.036)
        & (y > 0.14)
        & (y < 0.18)
        & (dx / 0.036 < np.sqrt(np.clip((y - 0.14) / 0.04, 0, None))),  # the dome
        (dx < 0.004) & (y > 0.11) & (y < 0.15),
    ]
    hx, gable = (x - 0.4) * w / h, 0.635
    part.append((np.abs(hx) < 0.11) & (y > gable) & (y < 0.77))  # the keeper's house
    part.append(
        (np.abs(hx) < 0.125)
        & (y > gable - 0.055)
        & (y < gable + 0.005)
        & (np.abs(hx) < 0.125 * (y - gable + 0.1) / 0.1)
    )
    part.append((np.abs(hx - 0.06) < 0.014) & (y > gable - 0.075) & (y < gable))
    return np.logical_or.reduce(part)


def skerry_light(rng: np.random.Generator, w: int, h: int) -> Pixels:
    """A light on a rock in the sea, before a clear evening."""
    x, y = _grid(w, h)
    horizon = 0.8
    sky = _mix([(0, (74, 112, 146)), (0.45, (150, 176, 184)), (0.72, (232, 208, 170)), (0.8, (246, 224, 186))], y)
    clouds = _fractal(rng, w, h, h / 8, 5, 4.0)
    sky += np.clip((clouds - 0.5) * 2, 0, 1)[..., None] * np.array([0.16, 0.12, 0.08])
    depth = np.clip((y - horizon) / (1 - horizon), 0, 1)
    sea = _mix([(0, (170, 178, 170)), (0.2, (110, 138, 146)), (1, (58, 90, 106))], depth)
    sea += (_fractal(rng, w, h, h / 150, 3, 8.0) - 0.5)[..., None] * 0.16
    out = np.where((y < horizon)[..., None], sky, sea)
    stone = _mix([(0, (34, 36, 38)), (1, (92, 84, 74))], _fractal(rng, w, h, h / 50, 5))
    dx = (x - 0.56) * w / h
    round_ = np.clip(1 - ((dx + 0.012) / 0.075) ** 2, 0.25, 1)
    bands = (np.floor((y - 0.26) / 0.084) % 2).astype(np.int32)
    tower = (
        np.where(bands[..., None] == 1, np.array([0.42, 0.12, 0.09]), np.array([0.5, 0.47, 0.42])) * round_[..., None]
    )
    tower = np.where(((y < 0.27) & (np.abs(dx) < 0.06))[..., None], np.array([0.1, 0.11, 0.12]), tower)
    house = np.where((y < 0.64)[..., None], np.array([0.24, 0.13, 0.1]), np.array([0.44, 0.4, 0.34]))
    house = house * (0.85 + 0.3 * _fractal(rng, w, h, h / 70, 3)[..., None])
    pane = (np.abs((x - 0.4) * w / h % 0.07 - 0.035) < 0.012) & (y > 0.67) & (y < 0.71)
    house = np.where(pane[..., None], np.array([0.12, 0.14, 0.16]), house)
    subject = skerry_subject(w, h)
    rock = y > np.minimum(_skerry_rock(w)[None], 0.99)
    thing = np.where((np.abs(dx) < 0.07)[..., None], tower, house)
    thing = np.where(rock[..., None], stone, thing)
    out = np.where(subject[..., None], thing, out)
    lamp = np.exp(-(((dx) / 0.012) ** 2 + ((y - 0.215) / 0.02) ** 2))
    out += lamp[..., None] * np.array([0.9, 0.7, 0.3])
    return _finish(rng, out, 0.012, 0.2)


SCENES: dict[str, Callable[[np.random.Generator, int, int], Pixels]] = {
    "dusk-sea": dusk_sea,
    "dune-ripples": dune_ripples,
    "headlands": headlands,
    "harbour-lights": harbour_lights,
    "pebbles": pebbles,
    "lamp-lens": lamp_lens,
    "skerry-light": skerry_light,
}


def _exif(orientation: int) -> Image.Exif:
    exif = Image.Exif()
    exif[0x010F], exif[0x0110] = "Marram", "Marram One"
    exif[0x0112] = orientation
    exif[0x011A] = exif[0x011B] = 300.0
    exif[0x0128] = 2
    exif[0x0132] = "2027:03:01 18:42:00"
    return exif


def make(name: str, width: int = 3000, height: int = 2000, take: int = 0) -> bytes:
    """Return scene `name` as a camera's JPEG: EXIF, a colour profile, and for some a turned sensor.

    Another `take` is another picture of the same scene.

    The dunes have a wide-gamut profile and the lamp lens comes from a turned
    camera, so that the demo exercises both.
    """
    rng = np.random.default_rng(sum(map(ord, name)) + 1000 * take)
    pixels = SCENES[name](rng, width, height)
    image = Image.fromarray((pixels * 255 + 0.5).astype(np.uint8)).filter(ImageFilter.GaussianBlur(0.6))
    srgb = ImageCms.createProfile("sRGB")
    profile = ImageCms.ImageCmsProfile(srgb).tobytes()
    orientation = 1
    if name == "dune-ripples":
        profile = rgb_profile("Marram wide", DISPLAY_P3)
        wide = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        image = ImageCms.profileToProfile(image, srgb, wide, outputMode="RGB") or image
    if name == "lamp-lens":
        # EXIF 6 is shown turned a quarter clockwise, so it is stored turned a quarter back
        image, orientation = image.transpose(Image.Transpose.ROTATE_90), 6
    out = io.BytesIO()
    image.save(out, "JPEG", quality=90, exif=_exif(orientation), icc_profile=profile, dpi=(300, 300))
    return out.getvalue()
