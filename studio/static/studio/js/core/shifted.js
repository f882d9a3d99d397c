// Moving what Python drew: its numbers are shifted as they are, without asking for the drawing again.

const rounded = (value) => String(Math.round(value * 1e6) / 1e6);
const sum = (text, by) => rounded(Number(text) + by);

// Path data as Python writes it (absolute M, L, H, V, C and Z, a space between numbers), moved.
export function shiftedPath(d, dx, dy) {
  return d.replace(/([MLHVC])([^MLHVCZ]+)/g, (_, letter, numbers) => {
    const by = { H: [dx], V: [dy] }[letter] || [dx, dy];
    return (
      letter +
      numbers
        .split(" ")
        .map((v, k) => sum(v, by[k % by.length]))
        .join(" ")
    );
  });
}

// The data of a plain piece's group, moved: its box, and its frame (width, height, matrix).
export function shiftedBox(text, dx, dy) {
  return text
    .split(" ")
    .map((v, k) => sum(v, k % 2 ? dy : dx))
    .join(" ");
}
export function shiftedFrame(text, dx, dy) {
  const numbers = text.split(" ");
  return [...numbers.slice(0, 6), sum(numbers[6], dx), sum(numbers[7], dy)].join(" ");
}

// Move the group of a plain piece: see `moved_by` in picture/draw/screen.py.
export function shift(group, dx, dy) {
  const data = group.dataset;
  data.box = shiftedBox(data.box, dx, dy);
  data.frame = shiftedFrame(data.frame, dx, dy);
  data.outline = shiftedPath(data.outline, dx, dy);
  for (const path of group.querySelectorAll("path"))
    path.setAttribute("d", shiftedPath(path.getAttribute("d"), dx, dy));
}
