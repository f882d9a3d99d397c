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
  chosen: [],
  base: "",
  inside: "",
  part: "both",
  station: "draw",
  tool: "choose",
  seeing: true,
};

// Parts of the page talk by named events: "chosen", "station", "tool", "inside", "answer", "view", "busy".
const bus = new EventTarget();
export const on = (name, run) => bus.addEventListener(name, (event) => run(event.detail));
export const tell = (name, detail) => bus.dispatchEvent(new CustomEvent(name, { detail }));

export const look = () => ({ station: state.station, chosen: state.chosen, base: state.base, inside: state.inside });
export const drawn = (id) => document.querySelector(`#art g[data-id="${CSS.escape(id)}"]`);
