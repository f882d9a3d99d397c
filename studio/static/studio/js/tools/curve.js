// The curve tool: click for corners, drag for handles; the first node closes it, Enter leaves it open.
import { action } from "../core/act.js";
import { notice } from "../core/notices.js";
import { label } from "../core/label.js";
import { command } from "../core/server.js";
import { drawnAs } from "./settings.js";
import { snapPoint } from "./snap.js";
import { $, inHand, on, state } from "../core/state.js";
import { toDesk, toSheet, view } from "../core/view.js";
import { work } from "../core/work.js";

let nodes = [];
let pointer = null;
const CLOSE = 8; // screen px

const f = (v) => +v.toFixed(4);
function data(list, closed) {
  let d = `M${f(list[0].x)} ${f(list[0].y)}`;
  const to = (a, b) => {
    if (!a.after && !b.before) return `L${f(b.x)} ${f(b.y)}`;
    const [p, q] = [a.after || a, b.before || b];
    return `C${f(p.x)} ${f(p.y)} ${f(q.x)} ${f(q.y)} ${f(b.x)} ${f(b.y)}`;
  };
  for (let k = 1; k < list.length; k++) d += to(list[k - 1], list[k]);
  if (closed) d += `${list[0].before || list[list.length - 1].after ? to(list[list.length - 1], list[0]) : ""}Z`;
  return d;
}
const atFirst = (p) => nodes.length > 1 && Math.hypot(p.x - nodes[0].x, p.y - nodes[0].y) * view.zoom < CLOSE;

export function draw(html = "") {
  if (!nodes.length) {
    $("curve-marks").innerHTML = html;
    return;
  }
  const list = pointer ? [...nodes, pointer] : nodes;
  const m = `matrix(${view.zoom} 0 0 ${view.zoom} ${view.x} ${view.y})`;
  const parts = [html];
  if (list.length > 1) parts.push(`<path class="drawing open" d="${data(list, false)}" transform="${m}"/>`);
  for (const [k, n] of nodes.entries()) {
    const a = toDesk(n);
    for (const h of [n.before, n.after]) {
      if (!h || k < nodes.length - 1) continue;
      const b = toDesk(h);
      parts.push(
        `<path class="handle-line" d="M${a.x} ${a.y}L${b.x} ${b.y}"/><circle class="node-handle" cx="${b.x}" cy="${b.y}" r="3"/>`,
      );
    }
    parts.push(`<rect class="node${k === 0 ? " first" : ""}" x="${a.x - 3.5}" y="${a.y - 3.5}" width="7" height="7"/>`);
  }
  $("curve-marks").innerHTML = parts.join("");
}

export const drawing = () => nodes.length > 0;
work({
  name: "The curve",
  active: () => state.tool === "curve",
  idle: () => nodes.length === 0,
  get: () => nodes,
  set(list) {
    nodes = list;
    draw();
  },
});

export function drop() {
  nodes = [];
  pointer = null;
  draw();
}
export function back() {
  if (!nodes.length) return false;
  nodes.pop();
  draw();
  return true;
}
export async function finish(closed) {
  if (nodes.length < 2) {
    notice("A curve needs two nodes at least.", "Click a second place, then press Enter.");
    return;
  }
  const d = data(nodes, closed);
  const drawn = nodes;
  const done = inHand();
  drop();
  const answer = await command("draw_curve", { d, ...drawnAs() }, { again: true });
  if (answer.error) {
    // what was drawn is not lost, whatever happened
    nodes = drawn;
    draw();
  } else done();
  return answer;
}
action("finish-curve", () => finish(false));
action("shorten-curve", back);

export function press(from0, event0, modifiers) {
  const closing = atFirst(from0);
  const last = nodes[nodes.length - 1];
  let at = closing ? nodes[0] : snapPoint(from0, [], event0);
  if (event0.shiftKey && last && !closing) {
    const angle = (Math.round((Math.atan2(from0.y - last.y, from0.x - last.x) * 12) / Math.PI) * Math.PI) / 12;
    const size = Math.hypot(from0.x - last.x, from0.y - last.y);
    at = { x: last.x + size * Math.cos(angle), y: last.y + size * Math.sin(angle) };
  }
  const node = closing ? nodes[0] : { x: at.x, y: at.y };
  if (!closing) nodes.push(node);
  pointer = null;
  draw();
  let before = from0;
  return {
    hint: "curve",
    update(event) {
      const p = toSheet(event);
      if (modifiers.space && !closing) {
        node.x += p.x - before.x;
        node.y += p.y - before.y;
        for (const h of [node.before, node.after]) if (h) [h.x, h.y] = [h.x + p.x - before.x, h.y + p.y - before.y];
      } else if (closing) {
        // the incoming handle mirrors the pointer; the outgoing one was drawn first and stays
        node.before = { x: 2 * node.x - p.x, y: 2 * node.y - p.y };
      } else {
        node.after = { x: p.x, y: p.y };
        if (!event.altKey) node.before = { x: 2 * node.x - p.x, y: 2 * node.y - p.y };
      }
      before = p;
      draw();
    },
    end: () => (closing ? finish(true) : draw()),
    click: () => (closing ? finish(true) : draw()),
    cancel: drop,
  };
}

// The line from the last node to the pointer.
export function hover(event) {
  if (!nodes.length) return;
  const p = toSheet(event);
  const snap = snapPoint(p, [], event);
  pointer = atFirst(p) ? { x: nodes[0].x, y: nodes[0].y, before: nodes[0].before } : { x: snap.x, y: snap.y };
  draw(snap.html);
  if (atFirst(p)) {
    $("live").innerHTML = "";
    label(event, "closes here");
  } else $("live").innerHTML = "";
}
on("view", () => draw());
// Another tool or station: the curve so far is finished open, with a notice.
on("tool", () => {
  if (state.tool === "curve" || !nodes.length) return;
  if (nodes.length < 2) return drop();
  finish(false).then(({ error }) => error || notice("The curve was left open where you were.", "Undo takes it back."));
});
