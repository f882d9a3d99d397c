// The base of the selected pieces: a small flag on the sheet, changed by a click; what is cut away is hatched.
import { text } from "../core/matrix.js";
import { $, drawn, onAny, state } from "../core/state.js";
import { toDesk, view } from "../core/view.js";

function draw() {
  const place = $("base-mark");
  const id = $("cards")?.dataset.base;
  const item = state.station === "cut" && state.tool === "choose" && id && state.chosen.length > 1 ? drawn(id) : null;
  if (!item) {
    place.innerHTML = "";
    return;
  }
  const screen = text([view.zoom, 0, 0, view.zoom, view.x, view.y]);
  const box = item.dataset.box.split(" ").map(Number);
  const p = toDesk({ x: box[0], y: box[1] });
  const others = state.chosen
    .filter((c) => c !== id)
    .map(drawn)
    .filter((g) => g && g.dataset.kind !== "photo");
  const cutters = others
    .map((g) => g.dataset.outline)
    .filter(Boolean)
    .map((d) => `<path class="cutter" d="${d}" transform="${screen}"/>`);
  const line = item.dataset.outline
    ? `<path class="base-line" d="${item.dataset.outline}" transform="${screen}"/>`
    : "";
  place.innerHTML = `${cutters.join("")}${line}<g class="base-flag grab" data-flag><rect x="${p.x - 2}" y="${p.y - 25}" width="42" height="19" rx="9.5"/><text x="${p.x + 19}" y="${p.y - 12}">base</text></g>`;
}
onAny(["panels-shown", "chosen", "view", "station", "tool", "shown"], draw);
