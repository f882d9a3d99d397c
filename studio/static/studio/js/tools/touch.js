// Fingers: two pan and zoom, one that rests opens a strip at the selection, and targets have a wider reach.
import { action } from "../core/act.js";
import { $, change, drawn, on, state } from "../core/state.js";
import { panBy, view, zoomTo } from "../core/view.js";

const REACH = 24; // px from a handle that a finger still meets
const LONG = 500; // ms
export const WANDER = 10; // px a finger may wander and still be a tap

const desk = $("desk");
const strip = $("touch-strip");
export const byFinger = (event) => event.pointerType === "touch";

// The target of a press: for a finger the nearest handle, unless the middle of the selection is nearer.
export function aimed(event) {
  if (!byFinger(event)) return event.target;
  const off = (element) => {
    const box = element.getBoundingClientRect();
    return Math.hypot(box.left + box.width / 2 - event.clientX, box.top + box.height / 2 - event.clientY);
  };
  const whole = document.querySelector("#marks .chosen-box");
  let [best, least] = [event.target, Math.min(REACH, whole ? off(whole) : REACH)];
  for (const handle of document.querySelectorAll("#overlay :is(.grab, .refit-handle)")) {
    const far = off(handle);
    if (far < least) [best, least] = [handle, far];
  }
  return best;
}

// The offset (px) from the finger to the middle of the handle it grabbed: kept, so that nothing jumps.
export function apart(event, handle) {
  if (!byFinger(event) || !handle.closest?.("#overlay")) return null;
  const box = handle.getBoundingClientRect();
  return { x: box.left + box.width / 2 - event.clientX, y: box.top + box.height / 2 - event.clientY };
}
export function beside(event, by) {
  if (!by) return event;
  const { shiftKey, altKey, ctrlKey, metaKey } = event;
  const at = { clientX: event.clientX + by.x, clientY: event.clientY + by.y };
  return new PointerEvent("pointermove", { ...at, shiftKey, altKey, ctrlKey, metaKey });
}

// -- two fingers

const fingers = new Map(); // by pointer, where each is
const middle = () => {
  const [a, b] = [...fingers.values()];
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.hypot(a.x - b.x, a.y - b.y) };
};

// A finger comes down; true unless it is the first, so that the sheet moves and nothing on it.
export function down(event) {
  if (!byFinger(event)) return false;
  fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
  return fingers.size > 1;
}
export function moved(event) {
  if (!fingers.has(event.pointerId)) return;
  const before = fingers.size === 2 ? middle() : null;
  fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
  if (!before) return;
  const now = middle();
  const box = desk.getBoundingClientRect();
  panBy(now.x - before.x, now.y - before.y);
  if (before.apart > 0 && now.apart > 0)
    zoomTo(view.zoom * (now.apart / before.apart), { x: now.x - box.left, y: now.y - box.top });
}
export const up = (event) => fingers.delete(event.pointerId);

// -- one that rests

let resting = 0;
const INSIDES = { frame: "Move the photo", outline: "Edit the pieces", group: "Step inside" };

// Open the strip where a finger rests on something, unless it moves before.
export function rest(event, open) {
  clearTimeout(resting);
  if (byFinger(event)) resting = setTimeout(() => open() && show(event), LONG);
}
export const stir = () => clearTimeout(resting);

function show(event) {
  const kind = state.chosen.length === 1 ? drawn(state.chosen[0])?.dataset.kind : "";
  const inside = $("touch-inside");
  inside.hidden = !INSIDES[kind];
  inside.textContent = INSIDES[kind] || "";
  strip.hidden = false;
  const [box, own] = [desk.getBoundingClientRect(), strip.getBoundingClientRect()];
  const within = (at, size, most) => Math.max(8, Math.min(at, most - size - 8));
  strip.style.left = `${within(event.clientX - box.left - own.width / 2, own.width, box.width)}px`;
  strip.style.top = `${within(event.clientY - box.top - own.height - 30, own.height, box.height)}px`;
}
const hide = () => {
  strip.hidden = true;
};

// Each tap adds to the selection, until a tap beside everything.
action("add-more", () => {
  change({ adding: !state.adding }, "adding");
  hide();
});
on("adding", () => $("touch-add").setAttribute("aria-pressed", String(state.adding)));
on("press", hide);
on("station", hide);
on("tool", () => {
  hide();
  change({ adding: false }, "adding");
});
on("chosen", (ids) => {
  if (!ids.length && state.adding) change({ adding: false }, "adding");
});
// the strip closes after a press on it
strip.addEventListener("click", hide);
