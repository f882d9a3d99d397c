// One photo of a batch, moved in its frame by hand; Python draws it.
import { latest } from "../core/queue.js";
import { $, ask, at, leave, look, many, notice, refused } from "./batch_server.js";
import { figures } from "./batch_cells.js";
import { anew, follow, known, now } from "./batch_progress.js";

let held = null; // { n, seat, photo, frame, box }
let pending = Promise.resolve();
known(() => keep());
const picture = latest(async () => {
  if (!held) return;
  const { n, seat } = held;
  const query = new URLSearchParams({ large: "1", zoom: seat.zoom, x: seat.x, y: seat.y });
  const image = new Image();
  image.src = `${at}${n}/picture?${query}`;
  try {
    await image.decode();
  } catch {
    return;
  }
  if (held?.n === n) $("seat-img").src = image.src;
});
function told(answer) {
  held = { ...held, ...answer };
  $("seat-h").textContent = held.name;
  const which = $("seat-which");
  which.hidden = many === 1;
  $("seat-which-label").hidden = many === 1;
  which.replaceChildren(...held.photos.map(([n, name]) => new Option(name, n, false, n === held.n)));
  shown();
}
function shown() {
  $("seat-zoom").value = held.seat.zoom;
  $("seat-words").textContent = `${Math.round(held.seat.zoom * 100)} %${held.by_hand ? " · by hand" : ""}`;
  const file = $("seat-file");
  file.hidden = now.files[held.photos[0][0]] !== "d";
  file.href = `${at}${held.photos[0][0]}/file`;
  picture();
}
async function hold(n) {
  const answer = await look(`${n}/seated`);
  if (refused(answer)) return;
  held = { n };
  $("seat-img").removeAttribute("src");
  told(answer);
  if (!$("seat").open) $("seat").showModal();
  $("seat-picture").focus();
}
// What was moved is kept a moment after the hand rests, and before anything else happens.
let timer = 0;
function keep() {
  clearTimeout(timer);
  if (!held?.changed) return pending;
  const { n, seat } = held;
  held.changed = false;
  pending = ask(`${n}/seat`, seat).then((answer) => {
    if (refused(answer)) return;
    fresh(answer, n);
    follow();
  });
  return pending;
}
function fresh(answer, n) {
  const figure = document.querySelector(`.cell[data-n="${answer.photos[0][0]}"]`);
  const image = figure?.querySelector("img");
  if (image) image.src = image.dataset.src = `${at}${answer.photos[0][0]}/picture?k=${answer.key}`;
  const mark = figure?.querySelector("em");
  if (answer.by_hand && figure && !mark) {
    const em = document.createElement("em");
    em.textContent = "by hand";
    figure.querySelector("figcaption span").after(em);
  } else if (!answer.by_hand) mark?.remove();
  if (held?.n === n) held.by_hand = answer.by_hand;
}
function move(seat) {
  const hold01 = (v) => Math.min(1, Math.max(0, v));
  held.seat = { zoom: Math.min(50, Math.max(1, seat.zoom)), x: hold01(seat.x), y: hold01(seat.y) };
  held.by_hand = held.changed = true;
  shown();
  clearTimeout(timer);
  timer = setTimeout(keep, 400);
}
// How far a photo may go either way, in px of the sheet.
function slack() {
  const [w, h] = held.photo;
  const [across, down] = held.frame;
  const scale = Math.max(across / w, down / h) * held.seat.zoom;
  return [scale * w - across, scale * h - down];
}
function by(dx, dy) {
  const [sx, sy] = slack();
  move({
    zoom: held.seat.zoom,
    x: sx > 1e-6 ? held.seat.x - dx / sx : held.seat.x,
    y: sy > 1e-6 ? held.seat.y - dy / sy : held.seat.y,
  });
}
$("cells").addEventListener("click", ({ target }) => {
  const figure = target.closest(".cell");
  if (figure) hold(Number(figure.dataset.n));
});
$("seat-picture").addEventListener("pointerdown", (event) => {
  if (!held || !$("seat-img").naturalWidth) return;
  event.preventDefault();
  $("seat-picture").focus();
  $("seat-picture").setPointerCapture(event.pointerId);
  const [x0, , x1] = held.box;
  const scale = (x1 - x0) / $("seat-img").clientWidth;
  let last = event;
  const go = (next) => {
    by((next.clientX - last.clientX) * scale, (next.clientY - last.clientY) * scale);
    last = next;
  };
  const up = () => {
    $("seat-picture").removeEventListener("pointermove", go);
    $("seat-picture").removeEventListener("pointerup", up);
    keep();
  };
  $("seat-picture").addEventListener("pointermove", go);
  $("seat-picture").addEventListener("pointerup", up);
});
$("seat-zoom").addEventListener("input", ({ target }) => move({ ...held.seat, zoom: Number(target.value) }));
async function beside(step) {
  await keep();
  const all = figures().map((figure) => Number(figure.dataset.n));
  const next = all[all.indexOf(held.photos[0][0]) + step];
  if (next !== undefined) hold(next);
}
$("seat").addEventListener("keydown", (event) => {
  if (event.target.matches("select")) return;
  const step = event.shiftKey ? 0.1 : 0.02;
  const [w, h] = held.frame;
  const steps = {
    ArrowLeft: () => by(-step * w, 0),
    ArrowRight: () => by(step * w, 0),
    ArrowUp: () => by(0, -step * h),
    ArrowDown: () => by(0, step * h),
    "+": () => move({ ...held.seat, zoom: held.seat.zoom * 1.1 }),
    "=": () => move({ ...held.seat, zoom: held.seat.zoom * 1.1 }),
    "-": () => move({ ...held.seat, zoom: held.seat.zoom / 1.1 }),
    PageUp: () => beside(-1),
    PageDown: () => beside(1),
  };
  if (event.target.id === "seat-zoom" && event.key.startsWith("Arrow")) return;
  if (!(event.key in steps)) return;
  event.preventDefault();
  steps[event.key]();
});
$("seat-which").addEventListener("change", async ({ target }) => {
  await keep();
  hold(Number(target.value));
});
$("seat-before").addEventListener("click", () => beside(-1));
$("seat-next").addEventListener("click", () => beside(1));
$("seat-rule").addEventListener("click", async () => {
  clearTimeout(timer);
  held.changed = false;
  const { n } = held;
  const answer = await ask(`${n}/seat`, null);
  if (refused(answer)) return;
  fresh(answer, n);
  told(answer);
  follow();
});
$("seat-out").addEventListener("click", async () => {
  clearTimeout(timer);
  const { n, name } = held;
  const answer = await ask(`${n}/out`);
  if (refused(answer)) return;
  held = null;
  $("seat").close();
  await anew();
  notice(`“${name}” is left out.`, "", [
    "Put it back",
    async () => {
      await ask(`${n}/out?back=${answer.back}`);
      await anew();
    },
  ]);
});
$("seat-done").addEventListener("click", () => $("seat").close());
$("seat").addEventListener("close", () => {
  keep();
  const from = held && $(`cell-${held.photos[0][0]}`);
  held = null;
  from?.focus();
});
addEventListener("pagehide", () => {
  if (!held?.changed) return;
  leave(`${held.n}/seat`, held.seat);
});
