// The selection and its marks: verdigris outline, box and handles over the drawing.
import { apply, text, times } from "../core/matrix.js";
import { actors } from "../core/act.js";
import { askPanels, flush } from "../core/server.js";
import { $, change, drawn, on, onAny, state, emit } from "../core/state.js";
import { view } from "../core/view.js";

/** @type {Record<string, [number, number]>} */
const SPOTS = { nw: [0, 0], n: [0.5, 0], ne: [1, 0], e: [1, 0.5], se: [1, 1], s: [0.5, 1], sw: [0, 1], w: [0, 0.5] };

const MANY = 100;

export function choose(ids, { ask = true } = {}) {
  const next = [...new Set(ids)].filter((id) => drawn(id));
  const same = next.length === state.chosen.length && next.every((id, k) => id === state.chosen[k]);
  // a nudge belongs to the selection at its time
  if (!same) flush();
  change(same ? { chosen: next } : { chosen: next, base: "" });
  emit("chosen", next);
  if (ask && !same) askPanels();
}

const numbers = (text_) => text_.split(" ").map(Number);

// The box of the selection: width, height and the matrix that places it; turned for a single turned item.
export function frameOf(ids) {
  const items = ids.map(drawn).filter(Boolean);
  if (!items.length) return null;
  if (items.length === 1) {
    const [w, h, ...m] = numbers(items[0].dataset.frame);
    return { w, h, m, kind: items[0].dataset.kind };
  }
  const boxes = items.map((i) => numbers(i.dataset.box));
  const x = Math.min(...boxes.map((b) => b[0]));
  const y = Math.min(...boxes.map((b) => b[1]));
  const w = Math.max(...boxes.map((b) => b[2])) - x;
  const h = Math.max(...boxes.map((b) => b[3])) - y;
  return { w, h, m: [1, 0, 0, 1, x, y], kind: "several" };
}

// Draw the marks; `shift` is the matrix of a gesture in progress.
export function marks(shift = null) {
  const parts = [];
  if (state.tool === "nodes" || state.tool === "cells") {
    $("marks").innerHTML = "";
    return;
  }
  const screen = [view.zoom, 0, 0, view.zoom, view.x, view.y];
  const through = shift ? times(screen, shift) : screen;
  const lines = [];
  for (const id of state.chosen) {
    const item = drawn(id);
    const d = item?.dataset.outline ?? item?.querySelector(":scope > path")?.getAttribute("d");
    if (d) lines.push(d);
  }
  // many are drawn as one path: one matrix places them all
  for (const d of lines.length > MANY ? [lines.join("")] : lines)
    for (const line of ["halo", "chosen-line"])
      parts.push(`<path class="${line}" d="${d}" transform="${text(through)}"/>`);
  const frame = frameOf(state.chosen);
  if (frame) {
    const m = times(through, frame.m);
    const at = ([fx, fy]) => apply(m, { x: fx * frame.w, y: fy * frame.h });
    const corners = [SPOTS.nw, SPOTS.ne, SPOTS.se, SPOTS.sw].map(at);
    parts.push(`<polygon class="chosen-box" points="${corners.map((p) => `${p.x},${p.y}`).join(" ")}"/>`);
    const top = at(SPOTS.n);
    const middle = at([0.5, 0.5]);
    const size = Math.hypot(top.x - middle.x, top.y - middle.y) || 1;
    const up = { x: top.x + ((top.x - middle.x) / size) * 24, y: top.y + ((top.y - middle.y) / size) * 24 };
    if (!shift && state.tool === "choose") {
      parts.push(`<line class="handle-line" x1="${top.x}" y1="${top.y}" x2="${up.x}" y2="${up.y}"/>`);
      parts.push(`<circle class="handle grab pointer-turn" data-handle="turn" cx="${up.x}" cy="${up.y}" r="5"/>`);
      for (const [name, spot] of Object.entries(SPOTS)) {
        const p = at(spot);
        parts.push(
          `<circle class="handle grab pointer-${name}" data-handle="${name}" cx="${p.x}" cy="${p.y}" r="4.5"/>`,
        );
      }
      radii(parts, screen);
      if (state.pivot) {
        const p = at(state.pivot);
        parts.push(
          `<g class="pivot-mark"><circle class="grab" data-handle="pivot" cx="${p.x}" cy="${p.y}" r="6"/><path d="M${p.x - 9} ${p.y}h18M${p.x} ${p.y - 9}v18"/></g>`,
        );
      }
    }
  }
  $("marks").innerHTML = parts.join("");
}

// The rectangle whose corners can be rounded by hand: the selected one, or the window being edited inside.
export function cornered() {
  const [one] = state.chosen;
  const ids = state.chosen.length === 1 ? [one, drawn(one)?.dataset.kind === "photo" ? state.inside : ""] : [];
  return ids.find((id) => id && drawn(id)?.dataset.radii) || "";
}

// A dot in each of its corners.
function radii(parts, screen) {
  const id = cornered();
  if (!id || state.tool !== "choose") return;
  const radii = drawn(id).dataset.radii;
  const frame = frameOf([id]);
  const m = times(screen, frame.m);
  const size = Math.min(Math.hypot(m[0], m[1]) * frame.w, Math.hypot(m[2], m[3]) * frame.h);
  if (size < 70) return;
  const inset = 16 / Math.hypot(m[0], m[1]);
  for (const [k, r] of radii.split(" ").map(Number).entries()) {
    const by = Math.min(Math.max(r, inset), Math.min(frame.w, frame.h) / 2);
    const p = apply(m, { x: k === 1 || k === 2 ? frame.w - by : by, y: k >= 2 ? frame.h - by : by });
    parts.push(`<circle class="radius-dot grab" data-handle="radius${k}" cx="${p.x}" cy="${p.y}" r="3.5"/>`);
  }
}

export const spot = (name) => SPOTS[name];

function rows() {
  const chosen = new Set(state.chosen);
  for (const [row, { id }] of actors("page:row")) row.setAttribute("aria-pressed", String(chosen.has(id)));
  const names = state.chosen.map((id) => drawn(id)?.dataset.name);
  const word = names.length === 0 ? "nothing selected" : names.length === 1 ? names[0] : `${names.length} selected`;
  $("hint-chosen").textContent = names.length > 1 && names.length < 4 ? `${word} · ${names.join(", ")}` : word;
}

// What can be edited inside an item: a frame's photos, an outline's pieces, a group's items.
const insides = (item) => [...item.querySelectorAll(":scope > g > .ghost, :scope > g > .members, :scope > .kids")];

// The parent of the items that can be selected now: the sheet, or what is being edited inside.
export const holders = () => (state.inside ? insides(drawn(state.inside)) : [$("art")]);

function mark(item) {
  item.classList.add("stepped");
  for (let up = item.parentNode.closest("g[data-kind]"); up; up = up.parentNode.closest("g[data-kind]"))
    up.classList.add("on-the-way");
}

// Edit inside a frame or an outline, or step out with "".
export function stepInside(id) {
  for (const g of document.querySelectorAll("#art .stepped, #art .on-the-way"))
    g.classList.remove("stepped", "on-the-way");
  const item = id ? drawn(id) : null;
  const within = item && insides(item)[0];
  flush();
  change({ inside: within ? id : "" });
  $("art").classList.toggle("inside", Boolean(within));
  if (within) mark(item);
  emit("inside", state.inside);
  // of several photos the visible one: the last is on top
  const all = within ? [...within.querySelectorAll(":scope > [data-id]")] : [];
  const seen = within?.matches(".ghost") ? all.filter((g) => !("hidden" in g.dataset)).at(-1) : null;
  if (within) choose([(seen || all[0]).dataset.id]);
  return Boolean(within);
}

// Inside a frame, its outline can be edited: the window itself, or the first piece of its cut list.
export function outlineInside() {
  const item = state.inside ? drawn(state.inside) : null;
  if (item?.dataset.kind !== "frame") return "";
  return item.querySelector(":scope > g > .members > [data-id]")?.dataset.id || state.inside;
}

export function stepOut() {
  const was = state.inside;
  // out of nested groups one at a time
  const outer = was ? drawn(was)?.parentNode.closest("g[data-kind]")?.dataset.id || "" : "";
  stepInside(outer);
  if (was) choose([was]);
  return Boolean(was);
}

// The outline on the sheet itself that a file, or the dragged photo `beside`, is dropped on: it goes in.
export function outlineAt(event, beside = "") {
  const all = document.elementsFromPoint(event.clientX, event.clientY).map((one) => one.closest("#art > g"));
  let g = all.find((one) => one && one.dataset.id !== beside);
  while (g && g.parentNode?.id !== "art") g = g.parentNode?.closest?.("#art > g");
  return g && !isOpen(g) && ["piece", "outline", "frame"].includes(g.dataset.kind) ? g.dataset.id : "";
}

let veiled = "";
// Show the target of a drag over the sheet, or none with "".
export function veil(id) {
  if (veiled === id) return;
  veiled = id;
  const { name, kind } = (id && drawn(id)?.dataset) || {};
  $("desk").dataset.into = name ? `${kind === "frame" ? "Replaces the photo of" : "Goes into"} ${name}` : "";
  $("desk").classList.toggle("over-outline", Boolean(name));
}

export const isOpen = (g) => !g.dataset.outline?.includes("Z");
on("chosen", () => {
  // a selected piece of an outline can be dragged anywhere, not by its line alone
  const chosen = new Set(state.chosen);
  for (const g of document.querySelectorAll("#art .members > g"))
    g.classList.toggle("picked", chosen.has(g.dataset.id));
  marks();
  rows();
});
// A photo inside may reach so far out of its frame that nothing of it can be grabbed.
function reach() {
  const frame = state.inside && state.chosen.length === 1 ? frameOf(state.chosen) : null;
  // reading a position forces a layout of the page
  const desk = frame?.kind === "photo" ? $("desk").getBoundingClientRect() : null;
  const seen = (name) => {
    const [fx, fy] = SPOTS[name];
    const p = apply(times([view.zoom, 0, 0, view.zoom, view.x, view.y], frame.m), { x: fx * frame.w, y: fy * frame.h });
    return p.x > 0 && p.y > 0 && p.x < desk.width && p.y < desk.height;
  };
  $("see-handles").hidden = frame?.kind !== "photo" || ["nw", "ne", "se", "sw"].some(seen);
}
onAny(["view", "chosen", "inside", "shown"], reach);
on("view", () => marks());
on("shown", () => {
  if (state.inside) {
    const item = drawn(state.inside);
    if (item && insides(item).length) mark(item);
    else stepInside("");
  }
  const there = state.chosen.filter((id) => drawn(id));
  const inner = state.inside && !there.length ? insides(drawn(state.inside))[0]?.querySelector("[data-id]") : null;
  if (inner) choose([inner.dataset.id]);
  else choose(there, { ask: false });
});
on("panels-shown", rows);
