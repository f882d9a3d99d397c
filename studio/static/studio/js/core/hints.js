// The hint line: what the modifiers do in the current gesture.
import { limits } from "../tools/settings.js";
import { $, on, onAny, state } from "./state.js";

const finger = matchMedia("(pointer: coarse)").matches;
const BY_FINGER = { Drag: "Drag", Click: "Tap", "Double-click": "Double tap" };
const keyed = (key, words) => `<span><kbd>${key}</kbd> ${words}</span>`;
// The part of a hint that applies here: a finger has no keys.
const k = (key, words) => {
  if (!finger) return keyed(key, words);
  return BY_FINGER[key] ? keyed(BY_FINGER[key], words) : "";
};
const FINGERS = finger ? keyed("Hold", "for more") + keyed("Two fingers", "move and zoom") : "";
const HINTS = {
  draw: k("Shift", "equal sides") + k("Alt", "from the centre") + k("Space", "move while drawing") + k("Esc", "cancel"),
  move: k("Shift", "along one axis") + k("Alt", "a copy") + k("Ctrl", "no snapping") + k("Esc", "cancel"),
  resize: k("Shift", "keep proportions") + k("Alt", "from the centre") + k("Esc", "cancel"),
  turn: k("Shift", "in steps of 15°") + k("Esc", "cancel"),
  marquee: k("Esc", "deselect"),
  nodes: k("Shift", "along one axis") + k("Ctrl", "no snapping") + k("Esc", "cancel"),
  handle: k("Alt", "only this handle") + k("Esc", "cancel"),
  radius: k("Alt", "only this corner") + k("Esc", "cancel"),
  pivot: k("Ctrl", "anywhere") + k("Esc", "cancel"),
  guide: k("Esc", "cancel"),
  edge: k("Shift", "in steps of 15°") + k("Esc", "cancel"),
  freehand: k("Esc", "cancel"),
  curve: k("Alt", "only this handle") + k("Space", "move the node") + k("Esc", "cancel"),
  silhouette: k("Esc", "cancel"),
  refit: k("Shift", "keep its proportion") + k("Esc", "cancel"),
  cells: k("Esc", "cancel"),
  lettering: "",
  pan: "",
};

const boxed = k("Click", "exact size") + k("Alt", "from the centre");
const CELLS =
  k("Drag", "across parts") + k("Alt", "take away") + k("J A L", "join, take away, lift out") + k("Enter", "accept");
const SILHOUETTE = k("Drag", "mark with the brush") + k("Backspace", "undo the mark") + k("Esc", "cancel");
const REFIT = k("Drag", "a handle") + k("Click", "a pin, to anchor it differently") + k("Esc", "cancel");
const NODES =
  k("Click", "select a node") +
  k("Drag", "around some") +
  k("Alt", "by a loop") +
  k("Double-click", "add one") +
  k("N", "the next") +
  k("H", "its handles") +
  k("Delete", "remove");

// What a drawing tool's modifiers do: the words come with its kind, from Python.
function drawing(name) {
  const { gesture, hint: rows } = state.tools[name];
  const own = rows.map(([key, words]) => k(key, words)).join("");
  const repeating = state.repeating ? `<b>keeps drawing</b>${k("Esc", "done")}` : "";
  const now = limits();
  const fixed = gesture === "box" && now ? `<b>${now}</b>` : "";
  return (
    fixed +
    repeating +
    (gesture === "box" ? k("Drag", "draw") + own + boxed : own) +
    (name === "ready" ? k("Ctrl", "stretch an outline of the shelf") : "") +
    k("U S I X", "into the selected outline")
  );
}

function resting() {
  if (state.tool === "nodes") return NODES;
  if (state.tool === "cells") return CELLS;
  if (state.tool === "silhouette") return SILHOUETTE;
  if (state.tool === "refit") return REFIT;
  // in a frame the photo is above the pieces that made its outline
  const both = state.inside && document.querySelector("#art .stepped > g > .ghost ~ .members");
  if (state.inside)
    return (
      k("Drag", both ? "move the photo, a hole, or another piece by its line" : "move what is inside") +
      k("Esc", "step out")
    );
  if (state.tools[state.tool]) return drawing(state.tool);
  if (state.station === "cut")
    return k("Shift", "select more") + k("U S I X", "one outline") + k("D", "divide") + k("M", "change base");
  if (state.station === "fit")
    return (
      k("P", "put the photo in") +
      k("Enter", "move the photo") +
      k("O", state.part === "outline" ? "move both" : "move the outline alone")
    );
  if (!state.chosen.length)
    return k("R", "rectangle") + k("Q", "curve") + k("L", "lettering") + k("B", "bring photos in") + k("?", "all keys");
  return (
    k("Shift", "select more") + k("Double-click", "edit what is inside") + k("↑↓←→", "nudge") + k("Delete", "remove")
  );
}

function hint(name) {
  $("hint-keys").innerHTML = name ? HINTS[name] : resting() + FINGERS;
}

on("hint", hint);
onAny(["chosen", "tool", "station", "inside", "part", "limits"], () => hint());
