// The state of the page. Everything else is asked of the server or read from the drawing.
// Only this module writes it: `change` for a person's actions, `took` for the server's answers.

import { $ } from "./by_id.js";

export { $ };

const first = JSON.parse($("state").textContent);
const inner = {
  revision: first.revision,
  undo: first.undo,
  redo: first.redo,
  order: first.order,
  note: first.note,
  surface: first.surface,
  urls: first.urls,
  project: first.project,
  keys: first.keys,
  tools: first.tools,
  station: first.station,
  chosen: [],
  base: "",
  inside: "",
  part: "both",
  tool: "choose",
  repeating: false, // the tool stays, to draw one piece after another
  toolChanges: 0, // how often a tool was taken
  into: "", // what drawing does with the chosen outline; "" makes a new piece
  seeThrough: true, // photos show through pieces
  lines: false,
  pivot: null, // the point of the box that stays, as fractions of it
  proportion: false,
  adding: false, // each tap of a finger selects one more
  painted: "", // what was painted last
  scaling: false, // corners and borders grow along
  snap: true,
  choices: 0, // how often the person chose something
  basing: false, // margins count from the base of the cut list, and not from the outer border
  resizing: false, // a margin that is typed moves one side of its hole
  step: null, // the last copy's matrix
  copied: null, // what Ctrl D just made, and by which matrix
  keep: "every", // the three choices of cutting apart
  neighbours: "apart",
  parts: "areas",
  export: first.export, // what is asked of Export, as it was asked last
};

export const state = new Proxy(inner, {
  set(_, name) {
    throw new Error(`${String(name)} is changed by change() in state.js`);
  },
});

// Parts of the page communicate by named events: the meaning of each, and in brackets its detail.
const EVENTS = {
  chosen: "what is selected changed (ids)",
  station: "another station (name)",
  tool: "another tool in the hand (name)",
  inside: 'stepped into an item, or out (id or "")',
  part: "what of a frame a drag moves (name)",
  into: 'how the next piece is drawn (operation or "")',
  pivot: "the point that stays",
  answer: "the server answered with a new state (answer)",
  shown: "that answer is on the screen (answer)",
  panels: "panels to be shown (by name)",
  "panels-shown": "the panels are on the screen",
  nodes: "what Python says of them (data)",
  cells: "what Python says of them (data)",
  view: "zoom or place of the sheet on the screen (view)",
  template: "the picture of a piece to draw came",
  adding: "taps select more, or no longer",
  exported: "a file was saved (name)",
  painted: "something was painted (id)",
  limits: "the fixed size of a tool changed",
  drawn: "a piece was drawn: the tool has done its work",
  press: "a press on the desk",
  hint: "a gesture began or ended (name or undefined)",
  letter: "a form at the pointer is wanted (place)",
  exact: "a form at the pointer is wanted (place)",
  note: "something to say ({ words, offer }, answer)",
  refused: "a refusal to say ({ words, offer }, answer)",
  "refused-field": "something is wrong in a field ({ id, answer })",
  "nudge-nodes": "arrows, with nodes chosen ({ x, y })",
  "cells-none": "there are no cells to work on",
  busy: "what the top strip says of saving ({ text })",
};
/** @typedef {keyof typeof EVENTS} EventName */
const bus = new EventTarget();
/** @type {(name: EventName, run: (detail?: any) => void) => void} */
export const on = (name, run) => bus.addEventListener(name, (/** @type {CustomEvent} */ event) => run(event.detail));
/** @type {(names: EventName[], run: (detail?: any) => void) => void} */
export function onAny(names, run) {
  for (const name of names) on(name, run);
}
/** @type {(name: EventName, detail?: any) => void} */
export function emit(name, detail) {
  if (!(name in EVENTS)) throw new Error(`${name} is no event of state.js`);
  bus.dispatchEvent(new CustomEvent(name, { detail }));
}

/**
 * Store what a person changed; `name` is the event that reports it.
 *
 * @param {Record<string, any>} values
 * @param {EventName} [name]
 */
export function change(values, name) {
  if (values.chosen && values.chosen.join() !== inner.chosen.join()) inner.choices++;
  Object.assign(inner, values);
  if (name) emit(name, Object.values(values)[0]);
}

// A function that reports that the current tool is done; it does nothing if another tool was taken since.
export function inHand() {
  const { toolChanges } = inner;
  return () => toolChanges === inner.toolChanges && emit("drawn");
}

// The server answered.
export function took(answer) {
  const { revision, undo, redo, order, surface } = answer;
  Object.assign(inner, { revision, undo, redo, order, surface });
  if (answer.chosen) inner.chosen = answer.chosen;
}

export const viewState = () => ({
  station: state.station,
  chosen: state.chosen,
  base: state.base,
  inside: state.inside,
  nodes: state.tool === "nodes",
  cells: state.tool === "cells",
  keep: state.keep,
  neighbours: state.neighbours,
  parts: state.parts,
  export: state.export,
  project: $("project-name").value.slice(0, 80),
  margins: state.basing ? "base" : "border",
});
const index = new Map();
let indexed = false;
const valid = (g) => g?.isConnected && $("art").contains(g);
// The group that shows an item, by an index, since thousands may be asked for at once.
export function drawn(id) {
  if (valid(index.get(id))) return index.get(id);
  if (!indexed) {
    indexed = true;
    // all that are asked for now are looked up at once
    queueMicrotask(() => {
      indexed = false;
    });
    index.clear();
    for (const g of document.querySelectorAll("#art g[data-id]"))
      if (!index.has(g.dataset.id)) index.set(g.dataset.id, g);
    if (index.has(id)) return index.get(id);
  }
  return document.querySelector(`#art g[data-id="${CSS.escape(id)}"]`);
}
// An overlay over the sheet during a gesture; it disappears when the gesture ends.
export const live = (html = "") => {
  $("live").innerHTML = html;
};
