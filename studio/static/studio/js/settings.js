// What the drawing tools are set to, read from the drawer; and the pictures Python drew of what they draw.
import { $, on, state, tell } from "./state.js";

export const BOXED = ["rectangle", "ellipse", "polygon", "star", "ready"];
export const DRAWS = [...BOXED, "curve", "freehand", "lettering", "edge"];

const field = (name) => document.querySelector(`[data-set="${name}"]`);
const told = (input) => (input.type === "checkbox" ? input.checked : input.value.trim());
// what the tools were set to, for when another station's drawer is open
const kept = new Map();
export const setting = (name) => (field(name) ? told(field(name)) : (kept.get(name) ?? ""));

function remember() {
  for (const input of document.querySelectorAll("[data-set]")) kept.set(input.dataset.set, told(input));
  const tile = document.querySelector(".ready [aria-pressed=true]");
  if (tile) kept.set("ready", tile.dataset.ready);
}

// A drawer that comes anew is set as the one before it was.
function settle() {
  const tiles = $("drawer").querySelector(".tiles");
  if (!tiles) return;
  if (!tiles.dataset.settled) {
    for (const input of document.querySelectorAll("[data-set]")) {
      const was = kept.get(input.dataset.set);
      if (was === undefined) continue;
      if (input.type === "checkbox") input.checked = was;
      else input.value = was;
    }
    if (kept.has("ready")) press(document.querySelector(`.ready [data-ready="${kept.get("ready")}"]`));
    tiles.dataset.settled = "yes";
  }
  remember();
}

const UNIT = {
  rectangle: { d: "M0 0H100V100H0Z", w: 100, h: 100, natural: [1, 1] },
  ellipse: { d: "M100 50A50 50 0 1 1 0 50A50 50 0 1 1 100 50Z", w: 100, h: 100, natural: [1, 1] },
};
const drawnBy = new Map();
let ready = null;

export function details(kind) {
  if (kind === "polygon") return { sides: setting("sides") };
  if (kind === "star") return { points: setting("points"), inner: setting("inner") };
  if (kind === "edge") return setting("kind") === "zigzag" ? { flank: setting("flank") } : {};
  return {};
}

// The picture of a piece to scale while it is drawn; null until Python has drawn it.
export function template(kind) {
  if (UNIT[kind]) return UNIT[kind];
  if (kind === "ready") return ready;
  return drawnBy.get(`${kind} ${JSON.stringify(details(kind))}`) || null;
}

export async function fetchTemplate(kind) {
  if (kind !== "polygon" && kind !== "star") return;
  const key = `${kind} ${JSON.stringify(details(kind))}`;
  if (drawnBy.has(key)) return;
  const response = await fetch(`${state.urls.template}?${new URLSearchParams({ kind, ...details(kind) })}`);
  const answer = await response.json();
  const input = field(kind === "star" ? (answer.field === "inner" ? "inner" : "points") : "sides");
  input.classList.toggle("is-invalid", !response.ok);
  input.setAttribute("aria-invalid", String(!response.ok));
  if (response.ok) {
    input.dataset.good = input.value;
    drawnBy.set(key, answer);
    tell("template");
  } else {
    tell("refused", answer);
    // the old value is kept
    if (input.dataset.good) input.value = input.dataset.good;
  }
}

// More or fewer points while drawing.
export function countBy(step) {
  const input = field(state.tool === "star" ? "points" : "sides");
  if (!input || !["polygon", "star"].includes(state.tool)) return false;
  input.value = String(Math.min(60, Math.max(3, (parseInt(input.value, 10) || 5) + step)));
  fetchTemplate(state.tool);
  return true;
}

export const chosenReady = () => kept.get("ready");
function readReady() {
  const tile = document.querySelector(".ready [aria-pressed=true]");
  if (!tile) return;
  const [w, h] = [Number(tile.dataset.w), Number(tile.dataset.h)];
  ready = { d: tile.dataset.d, w, h, natural: [w, h] };
}

function press(tile) {
  for (const other of document.querySelectorAll(".ready [data-ready]")) other.setAttribute("aria-pressed", String(other === tile));
  readReady();
}

document.addEventListener("click", (event) => {
  const tile = event.target.closest(".ready [data-ready]");
  if (tile) {
    press(tile);
    remember();
  }
  const into = event.target.closest("[data-into]");
  if (into) setInto(into.dataset.into);
});
document.addEventListener("change", (event) => {
  if (event.target.dataset?.set) fetchTemplate(state.tool);
});

// Draw straight into the chosen outline, or make a new piece.
export function setInto(operation) {
  state.into = operation;
  for (const button of document.querySelectorAll("[data-into]")) {
    button.setAttribute("aria-pressed", String(button.dataset.into === operation));
  }
  tell("into", operation);
}

// What a drawing command says of where it draws.
export function target() {
  if (!state.into || state.chosen.length !== 1) return {};
  return { into: state.chosen[0], operation: state.into };
}

function shown() {
  for (const section of document.querySelectorAll(".setting[data-for]")) {
    const want = section.dataset.for;
    section.hidden = want === "boxed" ? !DRAWS.includes(state.tool) : want !== state.tool;
  }
  for (const part of document.querySelectorAll("[data-for-box]")) part.hidden = !BOXED.includes(state.tool);
  for (const tile of document.querySelectorAll("[data-tool].tile")) {
    tile.setAttribute("aria-pressed", String(tile.dataset.tool === state.tool));
  }
}
on("tool", () => {
  if (!DRAWS.includes(state.tool)) setInto("");
  shown();
  readReady();
  fetchTemplate(state.tool);
});
on("panels-shown", () => {
  settle();
  if ($("drawer").dataset.kind === "draw") shown();
});
on("station", () => {
  if ($("drawer").querySelector(".tiles")) remember();
});
settle();
readReady();
