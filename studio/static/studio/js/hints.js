// The hint line: what the modifiers do in the gesture at hand; and notices: why something can't be done.
import { $, on, state } from "./state.js";

const k = (key, words) => `<span><kbd>${key}</kbd> ${words}</span>`;
const HINTS = {
  draw: k("Shift", "equal sides") + k("Alt", "from the centre") + k("Space", "move while drawing") + k("Esc", "drop it"),
  move: k("Shift", "along one axis") + k("Alt", "a copy") + k("Ctrl", "no snapping") + k("Esc", "put it back"),
  resize: k("Shift", "keep proportions") + k("Alt", "from the centre") + k("Esc", "put it back"),
  turn: k("Shift", "in steps of 15°") + k("Esc", "put it back"),
  marquee: k("Esc", "choose nothing"),
  nodes: k("Shift", "along one axis") + k("Ctrl", "no snapping") + k("Esc", "put it back"),
  handle: k("Alt", "this handle alone") + k("Esc", "put it back"),
  radius: k("Alt", "this corner alone") + k("Esc", "put it back"),
  pivot: k("Ctrl", "anywhere") + k("Esc", "put it back"),
  guide: k("Esc", "drop it"),
  edge: k("Shift", "in steps of 15°") + k("Esc", "drop it"),
  freehand: k("Esc", "drop it"),
  curve: k("Alt", "this handle alone") + k("Space", "move the node") + k("Esc", "drop it"),
  cells: k("Drag", "across cells to join them") + k("Alt", "take away") + k("Esc", "put them back"),
  lettering: "",
  pan: "",
};

const boxed = (word, shift) => k("Drag", `draw the ${word}`) + k("Click", "exact numbers") + k("Shift", shift) + k("Alt", "from the centre");
const TOOLS = {
  rectangle: boxed("rectangle", "equal sides"),
  ellipse: boxed("ellipse", "equal sides"),
  polygon: boxed("polygon", "regular") + k("↑ ↓", "sides"),
  star: boxed("star", "regular") + k("↑ ↓", "points"),
  ready: boxed("outline", "its own proportions"),
  curve: k("Click", "corner") + k("Drag", "handles") + k("Backspace", "take back") + k("Enter", "leave it open"),
  freehand: k("Drag", "draw; it closes near its start"),
  lettering: k("Click", "where the first line begins"),
  edge: k("Drag", "along a line") + k("Click", "along a side") + k("Shift", "all sides, or steps of 15°"),
  cells: k("Drag", "across cells: join") + k("Alt", "take away") + k("Click", "lift one out") + k("Enter", "accept") + k("Esc", "drop"),
  nodes: k("Click", "choose a node") + k("Drag", "around some, with Alt by a loop") + k("Double-click", "add one") + k("Delete", "take away"),
};
function resting() {
  if (["nodes", "cells"].includes(state.tool)) return TOOLS[state.tool];
  // in a frame the photo lies over the pieces that made its outline
  const both = state.inside && document.querySelector("#art .stepped > g > .ghost ~ .members");
  if (state.inside) return k("Drag", both ? "move the photo, a hole, or another piece by its line" : "move what is inside") + k("Esc", "step out");
  if (TOOLS[state.tool]) return TOOLS[state.tool] + (state.tool === "nodes" ? "" : k("U S I X", "into the chosen outline"));
  if (state.station === "cut") return k("Shift", "choose more") + k("U S I X D", "do a card");
  if (state.station === "fit") return k("P", "put the photo in") + k("Enter", "step inside") + k("O", state.part === "outline" ? "move both" : "move the outline alone");
  if (!state.chosen.length) return k("R", "rectangle") + k("Q", "curve") + k("L", "lettering") + k("B", "bring photos in") + k("?", "all keys");
  return k("Shift", "choose more") + k("Double-click", "step inside") + k("↑↓←→", "nudge") + k("Delete", "remove");
}

function hint(name) {
  $("hint-keys").innerHTML = name ? HINTS[name] : resting();
}

export function notice(message, remedy = "") {
  const box = document.createElement("div");
  box.className = "notice";
  box.setAttribute("role", "alert");
  const words = document.createElement("div");
  const strong = document.createElement("b");
  strong.textContent = message;
  words.append(strong, ` ${remedy}`);
  const close = document.createElement("button");
  close.type = "button";
  close.setAttribute("aria-label", "Close this notice");
  close.textContent = "✕";
  close.addEventListener("click", () => box.remove());
  box.append(words, close);
  const place = $("notices");
  for (const old of [...place.children]) if (old.textContent === box.textContent) old.remove();
  while (place.children.length > 2) place.firstChild.remove();
  place.append(box);
  setTimeout(() => box.remove(), 12000);
}

on("hint", hint);
for (const name of ["chosen", "tool", "station", "inside", "part"]) on(name, () => hint());
on("refused", (answer) => {
  if (!answer.placed) notice(answer.error, answer.remedy);
});
on("note", (words) => notice(words));
on("press", () => $("notices").replaceChildren());
