// What buttons and keys do.
import { choose, stepInside, stepOut } from "./choose.js";
import { tool } from "./gestures.js";
import { notice } from "./hints.js";
import { askPanels, command } from "./server.js";
import { $, drawn, state, tell } from "./state.js";
import { fit, view, zoomTo } from "./view.js";

export function station(name) {
  state.station = name;
  for (const tab of document.querySelectorAll("[data-station]")) {
    if (tab.dataset.station === name) tab.setAttribute("aria-current", "step");
    else tab.removeAttribute("aria-current");
  }
  see();
  tell("station", name);
  askPanels();
}

// Pieces let photos through while drawing, cutting and fitting; finishing shows them as they go out.
export function see(change) {
  if (change !== undefined) state.seeing = change;
  const working = ["draw", "cut", "fit"].includes(state.station);
  $("art").classList.toggle("seeing", state.seeing && working);
  for (const box of document.querySelectorAll("[data-see]")) box.checked = state.seeing;
}

export const combine = (operation) => command("combine", { ids: state.chosen, operation, base: state.base });

export function part(name) {
  state.part = name;
  for (const radio of document.querySelectorAll("input[name=part]")) radio.checked = radio.value === name;
  tell("part", name);
}

export const deeds = {
  undo: () => command("undo"),
  redo: () => command("redo"),
  fit,
  "zoom-in": () => zoomTo(view.zoom * 1.25),
  "zoom-out": () => zoomTo(view.zoom / 1.25),
  keys: () => $("keys").showModal(),
  "bring-in": () => $("files").click(),
  "put-in": () => command("put_in", { ids: state.chosen }),
  "take-out": () => command("take_out", { ids: state.chosen }),
  "step-inside": (button) => {
    const id = button?.dataset?.id || state.chosen[0];
    if (!id) notice("Nothing is chosen to step inside.", "Click a frame or an outline first.");
    else if (!stepInside(id)) notice(`“${drawn(id)?.dataset.name}” has nothing inside.`, "Put a photo in it, or combine it with another piece.");
  },
  "step-out": stepOut,
  remove: () => command("remove", { ids: state.chosen }),
  duplicate: () => command("duplicate", { ids: state.chosen }),
  all: () => choose(state.inside ? [] : state.order),
  restack: (to) => command("restack", { ids: state.chosen, to }),
};

// Nudges that follow one another closely are one step.
let nudged = null;
export function nudge(dx, dy) {
  if (!state.chosen.length) return;
  if (!nudged) nudged = { x: 0, y: 0, timer: 0 };
  nudged.x += dx;
  nudged.y += dy;
  clearTimeout(nudged.timer);
  const shift = `translate(${nudged.x} ${nudged.y})`;
  for (const id of state.chosen) {
    drawn(id)?.setAttribute("transform", shift);
    document.querySelector(`#art g[data-photo="${CSS.escape(id)}"]`)?.setAttribute("transform", shift);
  }
  nudged.timer = setTimeout(flushNudge, 250);
}
export function flushNudge() {
  if (!nudged) return;
  const { x, y, timer } = nudged;
  clearTimeout(timer);
  nudged = null;
  command("transform", { ids: state.chosen, matrix: [1, 0, 0, 1, x, y], part: state.part, verb: "nudge" });
}

export { choose, tool };
