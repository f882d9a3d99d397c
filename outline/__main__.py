"""`python -m outline union|subtract|intersect|exclude|divide FILE.svg … -o OUT.svg` for people who script.

The shapes of the files are taken one file after another, in document order: path, rect, circle, ellipse,
polygon, polyline and line, with their transforms. Subtract takes the first as the base.
Exit codes: 0 done, 1 the outlines cannot be combined, 2 the file cannot be read or
written, 64 the call is wrong.
"""

import argparse
import re
import sys
from pathlib import Path as FilePath
from xml.etree import ElementTree

from .engine.operations import divide, exclude, intersect, subtract, union
from .path.errors import OutlineError, PathError
from .path.matrix import Matrix
from .path.path import Path
from .shapes.shapes import ellipse, rectangle

OPERATIONS = ("union", "subtract", "intersect", "exclude", "divide")
SVG = "{http://www.w3.org/2000/svg}"
_CALL = re.compile(r"(\w+)\s*\(([^)]*)\)")


class ReadError(Exception):
    """The file isn’t a usable SVG."""


def _transform(text: str | None) -> Matrix:
    m = Matrix()
    for name, inside in _CALL.findall(text or ""):
        v = [float(x) for x in re.split(r"[\s,]+", inside.strip()) if x]
        if name == "matrix" and len(v) == 6:
            m = m @ Matrix(*v)
        elif name == "translate" and v:
            m = m @ Matrix.move(v[0], v[1] if len(v) > 1 else 0.0)
        elif name == "scale" and v:
            m = m @ Matrix.resize(v[0], v[1] if len(v) > 1 else v[0])
        elif name == "rotate" and v:
            m = m @ Matrix.turn(v[0], (v[1], v[2]) if len(v) > 2 else (0.0, 0.0))
        else:
            raise ReadError(f"the transform {name}({inside}) is not understood; flatten it first")
    return m


def _shape(tag: str, get: dict[str, str]) -> Path | None:
    def n(name: str) -> float:
        return float(re.sub(r"(px)?\s*$", "", get.get(name, "0")) or 0)

    rule = "evenodd" if "evenodd" in get.get("fill-rule", "") + get.get("style", "") else "nonzero"
    if tag == "path":
        return Path.from_svg(get.get("d", ""), rule)
    if tag == "rect":
        rx, ry = n("rx") or n("ry"), n("ry") or n("rx")
        if rx != ry:
            raise ReadError("a rect with two different corner radii is not understood; make it a path")
        return rectangle(n("width"), n("height"), (rx, rx, rx, rx)).transform(Matrix.move(n("x"), n("y")))
    if tag == "circle":
        return ellipse(n("r"), n("r"), n("cx"), n("cy"))
    if tag == "ellipse":
        return ellipse(n("rx"), n("ry"), n("cx"), n("cy"))
    if tag in ("polygon", "polyline"):
        v = [float(x) for x in re.findall(r"[-+.\deE]+", get.get("points", ""))]
        return Path.from_points(list(zip(v[::2], v[1::2], strict=True)), closed=tag == "polygon", fill_rule=rule)
    if tag == "line":
        return Path.from_points([(n("x1"), n("y1")), (n("x2"), n("y2"))], closed=False)
    return None


def read_shapes(text: str) -> tuple[list[Path], str]:
    """Return the shapes of SVG `text` in document order and its viewBox. Raises ReadError naming the shape."""
    try:
        root = ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise ReadError(f"this is no XML: {error}") from None
    if root.tag not in (f"{SVG}svg", "svg"):
        raise ReadError("this isn’t an SVG: its first element is not svg")
    found: list[Path] = []

    def visit(element: ElementTree.Element, m: Matrix) -> None:
        tag = element.tag.removeprefix(SVG) if isinstance(element.tag, str) else ""
        if tag in ("defs", "clipPath", "mask", "symbol", "pattern", "marker"):
            return
        try:
            here = m @ _transform(element.get("transform"))
            shape = _shape(tag, dict(element.attrib))
        except (PathError, ValueError) as error:
            name = element.get("id") or f"shape {len(found) + 1}"
            raise ReadError(f"{tag} “{name}”: {error}") from None
        if shape is not None and not shape.is_empty:
            found.append(shape.transform(here))
        for child in element:
            visit(child, here)

    visit(root, Matrix())
    return found, root.get("viewBox", "")


def _combine(operation: str, paths: list[Path]) -> list[Path]:
    if operation == "union":
        return [union(paths)]
    if operation == "subtract":
        return [subtract(paths[0], paths[1:])]
    if operation == "intersect":
        return [intersect(paths)]
    if operation == "exclude":
        return [exclude(paths)]
    closed = [p for p in paths if p.is_closed]
    return divide(closed, [p for p in paths if not p.is_closed])


def write_shapes(paths: list[Path], view_box: str) -> str:
    """Return an SVG file of `paths`, with the first file's viewBox or, if it has none, the paths' own box."""
    boxes = [p.bounds for p in paths if p.bounds]
    if not view_box and boxes:
        x0, y0 = min(b[0] for b in boxes), min(b[1] for b in boxes)
        x1, y1 = max(b[2] for b in boxes), max(b[3] for b in boxes)
        view_box = f"{x0:g} {y0:g} {x1 - x0:g} {y1 - y0:g}"
    box = f' viewBox="{view_box}"' if view_box else ""
    drawn = "".join(f'  <path d="{p.to_svg()}"/>\n' for p in paths if not p.is_empty)
    return f'<svg xmlns="http://www.w3.org/2000/svg"{box}>\n{drawn}</svg>\n'


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> None:  # type: ignore[override]
        self.print_usage(sys.stderr)
        self.exit(64, f"outline: {message}\n")


def main(arguments: list[str] | None = None, name: str = "outline") -> int:
    """Run the command line; return the exit code."""
    example = f"For example: {name} subtract plate.svg holes.svg -o card.svg"
    parser = _Parser(prog=name, description=__doc__.split("\n\n")[1], epilog=example)
    parser.add_argument("operation", choices=OPERATIONS)
    parser.add_argument("files", nargs="+", metavar="file", help="an SVG file, or - for standard input")
    parser.add_argument("-o", "--output", default="-", help="the SVG file to write (default: standard output)")
    asked = parser.parse_args(arguments)
    paths: list[Path] = []
    box, at = "", asked.files[0]
    try:
        for at in asked.files:
            text = sys.stdin.read() if at == "-" else FilePath(at).read_text(encoding="utf-8")
            shapes, view_box = read_shapes(text)
            if not shapes:
                raise ReadError("there is no shape in it")
            # the first file's viewBox is used for the result
            box, paths = box if paths else view_box, paths + shapes
        result = _combine(asked.operation, paths)
        out = write_shapes(result, box)
        if asked.output == "-":
            sys.stdout.write(out)
        else:
            at = asked.output
            FilePath(at).write_text(out, encoding="utf-8")
    except (OSError, UnicodeDecodeError, ReadError) as error:
        print(f"outline: {at}: {error}", file=sys.stderr)
        return 2
    except OutlineError as error:
        print(f"outline: {error}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
