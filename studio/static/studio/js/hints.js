// The hint line: what the modifiers do in the gesture at hand; and notices: why something can't be done.
import { $, on, state } from "./state.js";

const k = (key, words) => `<span><kbd>${key}</kbd> ${words}</span>`;
const HINTS = {
  draw: k("Shift", "equal sides") + k("Alt", "from the centre") + k("Space", "move while drawing") + k("Esc", "drop it"),
  move: k("Shift", "along one axis") + k("Esc", "put it back"),
  resize: k("Shift", "keep proportions") + k("Alt", "from the centre") + k("Esc", "put it back"),
  turn: k("Shift", "in steps of 15°") + k("Esc", "put it back"),
  marquee: k("Esc", "choose nothing"),
  pan: "",
};

function resting() {
  if (state.inside) return k("Drag", "move what is inside") + k("Esc", "step out");
  if (state.tool === "rectangle" || state.tool === "ellipse") {
    return k("Drag", `draw the ${state.tool}`) + k("Click", "exact numbers") + k("Shift", "equal sides") + k("Alt", "from the centre");
  }
  if (state.station === "cut") return k("Shift", "choose more") + k("U S I X D", "do a card");
  if (state.station === "fit") return k("P", "put the photo in") + k("Enter", "step inside") + k("O", state.part === "outline" ? "move both" : "move the outline alone");
  if (!state.chosen.length) return k("R", "rectangle") + k("E", "ellipse") + k("B", "bring photos in") + k("?", "all keys");
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
on("press", () => $("notices").replaceChildren());
