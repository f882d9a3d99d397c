// The hole that a set of margins belongs to: shown on the sheet while the pointer or the focus is in its fields.
import { text } from "../core/matrix.js";
import { $, on } from "../core/state.js";
import { view } from "../core/view.js";

let shown = null;

function show(place) {
  shown = place?.isConnected ? place : null;
  const screen = text([view.zoom, 0, 0, view.zoom, view.x, view.y]);
  $("hole-mark").innerHTML = shown ? `<path d="${shown.dataset.outline}" transform="${screen}"/>` : "";
}

for (const kind of ["pointerover", "focusin"]) {
  document.addEventListener(kind, (event) => {
    const place = event.target.closest?.(".margins") || document.activeElement?.closest(".margins");
    if (place || shown) show(place);
  });
}
on("view", () => show(shown));
on("panels-shown", () => show(shown));
