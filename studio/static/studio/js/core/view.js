// Zoom and pan: the sheet's SVG is sized by the zoom and moved by a transform.
import { $, on, state, emit } from "./state.js";

export const view = { zoom: 1, x: 0, y: 0 };
const desk = $("desk");
const svg = $("sheet");
const RULER = 18;
let fitted = false; // the whole sheet is shown, and goes on being when the window changes

export const toSheet = (event) => {
  const box = desk.getBoundingClientRect();
  return { x: (event.clientX - box.left - view.x) / view.zoom, y: (event.clientY - box.top - view.y) / view.zoom };
};
export const toDesk = (p) => ({ x: p.x * view.zoom + view.x, y: p.y * view.zoom + view.y });

function place() {
  svg.style.transform = `translate(${view.x}px, ${view.y}px)`;
  emit("view", view);
}

function size() {
  const { width, height } = state.surface;
  svg.setAttribute("width", width * view.zoom);
  svg.setAttribute("height", height * view.zoom);
  place();
}

export function surface() {
  const { width, height, backdrop } = state.surface;
  svg.setAttribute("viewBox", `0 0 ${width} ${height}`);
  for (const id of ["surface", "sheet-edge"]) {
    $(id).setAttribute("width", width);
    $(id).setAttribute("height", height);
  }
  $("none").setAttribute("patternTransform", `scale(${1 / view.zoom})`);
  for (const id of ["hatch-sheet", "hatch-over"]) {
    $(id).setAttribute("patternTransform", `rotate(35) scale(${1 / view.zoom})`);
  }
  $("surface").setAttribute("fill", backdrop || "url(#none)");
}

export function zoomTo(zoom, at) {
  fitted = false;
  const box = desk.getBoundingClientRect();
  const p = at || { x: (box.width + RULER) / 2, y: (box.height + RULER) / 2 };
  const next = Math.min(64, Math.max(0.01, zoom));
  const share = next / view.zoom;
  view.x = p.x - (p.x - view.x) * share;
  view.y = p.y - (p.y - view.y) * share;
  view.zoom = next;
  surface();
  size();
}

export function fit() {
  fitted = true;
  const box = desk.getBoundingClientRect();
  const { width, height } = state.surface;
  const room = { w: box.width - RULER - 56, h: box.height - RULER - 56 };
  view.zoom = Math.max(0.01, Math.min(room.w / width, room.h / height));
  view.x = RULER + (box.width - RULER - width * view.zoom) / 2;
  view.y = RULER + (box.height - RULER - height * view.zoom) / 2;
  surface();
  size();
}

// Show a part of the sheet as large as possible.
export function fitBox([x0, y0], [x1, y1]) {
  fitted = false;
  const box = desk.getBoundingClientRect();
  const room = { w: box.width - RULER - 90, h: box.height - RULER - 90 };
  view.zoom = Math.min(
    32,
    Math.max(0.01, Math.min(room.w / Math.max(x1 - x0, 1e-6), room.h / Math.max(y1 - y0, 1e-6))),
  );
  view.x = RULER + (box.width - RULER) / 2 - ((x0 + x1) / 2) * view.zoom;
  view.y = RULER + (box.height - RULER) / 2 - ((y0 + y1) / 2) * view.zoom;
  surface();
  size();
}

export function panBy(dx, dy) {
  fitted = false;
  view.x += dx;
  view.y += dy;
  place();
}

// Move the sheet so that a part of it (sheet px) is below an element on the desk, as far as all of it stays in sight.
export function moveBelow(element, [, y0, , y1], gap = 12) {
  const { top, height } = desk.getBoundingClientRect();
  const wanted = element.getBoundingClientRect().bottom - top + gap;
  const by = Math.min(wanted - toDesk({ x: 0, y: y0 }).y, height - 30 - toDesk({ x: 0, y: y1 }).y);
  if (by > 0) panBy(0, by);
}

desk.addEventListener(
  "wheel",
  (event) => {
    event.preventDefault();
    const scale = event.deltaMode === 1 ? 16 : 1;
    if (event.ctrlKey || event.metaKey) {
      const box = desk.getBoundingClientRect();
      zoomTo(view.zoom * Math.exp(-event.deltaY * scale * 0.0022), {
        x: event.clientX - box.left,
        y: event.clientY - box.top,
      });
    } else if (event.shiftKey) panBy(-event.deltaY * scale, 0);
    else panBy(-event.deltaX * scale, -event.deltaY * scale);
  },
  { passive: false },
);
let known = null;
new ResizeObserver(() => {
  const box = desk.getBoundingClientRect();
  if (known && (known.w !== box.width || known.h !== box.height)) {
    if (fitted) fit();
    else panBy((box.width - known.w) / 2, (box.height - known.h) / 2);
  }
  known = { w: box.width, h: box.height };
}).observe(desk);
on("shown", () => {
  surface();
  size();
});
