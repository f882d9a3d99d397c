// Snapping: Python says where to, the page picks the nearest and shows what it was.
import { $, on, state } from "./state.js";
import { view } from "./view.js";

const REACH = 6; // screen px
let data = null;
let timer = 0;

async function ask() {
  const revision = state.revision;
  try {
    const response = await fetch(state.urls.snaps);
    if (!response.ok) return;
    const got = await response.json();
    if (got.revision === state.revision) data = got;
    else if (revision !== state.revision) later();
  } catch {
    data = null;
  }
}
function later() {
  clearTimeout(timer);
  timer = setTimeout(ask, 40);
}
on("shown", later);
later();

const AXES = { x: ["x0", "x1", "y0", "y1"], y: ["y0", "y1", "x0", "x1"] };

function nearest(axis, box, ids, edges) {
  const [low, high, from, to] = AXES[axis];
  const reach = REACH / view.zoom;
  const spots = { low: box[low], mid: (box[low] + box[high]) / 2, high: box[high] };
  let best = null;
  const tryAt = (at, edge, word, gap) => {
    const by = at - spots[edge];
    if (Math.abs(by) <= reach && (!best || Math.abs(by) < Math.abs(best.by) - 1e-9)) best = { by, at, word, gap };
  };
  for (const [at, owner, word] of data?.[axis] || []) {
    if (owner && ids.includes(owner)) continue;
    for (const edge of edges) tryAt(at, edge, word);
  }
  if (state.surface.grid === "plain") {
    const step = state.surface.step;
    for (const edge of edges) if (edge !== "mid") tryAt(Math.round(spots[edge] / step) * step, edge, "grid");
  }
  if (edges.length === 3) {
    for (const [edge, at, gap, owners, [a, b]] of data?.gaps[axis] || []) {
      if (owners.some((o) => ids.includes(o)) || box[from] >= b || box[to] <= a) continue;
      tryAt(at, edge, edge === "mid" ? "same gaps" : "same gap", gap);
    }
  }
  return best;
}

// Return how far to move a box so that it snaps, and show to what. `edges` says which of its edges may move.
export function snapBox(box, ids, event, edges = { x: ["low", "mid", "high"], y: ["low", "mid", "high"] }) {
  if (event.ctrlKey || event.metaKey) return { dx: 0, dy: 0, html: "" };
  const out = { dx: 0, dy: 0, html: "" };
  for (const axis of ["x", "y"]) {
    if (!edges[axis].length) continue;
    const found = state.snap ? nearest(axis, box, ids, edges[axis]) : null;
    const key = axis === "x" ? "dx" : "dy";
    if (found) {
      out[key] = found.by;
      out.html += line(axis, found);
    } else if (state.crisp) {
      const edge = box[AXES[axis][edges[axis].includes("low") ? 0 : 1]];
      out[key] = Math.round(edge) - edge;
    }
  }
  return out;
}

// Return the point moved to a node, or to a line in each direction.
export function snapPoint(p, ids, event) {
  if (event.ctrlKey || event.metaKey || !state.snap) return { ...p, html: "" };
  const reach = REACH / view.zoom;
  let best = null;
  for (const [x, y, owner] of data?.nodes || []) {
    if (ids.includes(owner)) continue;
    const away = Math.hypot(x - p.x, y - p.y);
    if (away <= reach && (!best || away < best.away)) best = { x, y, away };
  }
  if (best) {
    const [x, y] = [best.x * view.zoom + view.x, best.y * view.zoom + view.y];
    return { x: best.x, y: best.y, html: `<circle class="snap-node" cx="${x}" cy="${y}" r="6"/>` };
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
