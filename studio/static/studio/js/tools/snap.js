// Snapping: Python lists the candidates, the page picks the nearest and shows it.
import { ask } from "../core/http.js";
import { AXES, nearestLine, nearestNode } from "../core/nearest.js";
import { $, on, state } from "../core/state.js";
import { view } from "../core/view.js";

const REACH = 6; // screen px
let data = null;
let timer = 0;

async function fetchSnaps() {
  const revision = state.revision;
  const got = await ask(state.urls.snaps);
  if (got.silent) data = null;
  else if (got.revision === state.revision) data = got;
  else if (!got.error && revision !== state.revision) later();
}
function later() {
  clearTimeout(timer);
  timer = setTimeout(fetchSnaps, 40);
}
on("shown", later);
later();

function nearest(axis, box, ids, edges) {
  const step = state.surface.grid === "plain" ? state.surface.step : 0;
  return nearestLine(data, axis, box, { without: ids, edges, reach: REACH / view.zoom, step });
}

// How far a coordinate is from the project's rounding step; 0 without one.
export const rounded = (v) => {
  const step = state.surface.round;
  return step > 0 ? Math.round(v / step) * step - v : 0;
};

// Return a box whose corner and sides are on that step, no side being less than one.
export function roundedBox({ x, y, w, h }) {
  const side = (v) => Math.max(v + rounded(v), Math.min(v, state.surface.round));
  return { x: x + rounded(x), y: y + rounded(y), w: side(w), h: side(h) };
}

// Return the factor by which a side from `low` to `high` scales about a point, so that the dragged edge, or else
// the lower one, is on that step.
export function roundedScale(factor, about, low, high, dragged) {
  const edge = dragged === 1 ? high : low;
  if (Math.abs(edge - about) < 1e-9) return factor;
  const at = about + (edge - about) * factor;
  return (at + rounded(at) - about) / (edge - about);
}

// Return how far to move a box so that it snaps, and show to what. `edges` says which of its edges may move.
export function snapBox(box, ids, event, edges = { x: ["low", "mid", "high"], y: ["low", "mid", "high"] }) {
  if (event.ctrlKey || event.metaKey) return { dx: 0, dy: 0, html: "" };
  const out = { dx: 0, dy: 0, html: "" };
  for (const axis of ["x", "y"]) {
    if (!edges[axis].length) continue;
    const found = state.snap ? nearest(axis, box, ids, edges[axis]) : null;
    const key = axis === "x" ? "dx" : "dy";
    // rounding applies to lines too; the line shows if both agree
    const by = found ? found.by : 0;
    const off = rounded(box[AXES[axis][edges[axis].includes("low") ? 0 : 1]] + by);
    out[key] = by + off;
    if (found && Math.abs(off) < 1e-6) out.html += line(axis, found);
  }
  return out;
}

// Return the point moved to a node, or to a line in each direction.
export function snapPoint(p, ids, event) {
  if (event.ctrlKey || event.metaKey) return { ...p, html: "" };
  if (!state.snap) return { x: p.x + rounded(p.x), y: p.y + rounded(p.y), html: "" };
  const node = nearestNode(data?.nodes, p, { without: ids, reach: REACH / view.zoom });
  if (node) {
    const [x, y] = [node[0] * view.zoom + view.x, node[1] * view.zoom + view.y];
    return {
      x: node[0] + rounded(node[0]),
      y: node[1] + rounded(node[1]),
      html: `<circle class="snap-node" cx="${x}" cy="${y}" r="6"/>`,
    };
  }
  const box = { x0: p.x, x1: p.x, y0: p.y, y1: p.y };
  const { dx, dy, html } = snapBox(box, ids, event, { x: ["low"], y: ["low"] });
  return { x: p.x + dx, y: p.y + dy, html };
}

function line(axis, { at, word, gap }) {
  const desk = $("desk").getBoundingClientRect();
  const words = gap === undefined ? word : `${word} ${+(gap / state.surface.perUnit).toFixed(2)}`;
  if (axis === "x") {
    const x = at * view.zoom + view.x;
    return `<path class="snap-line" d="M${x} 18V${desk.height}"/><text class="snap-word" x="${x + 4}" y="32">${words}</text>`;
  }
  const y = at * view.zoom + view.y;
  return `<path class="snap-line" d="M18 ${y}H${desk.width}"/><text class="snap-word" x="24" y="${y - 4}">${words}</text>`;
}
