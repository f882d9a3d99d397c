"""Pictures for engine.md, drawn from the engine's own maps: `python docs/engine_pictures.py`."""

import sys
from pathlib import Path as FilePath

sys.path.insert(0, str(FilePath(__file__).resolve().parent.parent))

import outline
from outline import Matrix, Path, PlanarMap
from outline.path.monotone import cut_monotone

OUT = FilePath(__file__).resolve().parent / "engine"
INK, SAND, MADDER, VERDIGRIS = "#22302f", "#c9bda4", "#b5432a", "#2b7a72"
COLORS = ("#c9bda4", "#a9c7bf", "#e0b7a6", "#d9cfa2", "#b9c3cf", "#cbb4c4", "#9fb58f", "#e3d3c1")


def save(name: str, width: float, height: float, body: str) -> None:
    """Write an SVG on the card colour."""
    box = f'viewBox="0 0 {width:g} {height:g}"'
    ground = f'<rect width="{width:g}" height="{height:g}" fill="#fcfaf5"/>'
    text = f'<svg xmlns="http://www.w3.org/2000/svg" {box} width="{width * 2:g}">{ground}{body}</svg>\n'
    (OUT / f"{name}.svg").write_text(text)


def drawn(path: Path, fill: str, stroke: str = INK, width: float = 0.8) -> str:
    """Return one path element."""
    return f'<path d="{path.to_svg(3)}" fill="{fill}" stroke="{stroke}" stroke-width="{width}"/>'


def scene() -> list[Path]:
    """Return three shapes that cross, touch and share an edge."""
    plate = outline.rectangle(90, 60, (12, 12, 12, 12)).transform(Matrix.move(15, 20))
    disc = outline.ellipse(26, 26, 100, 46)
    tab = Path.from_svg("M40 80C40 104 74 104 74 80Z")
    return [plate, disc, tab]


def main() -> None:
    """Draw all."""
    OUT.mkdir(exist_ok=True)
    paths = scene()
    body = ""
    k = 0
    for path in paths:
        ctrl, kind, _, _ = path.arrays
        for c in cut_monotone(ctrl, kind)[0]:
            d = "M{:.3f} {:.3f}C{:.3f} {:.3f} {:.3f} {:.3f} {:.3f} {:.3f}".format(*c)
            color = (INK, MADDER, VERDIGRIS)[k % 3]
            body += f'<path d="{d}" fill="none" stroke="{color}" stroke-width="1.6"/>'
            body += (
                f'<circle cx="{c[0]:.3f}" cy="{c[1]:.3f}" r="1.5" fill="#fcfaf5" stroke="{color}" stroke-width=".7"/>'
            )
            k += 1
    save("strands", 140, 110, body)

    m = PlanarMap(paths)
    body = "".join(drawn(c.path, COLORS[i % len(COLORS)]) for i, c in enumerate(m.cells))
    for cell in m.cells:
        try:
            x, y = outline.centroid(cell.path)
        except outline.OutlineError:
            continue
        words = "".join("ABC"[i] for i in sorted(cell.inside))
        body += f'<text x="{x:.1f}" y="{y + 2:.1f}" font-size="6" text-anchor="middle" fill="{INK}">{words}</text>'
    for x, y in m.vertices:
        body += f'<circle cx="{x:.3f}" cy="{y:.3f}" r="1.4" fill="{MADDER}"/>'
    save("map", 140, 110, body)

    answers = [
        ("union", [m.union()]),
        ("subtract", [m.subtract()]),
        ("intersect", [PlanarMap(paths[:2]).intersect()]),
        ("exclude", [m.exclude()]),
        ("divide", m.divide()),
        ("visible parts", m.visible_parts()),
        ("loose edges", m.loose_edges()),
        ("offset by 4", [outline.offset(m.union(), 4)]),
    ]
    body = ""
    for k, (name, regions) in enumerate(answers):
        x, y = 140 * (k % 4), 125 * (k // 4)
        inner = ""
        if name == "offset by 4":
            inner = drawn(m.union(), "none", VERDIGRIS, 0.6)
        for i, region in enumerate(regions):
            if name == "loose edges":
                inner += drawn(region.transform(Matrix.move(0, 0)), "none", (INK, MADDER, VERDIGRIS)[i % 3], 1.4)
            else:
                inner += drawn(region, "none" if "offset" in name else COLORS[i % len(COLORS)])
        body += (
            f'<g transform="translate({x} {y})">{inner}<text x="8" y="12" font-size="8" fill="{INK}">{name}</text></g>'
        )
    save("answers", 560, 250, body)

    rings = outline.ellipse(30, 30, 40, 55)
    line = Path.from_svg("M5 25H75V85H5Z")
    pieces = [outline.union([rings, line]), outline.exclude([rings, line])]
    touch = "".join(drawn(p.transform(Matrix.move(90 * i, 0)), SAND) for i, p in enumerate(pieces))
    save("touching", 180, 110, touch)


if __name__ == "__main__":
    main()
