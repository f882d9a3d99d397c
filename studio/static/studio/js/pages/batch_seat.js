// One photo of a batch, moved in its frame by hand; Python draws it.
import { latest } from "../core/queue.js";
import { $, ask, at, leave, look, many, notice, refused } from "./batch_server.js";
import { figures } from "./batch_cells.js";
import { anew, follow, known, now } from "./batch_progress.js";

let seated = null; // { n, seat, photo, frame, box }
let pending = Promise.resolve();
known(() => keep());
const picture = latest(async () => {
  if (!seated) return;
  const { n, seat } = seated;
  const query = new URLSearchParams({ large: "1", zoom: seat.zoom, x: seat.x, y: seat.y });
  const image = new Image();
  image.src = `${at}${n}/picture?${query}`;
  try {
    await image.decode();
  } catch {
    return;
  }
  if (seated?.n === n) $("seat-img").src = image.src;
});
function show(answer) {
  seated = { ...seated, ...answer };
  $("seat-h").textContent = seated.name;
  const which = $("seat-which");
  which.hidden = many === 1;
  $("seat-which-label").hidden = many === 1;
  which.replaceChildren(...seated.photos.map(([n, name]) => new Option(name, n, false, n === seated.n)));
  shown();
}
function shown() {
  $("seat-zoom").value = seated.seat.zoom;
  $("seat-words").textContent = `${Math.round(seated.seat.zoom * 100)} %${seated.by_hand ? " · by hand" : ""}`;
  const file = $("seat-file");
  file.hidden = now.files[seated.photos[0][0]] !== "d";
  file.href = `${at}${seated.photos[0][0]}/file`;
  picture();
}
async function open(n) {
  const answer = await look(`${n}/seated`);
  if (refused(answer)) return;
  seated = { n };
  $("seat-img").removeAttribute("src");
  show(answer);
  if (!$("seat").open) $("seat").showModal();
  $("seat-picture").focus();
}
// A move is sent a moment after the hand rests, and before anything else happens.
let timer = 0;
function keep() {
  clearTimeout(timer);
  if (!seated?.changed) return pending;
  const { n, seat } = seated;
  seated.changed = false;
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
  if (seated?.n === n) seated.by_hand = answer.by_hand;
}
function move(seat) {
  const clamp01 = (v) => Math.min(1, Math.max(0, v));
  seated.seat = { zoom: Math.min(50, Math.max(1, seat.zoom)), x: clamp01(seat.x), y: clamp01(seat.y) };
  seated.by_hand = seated.changed = true;
  shown();
  clearTimeout(timer);
  timer = setTimeout(keep, 400);
}
// How far a photo may move either way, in px of the sheet.
function slack() {
  const [w, h] = seated.photo;
  const [across, down] = seated.frame;
  const scale = Math.max(across / w, down / h) * seated.seat.zoom;
  return [scale * w - across, scale * h - down];
}
function by(dx, dy) {
  const [sx, sy] = slack();
  move({
    zoom: seated.seat.zoom,
    x: sx > 1e-6 ? seated.seat.x - dx / sx : seated.seat.x,
    y: sy > 1e-6 ? seated.seat.y - dy / sy : seated.seat.y,
  });
}
$("cells").addEventListener("click", ({ target }) => {
  const figure = target.closest(".cell");
  if (figure) open(Number(figure.dataset.n));
});
$("seat-picture").addEventListener("pointerdown", (event) => {
  if (!seated || !$("seat-img").naturalWidth) return;
  event.preventDefault();
  $("seat-picture").focus();
  $("seat-picture").setPointerCapture(event.pointerId);
  const [x0, , x1] = seated.box;
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
$("seat-zoom").addEventListener("input", ({ target }) => move({ ...seated.seat, zoom: Number(target.value) }));
async function beside(step) {
  await keep();
  const all = figures().map((figure) => Number(figure.dataset.n));
  const next = all[all.indexOf(seated.photos[0][0]) + step];
  if (next !== undefined) open(next);
}
$("seat").addEventListener("keydown", (event) => {
  if (event.target.matches("select")) return;
  const step = event.shiftKey ? 0.1 : 0.02;
  const [w, h] = seated.frame;
  const steps = {
    ArrowLeft: () => by(-step * w, 0),
    ArrowRight: () => by(step * w, 0),
    ArrowUp: () => by(0, -step * h),
    ArrowDown: () => by(0, step * h),
    "+": () => move({ ...seated.seat, zoom: seated.seat.zoom * 1.1 }),
    "=": () => move({ ...seated.seat, zoom: seated.seat.zoom * 1.1 }),
    "-": () => move({ ...seated.seat, zoom: seated.seat.zoom / 1.1 }),
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
  open(Number(target.value));
});
$("seat-before").addEventListener("click", () => beside(-1));
$("seat-next").addEventListener("click", () => beside(1));
$("seat-rule").addEventListener("click", async () => {
  clearTimeout(timer);
  seated.changed = false;
  const { n } = seated;
  const answer = await ask(`${n}/seat`, null);
  if (refused(answer)) return;
  fresh(answer, n);
  show(answer);
  follow();
});
$("seat-out").addEventListener("click", async () => {
  clearTimeout(timer);
  const { n, name } = seated;
  const answer = await ask(`${n}/out`);
  if (refused(answer)) return;
  seated = null;
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
  const from = seated && $(`cell-${seated.photos[0][0]}`);
  seated = null;
  from?.focus();
});
addEventListener("pagehide", () => {
  if (!seated?.changed) return;
  leave(`${seated.n}/seat`, seated.seat);
});
