// Guides and grids over the sheet; guides are dragged out of the rulers.
import { notice } from "../core/notices.js";
import { label, show } from "../core/label.js";
import { command } from "../core/server.js";
import { snapPoint } from "./snap.js";
import { $, live, on, state } from "../core/state.js";
import { toSheet, view } from "../core/view.js";

function draw() {
  const { width, height, guides, grid, step, modules, guidesLocked } = state.surface;
  const parts = [];
  if (grid === "plain" && step * view.zoom >= 4) {
    const lines = [];
    for (let x = step; x < width - 1e-6; x += step) lines.push(`M${x} 0V${height}`);
    for (let y = step; y < height - 1e-6; y += step) lines.push(`M0 ${y}H${width}`);
    parts.push(`<path class="grid-line" d="${lines.join("")}"/>`);
  }
  if (grid === "modules" && modules.length) {
    const [columns, rows] = modules;
    const boxes = columns.flatMap(([a, b]) => rows.map(([c, d]) => `M${a} ${c}H${b}V${d}H${a}Z`));
    parts.push(`<path class="grid-module" d="${boxes.join("")}"/>`);
  }
  const far = 10 * Math.max(width, height);
  for (const [k, [axis, at]] of guides.entries()) {
    const d = axis === "x" ? `M${at} ${-far}V${far}` : `M${-far} ${at}H${far}`;
    parts.push(`<path class="guide" d="${d}"/>`);
    if (!guidesLocked) parts.push(`<path class="guide-grip ${axis}" data-guide-line="${k}" d="${d}"/>`);
  }
  $("rules").innerHTML = parts.join("");
}
on("shown", draw);
let before = 0;
on("view", () => {
  if (before !== view.zoom) draw();
  before = view.zoom;
});
draw();

// Drag guide `number`, or a new one.
export function dragGuide(axis, number = null) {
  let at = null;
  return {
    hint: "guide",
    at_once: true,
    update(event) {
      const p = toSheet(event);
      const snap = snapPoint(p, [], event);
      at = axis === "x" ? snap.x : snap.y;
      const s = at * view.zoom + (axis === "x" ? view.x : view.y);
      const box = $("desk").getBoundingClientRect();
      live(`<path class="guide-live" d="${axis === "x" ? `M${s} 0V${box.height}` : `M0 ${s}H${box.width}`}"/>`);
      label(event, s < 18 ? "release to remove it" : `${show(at)} ${state.surface.unit}`);
    },
    async end() {
      if (at === null) return;
      const off = at * view.zoom + (axis === "x" ? view.x : view.y) < 18;
      if (off && number !== null) await command("drop_guide", { number });
      else if (!off) await command("set_guide", { axis, at, number });
    },
    click: () => {
      if (number === null) notice("Drag a guide out of the ruler.", "Or type its position in Guides and grid.");
    },
    cancel() {},
  };
}
