// Moving, copying, resizing and turning the selection; the pivot; the dots in a rectangle's corners.
import { cornered, frameOf, marks, outlineAt, spot, veil } from "./select.js";
import { clampedShift } from "./clamp.js";
import { label, show } from "../core/label.js";
import { apply, identity, inverse, move, resize, text, times, turn } from "../core/matrix.js";
import { askPreview, command } from "../core/server.js";
import { roundedScale, snapBox } from "./snap.js";
import { $, change, drawn, live, state, emit } from "../core/state.js";
import { toSheet, view } from "../core/view.js";

// A stretched frame is a different window on its photos, which stay as they are.
const alike = (m) => Math.abs(Math.hypot(m[0], m[1]) - Math.hypot(m[2], m[3])) < 1e-9;
const isWindow = (ids, m) => ids.length === 1 && drawn(ids[0])?.dataset.kind === "frame" && !alike(m);

// Show items mapped by `m` without asking the server.
function preview(ids, m, part = state.part) {
  const still = part === "outline" || isWindow(ids, m);
  for (const id of ids) {
    const item = drawn(id);
    if (!item) continue;
    item.setAttribute("transform", text(m));
    const clipped = document.querySelector(`#art g[data-photo="${CSS.escape(id)}"]`);
    clipped?.setAttribute("transform", text(m));
    const photos = item.querySelectorAll(":scope > g [data-photo], :scope > g .ghost > g");
    for (const g of photos) {
      if (still) g.setAttribute("transform", text(inverse(m)));
      else g.removeAttribute("transform");
    }
  }
  follow(ids, m);
  marks(m);
  numbers(ids, m);
}

// The numbers of the dimensions follow the pointer, if the box stays upright.
function numbers(ids, m) {
  if (Math.abs(m[1]) > 1e-9 || Math.abs(m[2]) > 1e-9 || !$("g-x")) return;
  const box = boxOf(ids);
  const a = apply(m, { x: box.x0, y: box.y0 });
  const b = apply(m, { x: box.x1, y: box.y1 });
  const numbers = {
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    width: Math.abs(b.x - a.x),
    height: Math.abs(b.y - a.y),
  };
  for (const [name, px] of Object.entries(numbers)) {
    const field = $(`g-${name}`);
    if (field && document.activeElement !== field) field.value = String(+(px / state.surface.perUnit).toFixed(3));
  }
}

// When a member of a cut list moves, the outline's result follows the pointer, drawn by Python.
let following = "";
export const paths = (item) => item.querySelectorAll(":scope > g > path, :scope > g > clipPath > path");
const isMember = (id) =>
  Boolean(state.inside && drawn(state.inside)?.querySelector(`.members [data-id="${CSS.escape(id)}"]`));

// The outline that shows the change of `id`: itself, or the outermost one it is a member of.
export function outermost(id) {
  let g = drawn(id);
  for (let up = g?.parentNode.closest(".members"); up; up = g.parentNode.closest(".members"))
    g = up.closest("g[data-kind]");
  return g?.dataset.id ?? id;
}

// What moves with `ids`, and so is never a snap target: the outlines and groups they are part of.
export function movers(ids) {
  const all = new Set(ids);
  for (const id of ids) {
    for (let up = drawn(id)?.parentNode.closest(".members, .kids"); up; up = up.parentNode.closest(".members, .kids")) {
      all.add(up.closest("g[data-kind]").dataset.id);
    }
  }
  return [...all];
}

function follow(ids, m) {
  if (!state.inside || !ids.every(isMember)) return;
  const whole = drawn(outermost(state.inside));
  following = m === identity ? "" : whole.dataset.id;
  if (!following) return;
  askPreview(following, { ids, matrix: m, part: state.part }, ({ d }) => {
    if (following !== whole.dataset.id) return;
    for (const path of paths(whole)) path.setAttribute("d", d);
  });
}

function clear(ids) {
  const whole = following ? drawn(following) : null;
  if (whole) for (const path of paths(whole)) path.setAttribute("d", whole.dataset.outline);
  preview(ids, identity);
  for (const id of ids) drawn(id)?.removeAttribute("transform");
  marks();
}

async function commit(ids, m, verb, part = state.part) {
  if (m.every((v, k) => Math.abs(v - identity[k]) < 1e-9)) {
    clear(ids);
    return;
  }
  // a copy that is moved at once defines the step to repeat
  if (verb === "move" && state.copied && ids.join() === state.copied.ids.join()) {
    change({ step: times(m, state.copied.matrix), copied: null });
  }
  following = "";
  const details = verb === "resize" && state.scaling;
  const answer = await command("transform", { ids, matrix: m, part, verb, details });
  if (answer.error) clear(ids);
}

export function boxOf(ids) {
  const boxes = ids.map((id) => drawn(id)?.dataset.box.split(" ").map(Number)).filter(Boolean);
  return {
    x0: Math.min(...boxes.map((b) => b[0])),
    y0: Math.min(...boxes.map((b) => b[1])),
    x1: Math.max(...boxes.map((b) => b[2])),
    y1: Math.max(...boxes.map((b) => b[3])),
  };
}

// The part of a wanted move that leaves a single photo covering its outline.
export function clampedMove(ids, dx, dy) {
  const { limits, frame } = (ids.length === 1 && drawn(ids[0])?.dataset) || {};
  if (!limits) return [dx, dy];
  return clampedShift(frame.split(" ").map(Number), limits.split(" ").map(Number), dx, dy);
}

const REST = 600; // ms

// A loose photo that rests over an outline or a frame while it is dragged goes into it when it is dropped.
function resting(ids) {
  const photo = ids.length === 1 && !state.inside && drawn(ids[0])?.dataset.kind === "photo" ? ids[0] : "";
  let timer = 0;
  let into = "";
  const over = (id) => {
    into = id;
    veil(id);
  };
  const stop = () => {
    clearTimeout(timer);
    over("");
  };
  return {
    moved(event) {
      stop();
      if (photo && !event.altKey) timer = setTimeout(() => over(outlineAt(event, photo)), REST);
    },
    // Resolves to the answer of the command that puts it in; null if it rested over nothing.
    dropped(m) {
      const [id, kind] = [into, drawn(into)?.dataset.kind];
      stop();
      if (!id) return null;
      if (kind === "frame") return command("replace_photo", { ids: [id, photo] });
      return command("put_in", { ids: [photo, id], matrix: m });
    },
    stop,
  };
}

// `part` is the part of a frame that moves: both, or its outline alone.
export function dragItems(from, part = state.part) {
  const ids = [...state.chosen];
  const box = boxOf(ids);
  const own = movers(ids);
  const rest = resting(ids);
  let m = identity;
  let copies = [];
  const uncopy = () => {
    for (const c of copies) c.remove();
    copies = [];
  };
  return {
    hint: "move",
    update(event) {
      const p = toSheet(event);
      let dx = p.x - from.x;
      let dy = p.y - from.y;
      const edges = { x: ["low", "mid", "high"], y: ["low", "mid", "high"] };
      if (event.shiftKey) {
        // along one axis: the other neither moves nor snaps
        const across = Math.abs(dx) > Math.abs(dy) ? "y" : "x";
        edges[across] = [];
        if (across === "y") dy = 0;
        else dx = 0;
      }
      const snap = snapBox({ x0: box.x0 + dx, x1: box.x1 + dx, y0: box.y0 + dy, y1: box.y1 + dy }, own, event, edges);
      m = move(...clampedMove(ids, dx + snap.dx, dy + snap.dy));
      if (event.altKey && !state.inside) {
        if (!copies.length) {
          clear(ids);
          copies = ids.map((id) => $("art").appendChild(drawn(id).cloneNode(true)));
          for (const c of copies) delete c.dataset.id;
        }
        for (const c of copies) c.setAttribute("transform", text(m));
        marks(m);
      } else {
        uncopy();
        preview(ids, m, part);
      }
      live(snap.html);
      if (event.altKey && !state.inside) label(event, "copy");
      rest.moved(event);
    },
    async end() {
      const put = await rest.dropped(m);
      if (put) return put.error ? clear(ids) : null;
      if (!copies.length) return commit(ids, m, "move", part);
      change({ step: m, copied: null });
      const answer = await command("duplicate", { ids, matrix: m });
      uncopy();
      if (answer.error) marks();
    },
    cancel() {
      rest.stop();
      uncopy();
      clear(ids);
    },
  };
}

// The pivot as fractions of the box, or its middle.
const pivot = () => (state.pivot ? { fx: state.pivot[0], fy: state.pivot[1] } : { fx: 0.5, fy: 0.5 });

export function resizeItems(name) {
  const ids = [...state.chosen];
  const frame = frameOf(ids);
  const [fx, fy] = spot(name);
  const grip = { x: fx * frame.w, y: fy * frame.h };
  const back = inverse(frame.m);
  const upright = Math.abs(frame.m[1]) < 1e-9 && Math.abs(frame.m[2]) < 1e-9;
  const edges = { x: fx === 0.5 ? [] : [fx === 0 ? "low" : "high"], y: fy === 0.5 ? [] : [fy === 0 ? "low" : "high"] };
  const photosOnly = ids.every((id) => drawn(id)?.dataset.kind === "photo");
  let m = identity;
  return {
    hint: "resize",
    update(event) {
      let at = toSheet(event);
      let html = "";
      if (upright && !event.shiftKey) {
        const snap = snapBox({ x0: at.x, x1: at.x, y0: at.y, y1: at.y }, movers(ids), event, edges);
        at = { x: at.x + snap.dx, y: at.y + snap.dy };
        html = snap.html;
      }
      const p = apply(back, at);
      const { fx: px, fy: py } = pivot();
      const anchor = event.altKey
        ? { x: px * frame.w, y: py * frame.h }
        : { x: (1 - fx) * frame.w, y: (1 - fy) * frame.h };
      const along = (v, g, a) => (Math.abs(g - a) < 1e-9 ? 1 : (v - a) / (g - a));
      let sx = fx === 0.5 ? 1 : along(p.x, grip.x, anchor.x);
      let sy = fy === 0.5 ? 1 : along(p.y, grip.y, anchor.y);
      if (event.shiftKey !== state.proportion || photosOnly) {
        const s = fx === 0.5 ? sy : fy === 0.5 ? sx : Math.abs(sx) > Math.abs(sy) ? sx : sy;
        sx = sy = s;
      }
      const least = 1 / view.zoom;
      if (Math.abs(sx * frame.w) < least) sx = (least / frame.w) * (Math.sign(sx) || 1);
      if (Math.abs(sy * frame.h) < least) sy = (least / frame.h) * (Math.sign(sy) || 1);
      if (upright && !event.ctrlKey && frame.m[0] > 0 && frame.m[3] > 0) {
        const [a, , , d, e, f] = frame.m;
        sx = roundedScale(sx, e + a * anchor.x, e, e + a * frame.w, fx);
        sy = photosOnly ? sx : roundedScale(sy, f + d * anchor.y, f, f + d * frame.h, fy);
      }
      m = times(times(frame.m, resize(sx, sy, anchor)), back);
      preview(ids, m);
      live(html);
      const scale = (k) => Math.hypot(frame.m[2 * k], frame.m[2 * k + 1]);
      label(
        event,
        `${show(Math.abs(sx) * frame.w * scale(0))} × ${show(Math.abs(sy) * frame.h * scale(1))} ${state.surface.unit}`,
      );
    },
    end: () => commit(ids, m, "resize"),
    cancel: () => clear(ids),
  };
}

export function turnItems(event0) {
  const ids = [...state.chosen];
  const frame = frameOf(ids);
  const { fx, fy } = pivot();
  const centre = apply(frame.m, { x: fx * frame.w, y: fy * frame.h });
  const angle = (p) => (Math.atan2(p.y - centre.y, p.x - centre.x) * 180) / Math.PI;
  const from = angle(toSheet(event0));
  const already = (Math.atan2(frame.m[1], frame.m[0]) * 180) / Math.PI;
  let m = identity;
  return {
    hint: "turn",
    update(event) {
      let by = angle(toSheet(event)) - from;
      if (event.shiftKey) by = Math.round((already + by) / 15) * 15 - already;
      m = turn(by, centre);
      preview(ids, m);
      live();
      label(event, `${(((already + by + 540) % 360) - 180).toFixed(1)}°`);
    },
    end: () => commit(ids, m, "turn"),
    cancel: () => clear(ids),
  };
}

export function dragPivot() {
  const frame = frameOf(state.chosen);
  const back = inverse(frame.m);
  const before = state.pivot;
  return {
    hint: "pivot",
    update(event) {
      const p = apply(back, toSheet(event));
      let [fx, fy] = [p.x / frame.w, p.y / frame.h];
      if (!event.ctrlKey) {
        // the pivot snaps to the nine points of the box
        const near = (v, size) => [0, 0.5, 1].find((s) => Math.abs(v - s) * size * view.zoom < 6) ?? v;
        fx = near(fx, frame.w);
        fy = near(fy, frame.h);
      }
      change({ pivot: [fx, fy] });
      marks();
    },
    end: () => emit("pivot"),
    cancel() {
      change({ pivot: before });
      marks();
    },
  };
}

// A dot in a corner of a rectangle changes all radii, or with Alt this one alone.
export function dragRadius(corner) {
  const id = cornered();
  const item = drawn(id);
  const frame = frameOf([id]);
  const back = inverse(frame.m);
  const [every, ...each] = item.dataset.radiiMost.split(" ").map(Number);
  let sent = null;
  return {
    hint: "radius",
    update(event) {
      const p = apply(back, toSheet(event));
      const x = corner === 1 || corner === 2 ? frame.w - p.x : p.x;
      const y = corner >= 2 ? frame.h - p.y : p.y;
      const most = event.altKey ? each[corner] : every;
      let r = Math.max(0, Math.min(most, (x + y) / 2));
      if (r * view.zoom < 3) r = 0;
      sent = { field: event.altKey ? `radius${corner}` : "radius", value: `${r.toFixed(3)} px` };
      const shown = outermost(id);
      askPreview(
        shown,
        { ids: [id], ...sent },
        ({ d }) => {
          if (sent) for (const path of paths(drawn(shown))) path.setAttribute("d", d);
        },
        "set_detail",
      );
      live();
      label(event, `radius ${show(r)} ${state.surface.unit}`);
    },
    async end() {
      const args = { ids: [id], ...sent };
      sent = null;
      const answer = await command("set_detail", args);
      if (answer.error) this.cancel();
    },
    cancel() {
      sent = null;
      for (const path of paths(item)) path.setAttribute("d", item.dataset.outline);
      marks();
    },
  };
}
