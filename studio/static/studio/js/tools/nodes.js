// Editing nodes: Python lists them and draws every change; here they are shown, selected and dragged.
import { action, defineWord } from "../core/act.js";
import { label, show } from "../core/label.js";
import { movers, outermost, paths } from "./move.js";
import { notice } from "../core/notices.js";
import { askPreview, askPanels, command } from "../core/server.js";
import { snapPoint } from "./snap.js";
import { $, drawn, live, on, state } from "../core/state.js";
import { toDesk, toSheet } from "../core/view.js";
import { aimed } from "./touch.js";

let data = { id: "", nodes: [], why: "" };
let chosen = new Set();
let grip = ""; // "before" or "after": the handle of the one chosen node that the arrows move

export const active = () => state.tool === "nodes";
export const chosenNodes = () => [...chosen].sort((a, b) => a - b);

on("nodes", (got) => {
  const same = got.id === data.id && got.nodes.length === data.nodes.length;
  data = got;
  if (!same) chosen.clear();
  draw();
});
function none() {
  chosen.clear();
  grip = "";
  data = { id: "", nodes: [], why: "" };
}
on("tool", () => {
  none();
  if (active()) askPanels();
  else draw();
});
on("view", () => draw());
on("chosen", () => {
  if (active() && data.id !== state.chosen[0]) {
    none();
    draw();
  }
});

const where = (pair) => toDesk({ x: pair[0], y: pair[1] });

function draw(shift = { x: 0, y: 0 }) {
  const parts = [];
  let halo = "";
  if (active()) {
    for (const [k, n] of data.nodes.entries()) {
      const on_ = chosen.has(k);
      const by = on_ ? shift : { x: 0, y: 0 };
      const moved = (p) => where([p[0] + by.x, p[1] + by.y]);
      const at = moved(n.at);
      if (on_) {
        for (const which of ["before", "after"]) {
          if (!n[which]) continue;
          const h = moved(n[which]);
          parts.push(
            `<path class="handle-line" d="M${at.x} ${at.y}L${h.x} ${h.y}"/><circle class="node-handle grab${which === grip ? " on" : ""}" data-node-handle="${which}" data-node="${k}" cx="${h.x}" cy="${h.y}" r="4"/>`,
          );
        }
      }
      halo += `M${at.x} ${at.y}h0`;
      const cls = `node grab${on_ ? " on" : ""}${n.end ? " end" : ""}`;
      parts.push(
        n.kind === "corner"
          ? `<rect class="${cls}" data-node="${k}" x="${at.x - 3.5}" y="${at.y - 3.5}" width="7" height="7"/>`
          : `<circle class="${cls}" data-node="${k}" cx="${at.x}" cy="${at.y}" r="4"/>`,
      );
    }
  }
  $("node-marks").innerHTML = `<path class="halo dots" d="${halo}"/>${parts.join("")}`;
  const why = $("node-why");
  if (!why) return;
  why.hidden = !data.why && Boolean(data.nodes.length);
  why.textContent = data.why || "Select one piece to edit its nodes.";
  $("node-tools").hidden = !data.nodes.length;
  const one = chosen.size ? chosenNodes().map((k) => data.nodes[k].at) : null;
  for (const [k, axis] of ["x", "y"].entries()) {
    const input = $(`node-${axis}`);
    if (document.activeElement !== input)
      input.value = one ? String(+(Math.min(...one.map((p) => p[k])) / state.surface.perUnit).toFixed(3)) : "";
    input.disabled = !one;
  }
}

function pick(k, more) {
  grip = "";
  if (more) chosen.has(k) ? chosen.delete(k) : chosen.add(k);
  else if (!chosen.has(k)) chosen = new Set([k]);
  draw();
}

// The outline that shows the change: the piece itself, or the one it is a member of.
const shownId = () => outermost(data.id);

function follow(args, name) {
  const id = shownId();
  askPreview(
    id,
    args,
    ({ d, margins }) => {
      if (!following) return;
      for (const path of paths(drawn(id))) path.setAttribute("d", d);
      for (const m of margins || []) {
        for (const [side, value] of m.sides) {
          const input = $(`hole-${m.number}-${side}`);
          if (input) input.value = value;
        }
      }
    },
    name,
    Boolean($("hole-0")),
  );
}
let following = false;
function restore() {
  following = false;
  const item = drawn(shownId());
  if (item) for (const path of paths(item)) path.setAttribute("d", item.dataset.outline);
  draw();
}

function dragNodes(from, k) {
  const start = data.nodes[k].at;
  const grip = { x: start[0] - from.x, y: start[1] - from.y };
  let by = { x: 0, y: 0 };
  return {
    hint: "nodes",
    update(event) {
      const p = toSheet(event);
      const snap = snapPoint({ x: p.x + grip.x, y: p.y + grip.y }, movers([data.id]), event);
      by = { x: snap.x - start[0], y: snap.y - start[1] };
      if (event.shiftKey) by = Math.abs(by.x) > Math.abs(by.y) ? { x: by.x, y: 0 } : { x: 0, y: by.y };
      following = true;
      follow({ id: data.id, nodes: chosenNodes(), dx: by.x, dy: by.y }, "move_nodes");
      draw(by);
      live(snap.html);
      label(event, `${show(start[0] + by.x)}, ${show(start[1] + by.y)}`);
    },
    async end() {
      following = false;
      const answer = await command("move_nodes", { id: data.id, nodes: chosenNodes(), dx: by.x, dy: by.y });
      if (answer.error) restore();
    },
    cancel: restore,
  };
}

function dragHandle(k, which) {
  let at = null;
  let alone = false;
  return {
    hint: "handle",
    update(event) {
      at = toSheet(event);
      alone = event.altKey;
      following = true;
      follow({ id: data.id, node: k, which, x: at.x, y: at.y, alone }, "move_handle");
      data.nodes[k] = { ...data.nodes[k], [which]: [at.x, at.y] };
      draw();
      live();
    },
    async end() {
      following = false;
      const answer = await command("move_handle", { id: data.id, node: k, which, x: at.x, y: at.y, alone });
      if (answer.error) restore();
    },
    cancel() {
      restore();
      askPanels();
    },
  };
}

// A press on a node or a handle; null if there is none.
export function press(event, from) {
  const { node, nodeHandle } = aimed(event).dataset || {};
  if (nodeHandle) return dragHandle(Number(node), nodeHandle);
  if (node === undefined) return null;
  const k = Number(node);
  const was = chosen.has(k);
  pick(k, event.shiftKey);
  if (event.shiftKey && was) return { hint: "nodes", update() {}, end() {}, cancel() {} };
  const run = dragNodes(from, k);
  run.click = () => {
    if (was && !event.shiftKey) {
      chosen = new Set([k]);
      draw();
    }
  };
  return run;
}

const inside = (p, ring) => {
  let odd = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [a, b] = [ring[i], ring[j]];
    if (a.y > p.y !== b.y > p.y && p.x < ((b.x - a.x) * (p.y - a.y)) / (b.y - a.y) + a.x) odd = !odd;
  }
  return odd;
};

// Select nodes by a box, or with Alt by a loop drawn around them. `elsewhere` runs on a click.
export function around(from, event0, elsewhere) {
  const before = event0.shiftKey ? new Set(chosen) : new Set();
  const loop = [from];
  return {
    hint: "marquee",
    update(event) {
      const p = toSheet(event);
      let within;
      if (event0.altKey) {
        loop.push(p);
        within = (q) => inside(q, loop);
        live(
          `<path class="marquee" d="M${loop
            .map(toDesk)
            .map((q) => `${q.x} ${q.y}`)
            .join("L")}Z"/>`,
        );
      } else {
        const [x0, x1] = [Math.min(from.x, p.x), Math.max(from.x, p.x)];
        const [y0, y1] = [Math.min(from.y, p.y), Math.max(from.y, p.y)];
        within = (q) => q.x >= x0 && q.x <= x1 && q.y >= y0 && q.y <= y1;
        const [a, b] = [toDesk({ x: x0, y: y0 }), toDesk({ x: x1, y: y1 })];
        live(`<rect class="marquee" x="${a.x}" y="${a.y}" width="${b.x - a.x}" height="${b.y - a.y}"/>`);
      }
      chosen = new Set(before);
      for (const [k, n] of data.nodes.entries()) if (within({ x: n.at[0], y: n.at[1] })) chosen.add(k);
      draw();
    },
    end: () => draw(),
    click: () => {
      if (chosen.size && !event0.shiftKey) {
        chosen.clear();
        draw();
      }
      elsewhere?.();
    },
    cancel() {
      chosen = before;
      draw();
    },
  };
}

export function addAt(p) {
  if (data.id) command("add_node", { id: data.id, x: p.x, y: p.y });
}
export function all() {
  chosen = new Set(data.nodes.keys());
  draw();
}

// -- from the keyboard: from node to node, and to the handles of one

function showNumbers() {
  const [k] = chosenNodes();
  const node = data.nodes[k];
  const words = `Node ${k + 1} of ${data.nodes.length}, ${node.kind}`;
  $("hint-chosen").textContent = grip ? `${words}: the handle ${grip} it` : words;
}
action("next-node", ({ by }) => {
  const n = data.nodes.length;
  if (!n) return;
  const at = chosenNodes();
  const from = at.length ? at[by > 0 ? at.length - 1 : 0] : by > 0 ? -1 : n;
  grip = "";
  chosen = new Set([(from + by + n) % n]);
  draw();
  showNumbers();
});
action("next-handle", () => {
  const [k] = chosenNodes();
  if (chosen.size !== 1) return notice("Moving handles needs one node.", "Press N first.");
  const has = ["before", "after"].filter((which) => data.nodes[k][which]);
  if (!has.length) return notice("This node has no handles.", "Make it smooth first.");
  grip = has[has.indexOf(grip) + 1] || "";
  draw();
  showNumbers();
});

function nudge(dx, dy) {
  if (!chosen.size) return false;
  const [k] = chosenNodes();
  const at = grip && data.nodes[k][grip];
  if (at) {
    command("move_handle", { id: data.id, node: k, which: grip, x: at[0] + dx, y: at[1] + dy });
    return true;
  }
  command("move_nodes", { id: data.id, nodes: chosenNodes(), dx, dy });
  return true;
}
export function drop() {
  if (!chosen.size) return false;
  if (grip) {
    grip = "";
    draw();
    return true;
  }
  chosen.clear();
  draw();
  return true;
}

defineWord("$nodes", chosenNodes);
action("all-nodes", all);
on("nudge-nodes", ({ x, y }) => nudge(x, y));
