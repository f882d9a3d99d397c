// One pointer, one gesture at a time: pan, draw, move, resize, turn, marquee.
import { choose, frameOf, marks, spot, stepInside, stepOut } from "./choose.js";
import { apply, identity, inverse, move, resize, text, times, turn } from "./matrix.js";
import { askPreview, command } from "./server.js";
import { $, drawn, on, state, tell } from "./state.js";
import { panBy, toDesk, toSheet, view } from "./view.js";

const desk = $("desk");
const START = 4; // px a press may wander and still be a click
export const held = { space: false };
let gesture = null;
let last = null; // the newest pointer event, for keys pressed during a gesture

// Show items mapped by `m` without asking the server.
function preview(ids, m) {
  for (const id of ids) {
    const item = drawn(id);
    if (!item) continue;
    item.setAttribute("transform", text(m));
    const clipped = document.querySelector(`#art g[data-photo="${CSS.escape(id)}"]`);
    clipped?.setAttribute("transform", text(m));
    const photos = item.querySelectorAll(":scope > g [data-photo], :scope > g .ghost > g");
    for (const g of photos) {
      if (state.part === "outline") g.setAttribute("transform", text(inverse(m)));
      else g.removeAttribute("transform");
    }
  }
  follow(ids, m);
  marks(m);
}

// A member of a cut list moves: the outline's result follows under the pointer, drawn by Python.
let following = "";
function follow(ids, m) {
  const whole = state.inside ? drawn(state.inside) : null;
  if (!whole?.querySelector(".members") || !ids.every((id) => whole.querySelector(`.members [data-id="${id}"]`))) return;
  following = m === identity ? "" : state.inside;
  if (!following) return;
  askPreview(following, { ids, matrix: m, part: state.part }, (d) => {
    if (following !== state.inside) return;
    for (const path of whole.querySelectorAll(":scope > g > path, :scope > g > clipPath > path")) path.setAttribute("d", d);
  });
}

function clear(ids) {
  const whole = following ? drawn(following) : null;
  if (whole) {
    const d = whole.dataset.outline;
    for (const path of whole.querySelectorAll(":scope > g > path, :scope > g > clipPath > path")) path.setAttribute("d", d);
  }
  preview(ids, identity);
  for (const id of ids) drawn(id)?.removeAttribute("transform");
  marks();
}

async function commit(ids, m, verb) {
  if (m.every((v, k) => Math.abs(v - identity[k]) < 1e-9)) {
    clear(ids);
    return;
  }
  following = "";
  const answer = await command("transform", { ids, matrix: m, part: state.part, verb });
  if (answer.error) clear(ids);
}

function dragItems(from) {
  const ids = [...state.chosen];
  let m = identity;
  return {
    hint: "move",
    update(event) {
      const p = toSheet(event);
      let dx = p.x - from.x;
      let dy = p.y - from.y;
      if (event.shiftKey) Math.abs(dx) > Math.abs(dy) ? (dy = 0) : (dx = 0);
      m = move(dx, dy);
      preview(ids, m);
    },
    end: () => commit(ids, m, "move"),
    cancel: () => clear(ids),
  };
}

function resizeItems(name) {
  const ids = [...state.chosen];
  const frame = frameOf(ids);
  const [fx, fy] = spot(name);
  const grip = { x: fx * frame.w, y: fy * frame.h };
  const back = inverse(frame.m);
  const photosOnly = ids.every((id) => drawn(id)?.dataset.kind === "photo");
  let m = identity;
  return {
    hint: "resize",
    update(event) {
      const p = apply(back, toSheet(event));
      const anchor = event.altKey ? { x: frame.w / 2, y: frame.h / 2 } : { x: (1 - fx) * frame.w, y: (1 - fy) * frame.h };
      const along = (v, g, a) => (Math.abs(g - a) < 1e-9 ? 1 : (v - a) / (g - a));
      let sx = fx === 0.5 ? 1 : along(p.x, grip.x, anchor.x);
      let sy = fy === 0.5 ? 1 : along(p.y, grip.y, anchor.y);
      if (event.shiftKey || photosOnly) {
        const s = fx === 0.5 ? sy : fy === 0.5 ? sx : Math.abs(sx) > Math.abs(sy) ? sx : sy;
        sx = sy = s;
      }
      const least = 1 / view.zoom;
      if (Math.abs(sx * frame.w) < least) sx = (least / frame.w) * (Math.sign(sx) || 1);
      if (Math.abs(sy * frame.h) < least) sy = (least / frame.h) * (Math.sign(sy) || 1);
      m = times(times(frame.m, resize(sx, sy, anchor)), back);
      preview(ids, m);
    },
    end: () => commit(ids, m, "resize"),
    cancel: () => clear(ids),
  };
}

function turnItems(event0) {
  const ids = [...state.chosen];
  const frame = frameOf(ids);
  const centre = apply(frame.m, { x: frame.w / 2, y: frame.h / 2 });
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
      label(event, `${(((already + by + 540) % 360) - 180).toFixed(1)}°`);
    },
    end: () => commit(ids, m, "turn"),
    cancel: () => clear(ids),
  };
}

function label(event, words) {
  const box = desk.getBoundingClientRect();
  const x = event.clientX - box.left + 14;
  const y = event.clientY - box.top + 18;
  const width = words.length * 6.2 + 12;
  $("overlay").insertAdjacentHTML("beforeend", `<rect class="size-ground" x="${x}" y="${y}" width="${width}" height="17" rx="4"/><text class="size-word" x="${x + 6}" y="${y + 12.5}">${words}</text>`);
}

const show = (px) => String(+(px / state.surface.perUnit).toFixed(state.surface.unit === "px" ? 0 : 2));

function drawPiece(kind, from0) {
  let from = from0;
  let to = from;
  let before = from;
  let box = { x: from.x, y: from.y, w: 0, h: 0 };
  return {
    hint: "draw",
    update(event) {
      const p = toSheet(event);
      if (held.space) from = { x: from.x + p.x - before.x, y: from.y + p.y - before.y };
      before = p;
      to = p;
      let w = to.x - from.x;
      let h = to.y - from.y;
      if (event.shiftKey) {
        const side = Math.max(Math.abs(w), Math.abs(h));
        w = side * (Math.sign(w) || 1);
        h = side * (Math.sign(h) || 1);
      }
      box = event.altKey
        ? { x: from.x - Math.abs(w), y: from.y - Math.abs(h), w: 2 * Math.abs(w), h: 2 * Math.abs(h) }
        : { x: Math.min(from.x, from.x + w), y: Math.min(from.y, from.y + h), w: Math.abs(w), h: Math.abs(h) };
      const a = toDesk(box);
      const [sw, sh] = [box.w * view.zoom, box.h * view.zoom];
      $("overlay").innerHTML = kind === "ellipse"
        ? `<ellipse class="drawing" cx="${a.x + sw / 2}" cy="${a.y + sh / 2}" rx="${sw / 2}" ry="${sh / 2}"/>`
        : `<rect class="drawing" x="${a.x}" y="${a.y}" width="${sw}" height="${sh}"/>`;
      label(event, `${show(box.w)} × ${show(box.h)} ${state.surface.unit}`);
    },
    async end() {
      if (box.w > 0 && box.h > 0) {
        const answer = await command("draw", { kind, x: box.x, y: box.y, width: box.w, height: box.h });
        if (answer.error) marks();
      } else marks();
      tool("choose");
    },
    click: (event) => tell("exact", { kind, at: from0, event }),
    cancel: () => marks(),
  };
}

function marquee(from, add) {
  const before = add ? [...state.chosen] : [];
  let hit = before;
  return {
    hint: "marquee",
    update(event) {
      const p = toSheet(event);
      const [x0, x1] = [Math.min(from.x, p.x), Math.max(from.x, p.x)];
      const [y0, y1] = [Math.min(from.y, p.y), Math.max(from.y, p.y)];
      const inside = state.inside ? drawn(state.inside).querySelectorAll(".ghost > g, .members > g") : $("art").children;
      const found = [...inside].filter((g) => {
        const b = g.dataset.box.split(" ").map(Number);
        return b[0] < x1 && b[2] > x0 && b[1] < y1 && b[3] > y0;
      });
      hit = [...before, ...found.map((g) => g.dataset.id)];
      const a = toDesk({ x: x0, y: y0 });
      $("overlay").innerHTML = `<rect class="marquee" x="${a.x}" y="${a.y}" width="${(x1 - x0) * view.zoom}" height="${(y1 - y0) * view.zoom}"/>`;
    },
    end: () => {
      choose(hit);
      marks();
    },
    click: () => {
      if (state.inside) stepOut();
      else if (!add) choose([]);
    },
    cancel: () => marks(),
  };
}

function pan() {
  desk.classList.add("panning");
  let before = last;
  const stop = () => desk.classList.remove("panning");
  return {
    hint: "pan",
    at_once: true,
    update(event) {
      panBy(event.clientX - before.clientX, event.clientY - before.clientY);
      before = event;
    },
    end: stop,
    cancel: stop,
    click: () => {},
  };
}

function hit(event) {
  // not event.target: a captured pointer makes the desk the target of what follows
  const g = document.elementFromPoint(event.clientX, event.clientY)?.closest("#art g[data-kind]");
  if (!g) return null;
  if (!state.inside) {
    // the outermost item that lies on the sheet itself
    let top = g;
    while (top.parentNode !== $("art")) top = top.parentNode;
    return top.dataset.id;
  }
  return drawn(state.inside)?.contains(g) && g.dataset.id !== state.inside ? g.dataset.id : null;
}

function begin(event) {
  const from = toSheet(event);
  const handle = event.target.dataset?.handle;
  if (event.button === 1 || (held.space && state.tool === "choose") || state.tool === "pan") return pan();
  if (state.tool === "rectangle" || state.tool === "ellipse") return drawPiece(state.tool, from);
  if (handle === "turn") return turnItems(event);
  if (handle) return resizeItems(handle);
  const id = hit(event);
  if (!id) return marquee(from, event.shiftKey);
  const was = state.chosen.includes(id);
  if (event.shiftKey) {
    if (!was) choose([...state.chosen, id]);
  } else if (!was) choose([id]);
  const drag = dragItems(from);
  drag.click = () => {
    if (event.shiftKey && was) choose(state.chosen.filter((c) => c !== id));
    else if (!event.shiftKey && was && state.chosen.length > 1) choose([id]);
  };
  return drag;
}

export const busy = () => gesture !== null;

export function cancel() {
  if (!gesture) return false;
  gesture.run.cancel();
  gesture = null;
  tell("hint");
  return true;
}

// A modifier pressed or let go during a gesture shows at once.
export function refresh(event) {
  if (!gesture?.moved || !last) return;
  const again = new PointerEvent("pointermove", {
    clientX: last.clientX,
    clientY: last.clientY,
    shiftKey: event.shiftKey,
    altKey: event.altKey,
  });
  gesture.run.update(again);
}

export function tool(name) {
  state.tool = name;
  desk.dataset.tool = name;
  tell("tool", name);
}

desk.addEventListener("pointerdown", (event) => {
  if (gesture || event.button > 1 || event.target.closest(".exact, .notices, .inside-bar, .progress-card, .ruler")) return;
  last = event;
  tell("press");
  if (document.activeElement !== desk) desk.focus({ preventScroll: true });
  gesture = { run: begin(event), x: event.clientX, y: event.clientY, moved: false, pointer: event.pointerId };
  desk.setPointerCapture(event.pointerId);
  event.preventDefault();
});
desk.addEventListener("pointermove", (event) => {
  if (!gesture || event.pointerId !== gesture.pointer) return;
  last = event;
  if (!gesture.moved) {
    if (Math.hypot(event.clientX - gesture.x, event.clientY - gesture.y) < START && !gesture.run.at_once) return;
    gesture.moved = true;
    tell("hint", gesture.run.hint);
  }
  gesture.run.update(event);
});
desk.addEventListener("pointerup", (event) => {
  if (!gesture || event.pointerId !== gesture.pointer) return;
  const { run, moved } = gesture;
  gesture = null;
  if (moved) run.end(event);
  else run.click?.(event);
  tell("hint");
});
desk.addEventListener("pointercancel", cancel);
desk.addEventListener("dblclick", (event) => {
  const id = state.inside ? null : hit(event);
  if (id) stepInside(id);
});
on("tool", () => {
  for (const tile of document.querySelectorAll("[data-tool].tile")) {
    tile.setAttribute("aria-pressed", String(tile.dataset.tool === state.tool));
  }
});
