// Keys: run the actions of Python's table, unless text is being typed.
import * as cells from "./cells.js";
import { perform } from "../core/act.js";
import * as curve from "./curve.js";
import { copied, pasted } from "./actions.js";
import { choose, stepOut } from "./select.js";
import { busy, cancel, modifiers, refresh, tool } from "./gestures.js";
import { keyMap, meaning, nameOf } from "../core/keymap.js";
import * as noding from "./nodes.js";
import { isDrawing, steered } from "./settings.js";
import * as refit from "./refit.js";
import { along } from "../panels/round.js";
import * as silhouette from "./silhouette.js";
import { $, state } from "../core/state.js";

const map = keyMap(state.keys);
const TYPING = "input:not([type=radio]):not([type=checkbox]):not([type=color]), textarea, dialog";
const typing = (target) => target.closest?.(TYPING);
// what a key does to the focused element, before anything else
const native = (event) => {
  const { target, key } = event;
  // with Ctrl held, Enter belongs to no element
  if (nameOf(event) === "ctrl+enter") return false;
  // a closed list keeps no letters: they are the sheet's keys, unless it is open
  if (target.closest?.("select")) return target !== pressed || isOpen(target) || key.length > 1 || key === " ";
  if (target.closest?.("input[type=radio]")) return key.startsWith("Arrow") || key === " ";
  const control = target.closest?.("button, a, summary, input");
  return (key === "Enter" || key === " ") && Boolean(control) && control !== pressed;
};
const isOpen = (select) => CSS.supports("selector(:open)") && select.matches(":open");
// An element pressed by the pointer keeps the focus, but not the keys: those stay the sheet's.
let pressed = null;
document.addEventListener("pointerdown", ({ target }) => {
  pressed = target.closest?.("dialog, .exact, .notices") ? null : target.closest?.("button, a, summary, input, select");
});
document.addEventListener("focusin", ({ target }) => {
  if (target !== pressed) pressed = null;
});

// The modes, nearest first.
function works() {
  const now = [];
  if (cells.active()) now.push("cells");
  if (state.tool === "sample") now.push("sample");
  if (silhouette.active()) now.push("silhouette");
  if (refit.active()) now.push("refit");
  if (state.tool === "lens") now.push("lens");
  if (noding.active()) now.push("noding");
  if (noding.active() && noding.chosenNodes().length) now.push("nodes");
  if (state.tool === "curve" && curve.drawing()) now.push("curve");
  if (isDrawing()) now.push("drawing");
  if (isDrawing() && steered()) now.push("steered");
  return now;
}

function leave() {
  if (cancel()) return;
  if (curve.drawing()) return curve.drop();
  if (noding.active() && noding.drop()) return;
  if (cells.active() && cells.drop()) return;
  if (silhouette.active() && silhouette.drop()) return;
  if (refit.active() && refit.drop()) return;
  for (const id of ["letter", "exact"]) {
    if ($(id).hidden) continue;
    $(id).hidden = true;
    return $("desk").focus();
  }
  if (state.tool !== "choose") tool("choose");
  else if (!stepOut()) choose([]);
}

document.addEventListener("keydown", (event) => {
  if (event.key === "Escape" && !$("keys").open) {
    if (!typing(event.target) || event.target.closest(".exact")) leave();
    return;
  }
  const round = event.key === "F6" && !event.target.closest?.("dialog");
  if (typing(event.target) && !round) {
    if (nameOf(event) !== "ctrl+enter" || !event.target.closest("#export")) return;
    // the typed text counts
    const field = event.target;
    field.blur();
    field.focus();
  }
  if (["Shift", "Alt", "Control"].includes(event.key)) {
    if (busy()) event.preventDefault();
    return refresh(event);
  }
  if (native(event) || event.altKey) return;
  const ofStations = event.target.closest?.(".stations") && event.target !== pressed;
  if (ofStations && along(event)) return event.preventDefault();
  if (event.key === " ") {
    event.preventDefault();
    modifiers.space = true;
    if (!busy() && !isDrawing()) $("desk").classList.add("hand");
    return;
  }
  const found = meaning(map, nameOf(event), works());
  if (!found) return;
  // during a gesture, only its own keys work
  if (busy() && !["page:count", "page:into"].includes(found[0])) return;
  event.preventDefault();
  perform(found, { event });
});
$("desk").addEventListener("pointerdown", () => $("desk").classList.remove("keyed"));
document.addEventListener("keyup", (event) => {
  if (event.key === "Tab") $("desk").classList.toggle("keyed", event.target === $("desk"));
  if (event.key === " ") {
    modifiers.space = false;
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
