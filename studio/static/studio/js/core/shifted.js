// Moving what Python drew: its numbers are shifted as they are, without asking for the drawing again.

// The numbers of a text, with a space between them, shifted by those of `by` in turn.
const shifted = (text, by) =>
  text
    .split(" ")
    .map((v, k) => Math.round((Number(v) + by[k % by.length]) * 1e6) / 1e6)
    .join(" ");

// Path data as Python writes it (absolute M, L, H, V, C and Z), moved.
export const shiftedPath = (d, dx, dy) =>
  d.replace(
    /([MLHVC])([^MLHVCZ]+)/g,
    (_, letter, numbers) => letter + shifted(numbers, { H: [dx], V: [dy] }[letter] || [dx, dy]),
  );
export const shiftedBox = (text, dx, dy) => shifted(text, [dx, dy]);
// A frame is a width, a height and a matrix.
export const shiftedFrame = (text, dx, dy) => shifted(text, [0, 0, 0, 0, 0, 0, dx, dy]);

// Move the group of a plain piece: see `moved_by` in picture/draw/screen.py.
export function shift(group, dx, dy) {
  const data = group.dataset;
  data.box = shiftedBox(data.box, dx, dy);
  data.frame = shiftedFrame(data.frame, dx, dy);
  data.outline = shiftedPath(data.outline, dx, dy);
  for (const path of group.querySelectorAll("path"))
    path.setAttribute("d", shiftedPath(path.getAttribute("d"), dx, dy));
}
