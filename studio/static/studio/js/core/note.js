// One notice at a time, at the foot of the page: why something cannot be done, or what was done.
import { $ } from "./by_id.js";
const place = $("notices");
const SHOWN = 12000; // ms

// the element that had the focus before one of a notice's buttons took it
let before = null;
place?.addEventListener("focusin", ({ relatedTarget }) => {
  if (!place.contains(relatedTarget)) before = relatedTarget;
});

// Remove the notice; if it has the focus, that goes back to where it was.
export function clearNote() {
  const had = place.contains(document.activeElement);
  place.replaceChildren();
  if (!had) return;
  const to = before?.isConnected ? before : $("desk") || $("content");
  to?.focus();
}

// It disappears by itself, but not while it is being read or used.
function pass(box) {
  setTimeout(() => {
    if (box.matches(":hover, :focus-within")) pass(box);
    else box.remove();
  }, SHOWN);
}

export function note(message, remedy = "", button = null) {
  const box = document.createElement("div");
  box.className = "notice";
  const words = document.createElement("div");
  const strong = document.createElement("b");
  strong.textContent = message;
  words.append(strong, ` ${remedy}`);
  const close = document.createElement("button");
  close.type = "button";
  close.setAttribute("aria-label", "Close this notice");
  close.textContent = "✕";
  close.addEventListener("click", clearNote);
  box.append(...[words, button, close].filter(Boolean));
  // refusals do not pile up: the newest replaces the others
  clearNote();
  place.append(box);
  pass(box);
}

export function offered(words, id = "") {
  const button = document.createElement("button");
  button.type = "button";
  button.className = "btn btn-sm btn-outline-primary";
  button.id = id;
  button.textContent = words;
  return button;
}
