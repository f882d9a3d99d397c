// The key map, by first letters of our words.
import { combine, deeds, flushNudge, nudge, part, see, station, tool } from "./deeds.js";
import { choose, stepOut } from "./choose.js";
import { busy, cancel, held, refresh } from "./gestures.js";
import { $, state } from "./state.js";

const STATIONS = ["draw", "cut", "fit", "finish", "deliver"];
const LETTERS = {
  c: () => tool("choose"),
  r: () => tool("rectangle"),
  e: () => tool("ellipse"),
  b: deeds["bring-in"],
  p: deeds["put-in"],
  t: deeds["take-out"],
  o: () => part(state.part === "outline" ? "both" : "outline"),
  u: () => combine("union"),
  s: () => combine("subtract"),
  i: () => combine("intersect"),
  x: () => combine("exclude"),
  d: () => combine("divide"),
  v: () => see(!state.seeing),
  w: deeds.fit,
  "+": deeds["zoom-in"],
  "=": deeds["zoom-in"],
  "-": deeds["zoom-out"],
  "?": deeds.keys,
  delete: deeds.remove,
  backspace: deeds.remove,
  pageup: () => deeds.restack("up"),
  pagedown: () => deeds.restack("down"),
  home: () => deeds.restack("top"),
  end: () => deeds.restack("bottom"),
};
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

const typing = (target) => target.closest?.("input:not([type=radio]):not([type=checkbox]):not([type=color]), select, textarea, dialog");
const pressing = (target) => target.closest?.("button, a, summary, input");

function escape() {
  if (cancel()) return;
  if (!$("exact").hidden) {
    $("exact").hidden = true;
    $("desk").focus();
  } else if (state.tool !== "choose") tool("choose");
  else if (!stepOut()) choose([]);
}

document.addEventListener("keydown", (event) => {
  if (event.key === "Escape" && !$("keys").open) {
    // in a field Escape only leaves it; in the exact numbers it drops them
    if (typing(event.target) && !event.target.closest("#exact")) event.target.blur();
    else escape();
    return;
  }
  if (typing(event.target)) return;
  if (["Shift", "Alt"].includes(event.key)) {
    if (busy()) event.preventDefault();
    return refresh(event);
  }
  if (event.key === " " && !pressing(event.target)) {
    event.preventDefault();
    held.space = true;
    if (!busy() && state.tool === "choose") $("desk").classList.add("hand");
    return;
  }
  if (busy()) return;
  const key = event.key.toLowerCase();
  if (event.ctrlKey || event.metaKey) {
    const run = { z: event.shiftKey ? deeds.redo : deeds.undo, y: deeds.redo, a: deeds.all, d: deeds.duplicate }[key];
    if (run) {
      event.preventDefault();
      flushNudge();
      run();
    }
    return;
  }
  if (event.altKey) return;
  if (ARROWS[event.key]) {
    if (pressing(event.target) && !event.target.dataset.row) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    return nudge(ARROWS[event.key][0] * by, ARROWS[event.key][1] * by);
  }
  if (key === "enter" && !pressing(event.target)) return deeds["step-inside"]();
  if (STATIONS[Number(key) - 1]) return station(STATIONS[Number(key) - 1]);
  if (LETTERS[key]) {
    event.preventDefault();
    flushNudge();
    LETTERS[key]();
  }
});
$("desk").addEventListener("pointerdown", () => $("desk").classList.remove("keyed"));
document.addEventListener("keyup", (event) => {
  if (event.key === "Tab") $("desk").classList.toggle("keyed", event.target === $("desk"));
  if (event.key === " ") {
    held.space = false;
    $("desk").classList.remove("hand");
  }
  if (["Shift", "Alt"].includes(event.key)) refresh(event);
});
