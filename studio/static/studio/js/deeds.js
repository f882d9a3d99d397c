// What buttons and keys do.
import { choose, holders, stepInside, stepOut } from "./choose.js";
import { tool } from "./gestures.js";
import { notice } from "./hints.js";
import { askPanels, command } from "./server.js";
import { $, drawn, state, tell } from "./state.js";
import { fit, fitBox, view, zoomTo } from "./view.js";

export function station(name) {
  // a tool belongs to its station: at another one the hand chooses
  if (name !== state.station && name !== "draw" && state.tool !== "choose") tool("choose");
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

// Outlines only: no paint and no photos, to see every line.
export function lines(change = !$("art").classList.contains("lines")) {
  $("art").classList.toggle("lines", change);
  for (const box of document.querySelectorAll("[data-lines]")) box.checked = change;
}

export const combine = (operation) => command("combine", { ids: state.chosen, operation, base: state.base });

export function part(name) {
  state.part = name;
  for (const radio of document.querySelectorAll("input[name=part]")) radio.checked = radio.value === name;
  tell("part", name);
}

// What copying takes along is a note of where it is; the server looks it up, in this project or another one.
const note = () => `gouge ${state.project} ${state.revision} ${state.chosen.join(",")}`;
export function copied(event, cut) {
  if (!state.chosen.length) return;
  if (state.inside) return notice("What lies inside cannot be copied alone.", "Step out first.");
  event.clipboardData.setData("text/plain", note());
  event.preventDefault();
  if (cut) deeds.remove();
}
export function pasted(event) {
  const m = /^gouge (\d+) (\d+) ([\w,]+)$/.exec(event.clipboardData.getData("text/plain"));
  if (!m) return;
  event.preventDefault();
  const ids = m[3].split(",");
  const here = Number(m[1]) === state.project && ids.some((id) => drawn(id));
  command("paste", { project: Number(m[1]), revision: Number(m[2]), ids, shift: here });
}

const value = (id) => $(id).value;
const boxOf = (g) => g.dataset.box.split(" ").map(Number);

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
  all: () => {
    choose(holders().flatMap((g) => [...g.children]).filter((c) => !("locked" in c.dataset) && !("hidden" in c.dataset)).map((c) => c.dataset.id));
  },
  group: () => command("group", { ids: state.chosen }),
  ungroup: () => command("ungroup", { ids: state.chosen }),
  gather: () => command("gather", { ids: state.chosen }),
  "separate-loops": (button) => command("separate", { id: button.dataset.id, loops: true }),
  repeat: () => command("repeat", { ids: state.chosen, columns: value("rep-columns"), rows: value("rep-rows"), gap_x: value("rep-x"), gap_y: value("rep-y") }),
  "copy-step": () => {
    if (!state.step) return notice("No copy was made yet whose step could be repeated.", "Drag one with Alt, or press Ctrl D and move it.");
    command("duplicate", { ids: state.chosen, matrix: state.step });
  },
  "same-paint": () => {
    const paint = drawn(state.chosen[0])?.dataset.paint;
    if (!paint) return notice("No piece is chosen whose paint could be looked for.", "Click a piece first.");
    choose([...$("art").children].filter((g) => g.dataset.paint === paint).map((g) => g.dataset.id));
  },
  "lying-inside": () => {
    const outer = drawn(state.chosen[0]);
    if (!outer) return notice("Nothing is chosen to look inside of.", "Click a piece first.");
    const [x0, y0, x1, y1] = boxOf(outer);
    const found = [...$("art").children].filter((g) => g !== outer && boxOf(g).every((v, k) => (k < 2 ? v >= [x0, y0][k] : v <= [x1, y1][k - 2])));
    if (!found.length) return notice(`Nothing lies inside “${outer.dataset.name}”.`);
    choose(found.map((g) => g.dataset.id));
  },
  "fit-chosen": () => {
    const boxes = (state.chosen.length ? state.chosen.map(drawn) : [...$("art").children]).filter(Boolean).map(boxOf);
    if (boxes.length) fitBox([0, 1].map((k) => Math.min(...boxes.map((b) => b[k]))), [2, 3].map((k) => Math.max(...boxes.map((b) => b[k]))));
  },
  "actual-size": () => zoomTo(96 / state.surface.resolution),
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
