// One pointer, one gesture at a time; the modules it starts do the work.
import { action, perform } from "../core/act.js";
import { choose, holders, marks, outlineInside, stepInside, stepOut } from "./select.js";
import * as cells from "./cells.js";
import * as curve from "./curve.js";
import { drawEdge, drawFreehand, drawPiece } from "./draw.js";
import * as lens from "./lens.js";
import { dragItems, dragPivot, dragRadius, resizeItems, turnItems } from "./move.js";
import { notice } from "../core/notices.js";
import * as noding from "./nodes.js";
import { dragGuide } from "./guides.js";
import * as sampling from "./sampling.js";
import { isBoxed, isDrawing } from "./settings.js";
import * as refit from "./refit.js";
import * as silhouette from "./silhouette.js";
import * as touch from "./touch.js";
import { flush } from "../core/server.js";
import { snapPoint } from "./snap.js";
import { $, change, drawn, live, on, state, emit } from "../core/state.js";
import { panBy, toDesk, toSheet, view } from "../core/view.js";

const desk = $("desk");
const START = 4; // px a press may wander and still be a click
export const modifiers = { space: false };
let gesture = null;
let before = []; // what was selected before the press
let last = null; // the newest pointer event, for keys pressed during a gesture

const free = (g) => !("locked" in g.dataset) && !("hidden" in g.dataset);

function marquee(from, add) {
  const before = add ? [...state.chosen] : [];
  let hit = before;
  return {
    hint: "marquee",
    update(event) {
      const p = toSheet(event);
      const [x0, x1] = [Math.min(from.x, p.x), Math.max(from.x, p.x)];
      const [y0, y1] = [Math.min(from.y, p.y), Math.max(from.y, p.y)];
      const found = holders()
        .flatMap((h) => [...h.children])
        .filter((g) => {
          const b = g.dataset.box.split(" ").map(Number);
          return free(g) && b[0] < x1 && b[2] > x0 && b[1] < y1 && b[3] > y0;
        });
      hit = [...before, ...found.map((g) => g.dataset.id)];
      const a = toDesk({ x: x0, y: y0 });
      live(
        `<rect class="marquee" x="${a.x}" y="${a.y}" width="${(x1 - x0) * view.zoom}" height="${(y1 - y0) * view.zoom}"/>`,
      );
    },
    end: () => {
      choose(hit);
      marks();
    },
    click: () => {
      if (state.inside) stepOut();
      else if (!add || state.adding) choose([]);
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

const NEAR = [
  [0, 0],
  [4, 0],
  [-4, 0],
  [0, 4],
  [0, -4],
];

// The element under the pointer; inside a frame a near line of a piece comes before the photo below it.
function under({ clientX, clientY }) {
  const found = NEAR.map(([dx, dy]) =>
    document.elementFromPoint(clientX + dx, clientY + dy)?.closest("#art g[data-kind]"),
  );
  return (state.inside && found.find((g) => g?.parentNode.matches(".stepped > g > .members"))) || found[0];
}

export function hit(event) {
  // not event.target: a captured pointer makes the desk the target of later events
  const g = under(event);
  if (!g) return null;
  const places = holders();
  // the outermost item on the sheet itself, or in what is being edited inside
  let top = g;
  while (top && !places.includes(top.parentNode))
    top = top.parentNode?.closest?.("g[data-kind], #art > g, .kids > g, .ghost > g, .members > g");
  return top?.dataset?.id || null;
}

function begin(event) {
  const from = toSheet(event);
  const target = touch.aimed(event);
  const data = target.dataset || {};
  const add = event.shiftKey || state.adding;
  if (event.target.closest?.(".ruler")) return dragGuide(event.target.closest(".ruler.left") ? "x" : "y");
  if (event.button === 1 || (modifiers.space && !isDrawing()) || state.tool === "pan") return pan();
  if (isBoxed()) return drawPiece(state.tool, snapPoint(from, [], event), modifiers);
  if (state.tool === "edge") return drawEdge(from, hit(event));
  if (state.tool === "freehand") return drawFreehand(from);
  if (state.tool === "curve") return curve.press(from, event, modifiers);
  if (state.tool === "lettering") {
    return {
      hint: "lettering",
      update() {},
      end: () => emit("letter", from),
      click: () => emit("letter", from),
      cancel() {},
    };
  }
  if (state.tool === "cells") return cells.press(event);
  if (state.tool === "sample") return sampling.press();
  if (state.tool === "silhouette") return silhouette.press(event);
  if (state.tool === "refit") return refit.press(event);
  if (state.tool === "lens") return lens.press();
  if (state.tool === "nodes") {
    const run = noding.press(event, from);
    if (run) return run;
    const id = hit(event);
    return noding.around(from, event, () => choose(id ? [id] : []));
  }
  if (target.closest?.("[data-flag]"))
    return { hint: "", update() {}, end() {}, click: () => perform(["page:next-base", {}]), cancel() {} };
  if (data.handle === "turn") return turnItems(event);
  if (data.handle === "pivot") return dragPivot();
  if (data.handle?.startsWith("radius")) return dragRadius(Number(data.handle.slice(6)));
  if (data.handle) return resizeItems(data.handle);
  if (data.guideLine) return dragGuide(state.surface.guides[data.guideLine][0], Number(data.guideLine));
  const edge = atEdge(from);
  if (edge) {
    choose([edge]);
    return dragItems(from, "outline");
  }
  const id = hit(event);
  if (!id) return marquee(from, add);
  const was = state.chosen.includes(id);
  if (add) {
    if (!was) choose([...state.chosen, id]);
  } else if (!was) choose([id]);
  const drag = dragItems(from);
  drag.click = () => {
    if (add && was) choose(state.chosen.filter((c) => c !== id));
    else if (!add && was && state.chosen.length > 1) choose([id]);
  };
  return drag;
}

// Inside a frame its edge belongs to the window: dragging it moves the window, and the photo stays.
const NEARBY = 10; // px across the edge
function atEdge({ x, y }) {
  const frame = state.inside ? drawn(state.inside) : null;
  if (frame?.dataset.kind !== "frame" || outlineInside() !== state.inside) return "";
  const line = document.createElementNS("http://www.w3.org/2000/svg", "path");
  line.setAttribute("d", frame.dataset.outline);
  line.setAttribute("fill", "none");
  line.setAttribute("stroke", "#000");
  line.setAttribute("stroke-width", String(NEARBY / view.zoom));
  line.setAttribute("visibility", "hidden");
  $("sheet").append(line);
  const on_ = line.isPointInStroke(new DOMPoint(x, y));
  line.remove();
  return on_ ? state.inside : "";
}

export const busy = () => gesture !== null;

export function cancel() {
  if (!gesture) return false;
  gesture.run.cancel();
  gesture = null;
  live();
  emit("hint");
  return true;
}

// A modifier pressed or released during a gesture takes effect at once.
export function refresh(event) {
  if (!gesture?.moved || !last || state.tool === "freehand") return;
  const again = new PointerEvent("pointermove", {
    clientX: last.clientX,
    clientY: last.clientY,
    shiftKey: event.shiftKey,
    altKey: event.altKey,
    ctrlKey: event.ctrlKey,
  });
  gesture.run.update(again);
}
on("template", () => gesture?.run.again?.());
on("into", () => gesture?.run.again?.());

const onlyPhotos = () => state.chosen.every((id) => drawn(id)?.dataset.kind === "photo");

export function tool(name, repeating = false) {
  flush();
  // inside a frame the nodes are those of its outline, and the photo is selected again afterwards
  if (name === "nodes" && outlineInside() && onlyPhotos()) choose([outlineInside()], { ask: false });
  else if (state.tool === "nodes" && name === "choose" && state.inside && state.chosen[0] === state.inside) {
    const photo = drawn(state.inside)?.querySelector(":scope > g > .ghost > [data-id]");
    if (photo) choose([photo.dataset.id]);
  }
  change({ tool: name, repeating, toolChanges: state.toolChanges + 1 });
  desk.dataset.tool = isDrawing(name) ? "draw" : name;
  $("art").classList.toggle("noding", name === "nodes");
  emit("tool", name);
  marks();
}
on("drawn", () => state.repeating || tool("choose"));
on("cells-none", () => tool("choose"));

// A drawing tool taken a second time draws several pieces in a row, a third time only one again.
action("tool", ({ name }) => tool(name, name === state.tool && isDrawing() && !state.repeating));

// The choice of cells of an outline, from its cut list.
action("change-cells", ({ id }) => {
  while (state.inside) stepOut();
  choose([id]);
  tool("cells");
});

// Without the pointer: exact size, in the middle of the view.
action("exact", () => {
  const { left, top, width, height } = desk.getBoundingClientRect();
  const middle = toSheet({ clientX: left + width / 2, clientY: top + height / 2 });
  if (state.tool === "lettering") emit("letter", middle);
  else if (isBoxed())
    emit("exact", { kind: state.tool, at: middle, name: state.tools[state.tool].name, centred: true });
  else notice(`${state.tools[state.tool].name} has no numbers to begin from.`, "Draw it with the pointer.");
});

const APART = ".touch-strip, .exact, .notices, .progress-card, .ruler.corner, .refit-pins > *";
desk.addEventListener("pointerdown", (event) => {
  if (event.target.closest(APART)) return;
  if (touch.down(event)) {
    // the first finger was the first of two
    if (cancel() || !gesture) choose(before, { ask: false });
    touch.stir();
    return event.preventDefault();
  }
  if (gesture || event.button > 1) return;
  before = [...state.chosen];
  last = event;
  emit("press");
  if (document.activeElement !== desk) desk.focus({ preventScroll: true });
  const by = touch.apart(event, touch.aimed(event));
  const { clientX: x, clientY: y, pointerId: pointer } = event;
  gesture = { run: begin(event), x, y, by, moved: false, pointer };
  const mine = gesture;
  touch.rest(event, () => {
    if (gesture !== mine || mine.moved || state.tool !== "choose" || !hit(event)) return false;
    return cancel();
  });
  desk.setPointerCapture(event.pointerId);
  event.preventDefault();
});
desk.addEventListener("pointermove", (event) => {
  touch.moved(event);
  if (!gesture && state.tool === "curve") curve.hover(event);
  if (!gesture && state.tool === "cells") cells.hover(event);
  if (state.tool === "sample") sampling.hover(event);
  if (state.tool === "lens") lens.hover(event);
  if (!gesture || event.pointerId !== gesture.pointer) return;
  last = event;
  if (!gesture.moved) {
    const start = touch.byFinger(event) ? touch.WANDER : START;
    if (Math.hypot(event.clientX - gesture.x, event.clientY - gesture.y) < start && !gesture.run.at_once) return;
    gesture.moved = true;
    touch.stir();
    emit("hint", gesture.run.hint);
  }
  gesture.run.update(touch.beside(event, gesture.by));
});
desk.addEventListener("pointerup", (event) => {
  touch.up(event);
  touch.stir();
  if (!gesture || event.pointerId !== gesture.pointer) return;
  const { run, moved } = gesture;
  gesture = null;
  live();
  if (moved) run.end(event);
  else run.click?.(event);
  emit("hint");
});
desk.addEventListener("pointercancel", (event) => {
  touch.up(event);
  touch.stir();
  cancel();
});
desk.addEventListener("dblclick", (event) => {
  if (state.tool === "nodes") return noding.addAt(toSheet(event));
  if (state.tool !== "choose") return;
  const id = hit(event);
  if (id && id !== state.inside) stepInside(id);
});
