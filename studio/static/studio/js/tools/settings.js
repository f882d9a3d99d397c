// The settings of the drawing tools, read from the drawer; and Python's pictures of what they draw.
import { ask } from "../core/http.js";
import { actors, action, defineWord } from "../core/act.js";
import { $, change, on, state, emit } from "../core/state.js";
import { recall, record } from "../core/storage.js";

const gestureOf = (tool) => state.tools[tool]?.gesture;
export const isBoxed = (tool = state.tool) => gestureOf(tool) === "box";
export const isDrawing = (tool = state.tool) => tool in state.tools;
// The count that ↑ and ↓ change, if the tool has one.
export const steered = (tool = state.tool) => state.tools[tool]?.steered || "";

const field = (name) => $(`set-${name}`);
const valueIn = (input) => (input.type === "checkbox" ? input.checked : input.value.trim());
// the tools' settings, for when another station's drawer is open, and for next time
const STORED = `gouge-tools-${state.project}`;
const values = new Map(Object.entries(recall(STORED)));
export const setting = (name) => (field(name) ? valueIn(field(name)) : (values.get(name) ?? ""));

const pressed = () => document.querySelector(".outline-tile[aria-pressed=true]");
function remember() {
  for (const [input, { name }] of actors("page:setting")) values.set(name, valueIn(input));
  const tile = pressed();
  if (tile) values.set("ready", tile.id.slice(6));
}
const store = () => record(STORED, { ...Object.fromEntries(values), painted: state.painted });
on("painted", store);

// A redrawn drawer gets the settings of the one before.
function settle() {
  const tiles = $("drawer").querySelector(".tiles");
  if (!tiles) return;
  if (!tiles.dataset.settled) {
    for (const [input, { name }] of actors("page:setting")) {
      const was = values.get(name);
      if (was === undefined) continue;
      if (input.type === "checkbox") input.checked = was;
      else input.value = was;
    }
    if ($(`ready-${values.get("ready")}`)) press($(`ready-${values.get("ready")}`));
    tiles.dataset.settled = "yes";
  }
  remember();
}

const drawnBy = new Map();
let ready = null;

// A radius set before drawing; corners stay sharp if it is empty or 0.
const rounded = (detail, name) =>
  parseFloat(setting(name)) === 0 || !setting(name) ? {} : { [detail]: setting(name) };
export const isRounded = (kind) => Boolean(details(kind).radius || details(kind).tip);

export function details(kind) {
  if (kind === "rectangle") return rounded("radius", "corner");
  if (kind === "polygon") return { sides: setting("sides"), ...rounded("radius", "corner") };
  if (kind === "star") return { points: setting("points"), inner: setting("inner"), ...rounded("tip", "tip") };
  if (kind === "edge") return setting("kind") === "zigzag" ? { flank: setting("flank") } : {};
  return {};
}
defineWord("$tool-details", () => details(state.tool));

// The fixed size or proportion of a tool, as Python reads it: px, or null.
const fixedNow = { fixed: { w: null, h: null }, ratio: null };
export const fixedSize = () => fixedNow;
// Resolves when the last typed settings have been read: a person may draw before the answer is here.
/** @type {Promise<any>} */
let reading = Promise.resolve();
export const settingsRead = () => reading;
// The same in words, while a piece can be drawn; "" if nothing is fixed.
export function limits() {
  const { fixed, ratio } = fixedNow;
  const words = [];
  if (fixed.w || fixed.h)
    words.push(`always ${setting("fixed_w") || "any width"} × ${setting("fixed_h") || "any height"}`);
  else if (ratio) words.push(`always ${setting("proportion")}`);
  if (setting("centre")) words.push("from the centre");
  return words.join(", ");
}

const keyOf = (kind) => `${kind} ${JSON.stringify(details(kind))}`;
// The picture of a piece to scale while it is drawn; null until Python has drawn it.
export function template(kind) {
  if (kind === "ready") return ready;
  return drawnBy.get(keyOf(kind)) || null;
}

// Ask for the picture; resolves to the refusal of its settings, if they are refused.
export async function fetchTemplate(kind) {
  if (kind === "ready") {
    if (!ready) await bring();
    return null;
  }
  if (!isBoxed(kind)) return null;
  const key = keyOf(kind);
  if (drawnBy.has(key)) return null;
  const answer = await ask(`${state.urls.template}?${new URLSearchParams({ kind, ...details(kind) })}`);
  if (answer.error) return answer;
  drawnBy.set(key, answer);
  emit("template");
  return null;
}

const good = new Map(); // the last value of each setting that was right

const PAINT = ["fill", "stroke", "stroke_width"];
const READ = ["fixed_w", "fixed_h", "proportion", ...PAINT]; // what is asked of Python when it is set
const wrong = new Set(); // those whose text was refused: the others go on, each with its own
const textOf = (name) => String(wrong.has(name) ? (good.get(name) ?? "") : setting(name));
let asked = 0;
// Have Python read all settings again; resolves to the refusal of `name`, if that one is refused.
async function readSettings(name = "") {
  wrong.delete(name);
  asked += 1;
  const mine = asked;
  for (;;) {
    const paint = Object.fromEntries(PAINT.map((part) => [part, textOf(part)]));
    const [width, height, proportion] = ["fixed_w", "fixed_h", "proportion"].map(textOf);
    const query = new URLSearchParams({ width, height, proportion, ...paint });
    const answer = await ask(`${state.urls.tool_settings}?${query}`);
    if (answer.error) {
      const known = wrong.has(answer.field) || !READ.includes(answer.field);
      wrong.add(answer.field);
      if (answer.field === name || known) return answer;
      continue;
    }
    // answers may come out of order: the last request counts
    if (mine === asked) {
      Object.assign(fixedNow, { fixed: { w: answer.width, h: answer.height }, ratio: answer.proportion });
      [firstPaint, colours] = [paint, answer];
      showPaint();
    }
    return null;
  }
}

const set = async (name, value) => {
  remember();
  const reads = READ.includes(name);
  const answer = reads ? readSettings(name) : fetchTemplate(state.tool);
  if (reads) reading = Promise.allSettled([reading, answer]);
  const refused = await answer;
  if (refused) {
    // the tool continues with the last valid setting
    if (good.has(name)) values.set(name, good.get(name));
    return refused;
  }
  good.set(name, value);
  store();
  showPaint();
  emit("limits");
  return null;
};
action("setting", ({ name }, { element }) => set(name, valueIn(element)));

// -- the paint set before drawing

// The valid settings, as a drawing command takes them, and their colours as Python read them.
let firstPaint = {};
let colours = { fill: null, stroke: null };
function showPaint() {
  if (!$("paint-sample")) return;
  const like = Boolean(setting("like"));
  const is = !like && PAINT.some(setting);
  $("paint-parts").hidden = like;
  $("paint-sample").hidden = !is;
  for (const name of ["fill", "stroke"]) {
    $("paint-sample").style.setProperty(`--${name}`, colours[name] || "transparent");
    if (colours[name]) field(`${name}-colour`).value = colours[name];
  }
  $("paint-words").textContent = like ? "as painted last" : is ? "" : "as usual";
}
action("set-paint", ({ name, value }) => {
  field(name).value = value;
  return set(name, value);
});

// The arguments of a drawing command for its target and its paint.
export const drawnAs = () => ({
  ...target(),
  ...(setting("like") ? { like: state.painted } : { first_paint: firstPaint }),
});
defineWord("$tool-like", () => (setting("like") ? state.painted : ""));
defineWord("$tool-paint", () => (setting("like") ? {} : firstPaint));

// More or fewer points while drawing.
action("count", ({ by }) => {
  const input = field(steered());
  if (!input) return;
  const { least, most } = state.tools[state.tool];
  input.value = String(Math.min(most, Math.max(least, (parseInt(input.value, 10) || least) + by)));
  remember();
  fetchTemplate(state.tool);
});

// The outline to draw: a ready one by its key, or one of the shelf by its key and variant.
export function chosenReady() {
  const [, item, variant] = /^shelf-([0-9a-f]{32})-(\w*)$/.exec(values.get("ready")) || [];
  return item ? { item, variant } : { kind: "ready", ready: values.get("ready"), details: {} };
}
// The tiles load when needed: their loader registers here.
let bring = async () => {};
export function tilesBy(brings) {
  bring = brings;
}
export function tilesCame(markup) {
  const was = $(`ready-${values.get("ready")}`) || pressed() || document.querySelector("#ready-tiles .outline-tile");
  if (was) {
    press(was);
    remember();
  } else if (!ready) {
    // at another station there is no drawer to put them in
    const aside = document.createElement("div");
    aside.innerHTML = markup;
    const tile = aside.querySelector(`[id="ready-${values.get("ready")}"]`) || aside.querySelector(".outline-tile");
    if (!tile) return;
    values.set("ready", tile.id.slice(6));
    read(tile);
  }
  emit("template");
}
function read({ dataset }) {
  const [w, h] = [Number(dataset.w), Number(dataset.h)];
  ready = { d: dataset.d, w, h, natural: [w, h] };
}
function readReady() {
  const tile = pressed();
  if (tile) read(tile);
}
function press(tile) {
  for (const [other] of actors("page:ready")) other.setAttribute("aria-pressed", String(other === tile));
  readReady();
}
action("ready", (_, { element }) => {
  press(element);
  remember();
  store();
});

// Draw straight into the selected outline, or make a new piece.
function setInto(operation) {
  change({ into: operation }, "into");
  for (const [button, args] of actors("page:into"))
    button.setAttribute("aria-pressed", String(args.operation === operation));
}
action("into", ({ operation }, { element }) => setInto(!element && state.into === operation ? "" : operation));

// The arguments of a drawing command for its target.
export function target() {
  if (!state.into || state.chosen.length !== 1) return {};
  return { into: state.chosen[0], operation: state.into };
}

function shown() {
  for (const section of document.querySelectorAll(".setting[data-for]")) {
    const want = section.dataset.for;
    section.hidden = want === "drawing" ? !isDrawing() : !want.split(" ").includes(state.tool);
  }
  for (const part of document.querySelectorAll("[data-for-box]")) part.hidden = !isBoxed();
  if ($("draw-exact")) $("draw-exact").value = state.tool;
  for (const [tile, { name }] of actors("page:tool")) {
    if (!tile.hasAttribute("aria-pressed")) continue;
    tile.setAttribute("aria-pressed", String(name === state.tool));
    tile.classList.toggle("several", name === state.tool && state.repeating);
  }
}
on("tool", () => {
  if (!isDrawing()) setInto("");
  shown();
  readReady();
  fetchTemplate(state.tool);
});
on("panels-shown", () => {
  settle();
  shown();
  showPaint();
});
on("station", () => {
  if ($("drawer").querySelector(".tiles")) remember();
});
settle();
readReady();
if (values.get("painted")) change({ painted: values.get("painted") });
if (READ.some(setting)) reading = readSettings();
else showPaint();
