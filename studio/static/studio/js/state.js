// What the page knows. Everything else is asked of the server or read off the drawing.
export const $ = (id) => document.getElementById(id);

const first = JSON.parse($("state").textContent);

export const state = {
  revision: first.revision,
  undo: first.undo,
  redo: first.redo,
  order: first.order,
  surface: first.surface,
  urls: first.urls,
  project: first.project,
  chosen: [],
  base: "",
  inside: "",
  part: "both",
  station: "draw",
  tool: "choose",
  into: "", // what drawing does with the chosen outline; "" makes a new piece
  seeing: true,
  pivot: null, // the point of the box that stays, as fractions of it
  keep: { proportion: false, details: false, snap: true, crisp: false },
  step: null, // the last copy's matrix
};

// Parts of the page talk by named events: "chosen", "station", "tool", "inside", "answer", "view", "busy".
const bus = new EventTarget();
export const on = (name, run) => bus.addEventListener(name, (event) => run(event.detail));
export const tell = (name, detail) => bus.dispatchEvent(new CustomEvent(name, { detail }));

export const look = () => ({
  station: state.station,
  chosen: state.chosen,
  base: state.base,
  inside: state.inside,
  nodes: state.tool === "nodes",
  cells: state.tool === "cells",
});
export const drawn = (id) => document.querySelector(`#art g[data-id="${CSS.escape(id)}"]`);
// What is drawn over the sheet while a gesture runs; it goes when the gesture ends.
export const live = (html = "") => {
  $("live").innerHTML = html;
};
