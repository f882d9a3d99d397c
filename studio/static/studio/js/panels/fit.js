// The whole photo with its window on it, in the Fit drawer: drag the window, or move a point of the photo to a place.
import { windowShift } from "../tools/clamp.js";
import { command } from "../core/server.js";
import { $, drawn, on } from "../core/state.js";

const numbers = (text) => text.split(" ").map(Number);
let from = null; // where the pointer went down, in px of the photo
let shift = [0, 0]; // how far the photo is moved on the sheet
let mark = null; // a point of the photo, by the arrows

function at(event) {
  const picture = $("fit-picture");
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
  return [p.x, p.y];
}

/**
 * Show the photo moved on the sheet, and the window moved over the photo.
 *
 * @param {number[]} by px of the sheet, across and down
 */
function show([dx, dy]) {
  const { photo, frame } = $("fit-picture").dataset;
  const moved = dx || dy ? `translate(${dx} ${dy})` : "";
  for (const g of [drawn(photo), document.querySelector(`#art g[data-photo="${CSS.escape(photo)}"]`)]) {
    if (moved) g?.setAttribute("transform", moved);
    else g?.removeAttribute("transform");
  }
  const [, , a, b, c, d] = numbers(frame);
  const det = a * d - b * c || 1;
  $("fit-window").setAttribute("transform", `translate(${-(d * dx - c * dy) / det} ${-(a * dy - b * dx) / det})`);
}

async function seat(point) {
  const { photo } = $("fit-picture").dataset;
  await command("seat", { ids: [photo], point, at: numbers($("seat-at").value) });
}

function draw() {
  const picture = $("fit-picture");
  if (!picture) return;
  const size = picture.viewBox.baseVal.width / 40;
  const [x, y] = mark || [];
  $("fit-mark").innerHTML = mark
    ? `<path d="M${x - size} ${y}h${2 * size}M${x} ${y - size}v${2 * size}"/><circle cx="${x}" cy="${y}" r="${size / 2}"/>`
    : "";
}

document.addEventListener("pointerdown", (event) => {
  const picture = event.target.closest?.("#fit-picture");
  if (!picture || event.button) return;
  event.preventDefault();
  picture.setPointerCapture(event.pointerId);
  from = { p: at(event), x: event.clientX, y: event.clientY, moved: false };
  shift = [0, 0];
});
document.addEventListener("pointermove", (event) => {
  if (!from || !$("fit-picture")) return;
  from.moved ||= Math.hypot(event.clientX - from.x, event.clientY - from.y) > 3;
  if (!from.moved) return;
  const p = at(event);
  const { frame, limits } = $("fit-picture").dataset;
  shift = windowShift(numbers(frame), limits ? numbers(limits) : null, p[0] - from.p[0], p[1] - from.p[1]);
  show(shift);
});
document.addEventListener("pointerup", async () => {
  if (!from) return;
  const { p, moved } = from;
  from = null;
  const picture = $("fit-picture");
  if (!picture) return;
  if (!moved) return seat(p);
  const [dx, dy] = shift;
  if (!dx && !dy) return show([0, 0]);
  const answer = await command("transform", { ids: [picture.dataset.photo], matrix: [1, 0, 0, 1, dx, dy] });
  if (answer.error) show([0, 0]);
});
document.addEventListener("pointercancel", () => {
  if (from && $("fit-picture")) show([0, 0]);
  from = null;
});

const STEPS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
document.addEventListener(
  "keydown",
  (event) => {
    if (!event.target.closest?.("#fit-picture")) return;
    const [w, h] = numbers($("fit-picture").dataset.frame);
    if (STEPS[event.key]) {
      const by = event.shiftKey ? 0.1 : 0.02;
      const [x, y] = mark || [w / 2, h / 2];
      const [sx, sy] = STEPS[event.key];
      mark = [Math.min(w, Math.max(0, x + sx * by * w)), Math.min(h, Math.max(0, y + sy * by * h))];
      draw();
    } else if (event.key === "Enter" && mark) seat(mark);
    else if (event.key === "Escape" && mark) {
      mark = null;
      draw();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  },
  true,
);
on("chosen", () => {
  mark = null;
});
on("panels-shown", draw);
