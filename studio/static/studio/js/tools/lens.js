// The exported picture, px for px, in a lens that follows the pointer or the arrows.
import { action } from "../core/act.js";
import { ordered } from "../panels/export.js";
import { latest } from "../core/queue.js";
import { askPicture } from "../core/server.js";
import { $, on, state } from "../core/state.js";
import { toDesk, toSheet, view } from "../core/view.js";

let at = null;
let shown = ""; // address of the picture that is shown

const look = latest(async (place) => {
  const answer = await askPicture(state.urls.lens, { order: ordered(), ...place });
  if (state.tool !== "lens") return;
  if (answer.error) {
    $("lens").hidden = true;
    words(`${answer.error} ${answer.remedy || ""}`);
    return;
  }
  if (shown) URL.revokeObjectURL(shown);
  shown = URL.createObjectURL(answer.picture);
  show(place, answer.size);
});

function words(text) {
  $("lens-bar").querySelector(".mode-words").textContent = text;
}

function show(place, [width, height]) {
  const lens = $("lens");
  const picture = $("lens-picture");
  // px for px, also on screens with several per CSS px
  picture.width = width / devicePixelRatio;
  picture.height = height / devicePixelRatio;
  picture.src = shown;
  const name = ordered().format.toUpperCase();
  lens.querySelector("span").textContent = `${name} at 100 %`;
  words(`The ${name} itself at 100 %`);
  lens.hidden = false;
  const desk = $("desk").getBoundingClientRect();
  const p = toDesk(place);
  const box = lens.getBoundingClientRect();
  const left = desk.left + p.x + 24 + box.width > desk.right ? desk.left + p.x - 24 - box.width : desk.left + p.x + 24;
  const top = desk.top + p.y + 24 + box.height > desk.bottom ? desk.top + p.y - 24 - box.height : desk.top + p.y + 24;
  lens.style.setProperty("left", `${Math.max(desk.left + 20, left)}px`);
  lens.style.setProperty("top", `${Math.max(desk.top + 20, top)}px`);
}

export function hover(event) {
  at = toSheet(event);
  at = { x: at.x, y: at.y };
  look(at);
}
export const press = () => ({ hint: "", update: hover, end() {}, click: hover, cancel() {} });

on("tool", () => {
  const on_ = state.tool === "lens";
  $("lens-bar").hidden = !on_;
  $("lens").hidden = true;
  if (!on_) return;
  words("Point at the sheet");
  $("desk").focus();
  if (at) look(at);
});
on("panels-shown", () => state.tool === "lens" && at && look(at));
action("lens-move", ({ x, y }) => {
  if (at) at = { x: at.x + (x * 20) / view.zoom, y: at.y + (y * 20) / view.zoom };
  else {
    const { left, top, width, height } = $("desk").getBoundingClientRect();
    const middle = toSheet({ clientX: left + width / 2, clientY: top + height / 2 });
    at = { x: middle.x, y: middle.y };
  }
  look(at);
});
