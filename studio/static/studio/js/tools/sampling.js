// Colours: sampled from the sheet under a loupe, those of the photos, and the target of a colour.
import { ask, askHtml } from "../core/http.js";
import { actors, action } from "../core/act.js";
import { notice } from "../core/notices.js";
import { latest } from "../core/queue.js";
import { command } from "../core/server.js";
import { $, inHand, on, state } from "../core/state.js";
import { toDesk, toSheet, view } from "../core/view.js";
import { work } from "../core/work.js";

let to = "fill"; // the row of Finish that was clicked last: fill, stroke or backdrop
let size = 1;
let at = null; // the place on the sheet
const NAMES = { fill: "fill", stroke: "border", backdrop: "backdrop" };

// Return the target of a colour: the row that was clicked, or the backdrop if there is no such row.
function target() {
  const rows = [...document.querySelectorAll("[data-colour-to]")].map((row) => row.dataset.colourTo);
  return !rows.length || rows.includes(to) ? to : "backdrop";
}

const asked = async (place, fine) => {
  const query = new URLSearchParams({ x: place.x, y: place.y, size: String(size), ...(fine ? { fine: "1" } : {}) });
  return ask(`${state.urls.sample}?${query}`);
};

// -- the loupe

const look = latest(async (place) => {
  const found = await asked(place, false);
  if (state.tool === "sample" && !found.error) show(place, found);
});

function show(place, { color, picture }) {
  const loupe = $("loupe");
  const desk = $("desk").getBoundingClientRect();
  const p = toDesk(place);
  $("loupe-picture").src = picture;
  loupe.querySelector("span").textContent = color || "nothing";
  loupe.hidden = false;
  const { width, height } = loupe.getBoundingClientRect();
  // beside the pointer, and always on the desk
  const left = desk.left + p.x + 18 + width > desk.right ? desk.left + p.x - 18 - width : desk.left + p.x + 18;
  const top = desk.top + p.y + 18 + height > desk.bottom ? desk.top + p.y - 18 - height : desk.top + p.y + 18;
  loupe.style.setProperty("left", `${left}px`);
  loupe.style.setProperty("top", `${top}px`);
  $("sample-bar").querySelector(".mode-words").textContent = color
    ? `${color} to the ${NAMES[target()]}`
    : "nothing here";
}

function bar() {
  const sampling = state.tool === "sample";
  $("sample-bar").hidden = !sampling;
  if (!sampling) $("loupe").hidden = true;
  for (const [button, args] of actors("page:sample-size"))
    button.setAttribute("aria-pressed", String(args.size === size));
  const row = target();
  for (const [button, { name }] of actors("page:colour-to")) button.setAttribute("aria-pressed", String(name === row));
  if ($("colours-go")) $("colours-go").textContent = `to the ${NAMES[row]}`;
}
on("tool", () => {
  at = null;
  bar();
  // the sheet's keys work, even if it was taken from the drawer
  if (state.tool === "sample") $("desk").focus();
});

// The size of the sample, and the target of the colour.
work({
  name: "Sampling",
  active: () => state.tool === "sample",
  get: () => ({ size, to }),
  set(was) {
    ({ size, to } = was);
    bar();
    if (at) look(at);
  },
});

export function hover(event) {
  at = toSheet(event);
  look(at);
}

export const press = () => ({ hint: "", update() {}, end: take, click: take, cancel() {} });

async function take() {
  if (!at) return notice("No place is sampled yet.", "Point at one, or go there with the arrows.");
  const done = inHand();
  const { color, error, remedy } = await asked(at, true);
  if (error) return notice(error, remedy);
  if (!color) return notice("There is nothing there to sample.", "Point at a piece, a photo or the backdrop.");
  const answer = await give(color);
  if (!answer?.error) done();
}
action("take-sample", take);
action("sample-size", (args) => {
  size = args.size;
  bar();
  if (at) look(at);
});
action("sample-move", ({ x, y }) => {
  if (!at) {
    const { left, top, width, height } = $("desk").getBoundingClientRect();
    at = toSheet({ clientX: left + width / 2, clientY: top + height / 2 });
  } else at = { x: at.x + x / Math.min(1, view.zoom), y: at.y + y / Math.min(1, view.zoom) };
  look(at);
});

// -- the target of a colour

const colourTo = ({ name }) => {
  to = name;
  bar();
};
action("colour-to", colourTo);
// A press anywhere in a row makes it the target; Tab only passes through.
document.addEventListener("pointerdown", (event) => {
  const row = event.target.closest?.("[data-colour-to]");
  if (row) colourTo({ name: row.dataset.colourTo });
});
function give(value) {
  const row = target();
  if (row === "backdrop") return command("backdrop", { value });
  if (!state.chosen.length) {
    notice(`Nothing is selected to give that ${NAMES[row]}.`, "Select a piece, or click the backdrop’s row.");
    return { error: "nothing selected" };
  }
  return command("paint", { ids: state.chosen, field: row, value });
}
action("colour", ({ value }) => give(value));

// -- the colours of the photos

let known = { key: "", html: "" };

const photos = latest(async (key) => {
  const query = new URLSearchParams({ id: state.chosen[0] || "" });
  const html = await askHtml(`${state.urls.colours}?${query}`);
  if (html === null) return;
  known = { key, html };
  fill();
});
function fill() {
  const place = $("photo-colours");
  if (place) place.innerHTML = known.html;
}
on("panels-shown", () => {
  if (!$("photo-colours")) return;
  bar();
  const key = `${state.revision} ${state.chosen[0] || ""}`;
  if (key === known.key) fill();
  else {
    fill();
    photos(key);
  }
});
