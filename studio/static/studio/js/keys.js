// The key map, by first letters of our words.
import * as cells from "./cells.js";
import * as curve from "./curve.js";
import { combine, copied, deeds, flushNudge, lines, nudge, part, pasted, see, station, tool } from "./deeds.js";
import { choose, stepOut } from "./choose.js";
import { busy, cancel, held, refresh } from "./gestures.js";
import * as noding from "./noding.js";
import { DRAWS, countBy, setInto } from "./settings.js";
import { $, state } from "./state.js";

const STATIONS = ["draw", "cut", "fit", "finish", "deliver"];
const LETTERS = {
  c: () => tool("choose"),
  n: () => tool("nodes"),
  r: () => tool("rectangle"),
  e: () => tool("ellipse"),
  g: () => tool("polygon"),
  a: () => tool("star"),
  q: () => tool("curve"),
  f: () => tool("freehand"),
  l: () => tool("lettering"),
  z: () => tool("edge"),
  y: () => tool("ready"),
  k: () => deeds["fit-chosen"](),
  0: () => deeds["actual-size"](),
  b: deeds["bring-in"],
  p: deeds["put-in"],
  t: deeds["take-out"],
  o: () => part(state.part === "outline" ? "both" : "outline"),
  u: () => combine("union"),
  s: () => combine("subtract"),
  i: () => combine("intersect"),
  x: () => combine("exclude"),
  d: () => combine("divide"),
  j: () => tool("cells"),
  v: () => see(!state.seeing),
  w: deeds.fit,
  "+": deeds["zoom-in"],
  "=": deeds["zoom-in"],
  "-": deeds["zoom-out"],
  "?": deeds.keys,
  delete: () => (noding.active() ? noding.remove() : deeds.remove()),
  backspace: () => (noding.active() ? noding.remove() : deeds.remove()),
  pageup: () => deeds.restack("up"),
  pagedown: () => deeds.restack("down"),
  home: () => deeds.restack("top"),
  end: () => deeds.restack("bottom"),
};
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

const typing = (target) => target.closest?.("input:not([type=radio]):not([type=checkbox]):not([type=color]), select, textarea, dialog");
const pressing = (target) => target.closest?.("button, a, summary, input");

const INTO = { u: "union", s: "subtract", i: "intersect", x: "exclude" };

// A key for the tool at hand, before what it means elsewhere; true where it was one.
function toolKey(event, key) {
  if (DRAWS.includes(state.tool) && INTO[key] && !event.ctrlKey && !event.metaKey) {
    setInto(state.into === INTO[key] ? "" : INTO[key]);
    return true;
  }
  if (["ArrowUp", "ArrowDown"].includes(event.key) && countBy(event.key === "ArrowUp" ? 1 : -1)) return true;
  if (cells.active()) {
    if (event.key === "Enter") cells.accept();
    else return cells.key(event);
    return true;
  }
  if (state.tool === "curve" && curve.drawing()) {
    if (event.key === "Enter") curve.finish(false);
    else if (event.key === "Backspace") curve.back();
    else return false;
    return true;
  }
  return false;
}

function escape() {
  if (cancel()) return;
  if (curve.drawing()) return curve.drop();
  if (noding.active() && noding.drop()) return;
  if (cells.active() && cells.drop()) return;
  if (!$("letter").hidden) {
    $("letter").hidden = true;
    return $("desk").focus();
  }
  if (!$("exact").hidden) {
    $("exact").hidden = true;
    $("desk").focus();
  } else if (state.tool !== "choose") tool("choose");
  else if (!stepOut()) choose([]);
}

document.addEventListener("keydown", (event) => {
  if (event.key === "Escape" && !$("keys").open) {
    // in a field Escape only leaves it; in the exact numbers it drops them
    if (typing(event.target) && !event.target.closest("#exact, #letter")) event.target.blur();
    else escape();
    return;
  }
  if (typing(event.target)) return;
  if (["Shift", "Alt", "Control"].includes(event.key)) {
    if (busy()) event.preventDefault();
    return refresh(event);
  }
  if (!pressing(event.target) && toolKey(event, event.key.toLowerCase())) return event.preventDefault();
  if (event.key === " " && !pressing(event.target)) {
    event.preventDefault();
    held.space = true;
    if (!busy() && !DRAWS.includes(state.tool)) $("desk").classList.add("hand");
    return;
  }
  if (busy()) return;
  const key = event.key.toLowerCase();
  if (event.ctrlKey || event.metaKey) {
    const run = { z: event.shiftKey ? deeds.redo : deeds.undo, y: deeds.redo, a: deeds.all, d: event.shiftKey ? deeds["copy-step"] : deeds.duplicate, g: event.shiftKey ? deeds.ungroup : deeds.group }[key];
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
    if (noding.active()) return void noding.nudge(ARROWS[event.key][0] * by, ARROWS[event.key][1] * by);
    return nudge(ARROWS[event.key][0] * by, ARROWS[event.key][1] * by);
  }
  if (key === "enter" && !pressing(event.target)) return deeds["step-inside"]();
  if (STATIONS[Number(key) - 1]) return station(STATIONS[Number(key) - 1]);
  if (key === "v" && event.shiftKey) return lines();
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
  if (["Shift", "Alt", "Control"].includes(event.key)) refresh(event);
});
for (const name of ["copy", "cut"]) {
  document.addEventListener(name, (event) => {
    if (!typing(event.target)) copied(event, name === "cut");
  });
}
document.addEventListener("paste", (event) => {
  if (!typing(event.target)) pasted(event);
});
