// Refit: a frame in another proportion. Python computes and draws the result; here the pointer sets its size,
// and pins and bands say what keeps its form.
import { Idiomorph } from "../../../vendor/idiomorph/idiomorph.esm.js";
import { action } from "../core/act.js";
import { marks as chosenMarks } from "./select.js";
import { notice } from "../core/notices.js";
import { latest } from "../core/queue.js";
import { askRefit, command, may } from "../core/server.js";
import { $, drawn, inHand, live, on, state, emit } from "../core/state.js";
import { moveBelow, toDesk, toSheet, view } from "../core/view.js";
import { work } from "../core/work.js";
import { aimed } from "./touch.js";

const ANCHORS = ["near", "middle", "far", "both", "scale"];
const WORDS = {
  x: { near: "left", middle: "middle", far: "right", both: "both", scale: "scaled" },
  y: { near: "top", middle: "middle", far: "bottom", both: "both", scale: "scaled" },
};

const LEGEND = [
  ["near", "near", "to a side"],
  ["middle", "middle", "to the middle"],
  ["both", "both", "to both sides"],
  ["scale", "scale", "scaled"],
];

let about = null; // { id, name, box }: what is refitted, as it lies
let size = null; // { width, height }: px, or what was typed
let holds = {}; // what was said of its parts
let bands = { x: null, y: null }; // what was said of its bands, px as it lies; null where nothing was
let found = null; // what Python says of it now
let original = ""; // its drawing, put back when it is dropped
let open = ""; // the pin whose card is open
let trouble = false;
const drafts = new Map(); // id -> the same, where it was left without accepting or dropping it

export const active = () => state.tool === "refit";

const args = () => ({
  id: about.id,
  width: size.width,
  height: size.height,
  holds,
  ...(bands.x ? { x_bands: bands.x } : {}),
  ...(bands.y ? { y_bands: bands.y } : {}),
});

work({
  name: "Refit",
  active: () => active() && about !== null && size !== null,
  get: () => ({ size, holds, bands }),
  set(was) {
    ({ size, holds, bands } = was);
    ask();
  },
});

// -- the preview

const ask = latest(async (_, __, outdated) => {
  if (!about) return;
  const { id } = about;
  const answer = await askRefit(args());
  if (!about || about.id !== id || answer.late || outdated()) return;
  trouble = Boolean(answer.error);
  if (answer.error) {
    words(`${answer.error} ${answer.remedy || ""}`, answer.offer);
    return bar();
  }
  const first = !found;
  found = answer;
  show(answer.art);
  fields();
  bar();
  words(answer.note || "");
  // words may come below
  if (first) moveBelow($("refit-bar"), found.box, 60);
  draw();
}, 2);

function show(html) {
  const g = drawn(about.id);
  if (!g) return;
  if (!original) original = g.outerHTML;
  const inner = document.createElementNS("http://www.w3.org/2000/svg", "g");
  inner.innerHTML = html;
  g.replaceWith(inner.firstElementChild);
}
function putBack() {
  const g = about && drawn(about.id);
  if (g && original) {
    const inner = document.createElementNS("http://www.w3.org/2000/svg", "g");
    inner.innerHTML = original;
    g.replaceWith(inner.firstElementChild);
  }
  original = "";
}

const words = (text, offer = null) => {
  const place = $("refit-bar").querySelector(".mode-words");
  place.textContent = text;
  place.title = text;
  const button = $("refit-offer");
  // the next step is to accept it
  if (!offer && document.activeElement === button) $("accept-refit").focus();
  button.hidden = !offer;
  button.textContent = offer?.[0] ?? "";
  button.dataset.act = JSON.stringify(offer?.slice(1) ?? []);
};
function fields() {
  for (const [k, name] of ["width", "height"].entries()) {
    const field = $(`refit-${name}`);
    if (document.activeElement !== field) field.value = found.size[k];
  }
}
function bar() {
  const box = $("refit-bar");
  box.hidden = !active();
  box.querySelector(".mode-words").classList.toggle("low", trouble);
  $("accept-refit").disabled = trouble || !found;
  const plain = Boolean(found?.bands.x);
  if (!$("pin-legend").childElementCount)
    $("pin-legend").innerHTML = LEGEND.map(([x, y, word]) => `<span>${glyph({ x, y })}${word}</span>`).join("");
  $("pin-legend").hidden = plain || !found?.pins.length;
  for (const id of ["refit-band-x", "refit-band-y"]) $(id).hidden = !plain;
}

// -- pins, bands and handles, of the same size on the screen at any zoom

// The picture of a pin: a nail on each side that it is anchored to, in the middle, or a ring for scaling.
function glyph({ x, y }) {
  const nails = [];
  const line = (a, b) => nails.push(`<path d="M${a}L${b}"/>`);
  const dot = (cx, cy) => nails.push(`<circle cx="${cx}" cy="${cy}" r="2.4"/>`);
  if (x === "both") line("3 12", "21 12");
  if (y === "both") line("12 3", "12 21");
  if (x === "near" || x === "both") dot(3, 12);
  if (x === "far" || x === "both") dot(21, 12);
  if (y === "near" || y === "both") dot(12, 3);
  if (y === "far" || y === "both") dot(12, 21);
  if (x === "middle" || y === "middle") dot(12, 12);
  if (x === "scale" || y === "scale") nails.push('<path class="dash" d="M7 17L17 7M13 7h4v4M11 17H7v-4"/>');
  return `<svg viewBox="0 0 24 24" aria-hidden="true">${nails.join("")}</svg>`;
}

let shown = "";
const morph = (place, html) => Idiomorph.morph(place, html, { morphStyle: "innerHTML" });

function draw() {
  const place = $("refit-pins");
  if (!active() || !found) {
    place.replaceChildren();
    $("refit-marks").innerHTML = "";
    shown = "";
    return;
  }
  spread();
  // the element under the pointer or with the focus stays the same
  morph(place, strips() + found.pins.map(pin).join("") + card());
  // the page takes no styles from markup
  for (const part of place.children)
    for (const side of ["left", "top", "width", "height"])
      part.style[side] = part.dataset[side] ? `${part.dataset[side]}px` : "";
  const [a, b] = corners();
  const handle = ([name, { x, y }]) =>
    `<rect class="refit-handle" data-refit="${name}" x="${x - 6}" y="${y - 6}" width="12" height="12" rx="3"/>`;
  // what would change its form, before it is accepted
  const forms = found.stretched.map(([p, q, r, t]) => {
    const [at, to] = [toDesk({ x: p, y: q }), toDesk({ x: r, y: t })];
    return `<rect class="refit-stretched" x="${at.x}" y="${at.y}" width="${to.x - at.x}" height="${to.y - at.y}"/>`;
  });
  const marks =
    forms.join("") +
    `<rect class="refit-box" x="${a.x}" y="${a.y}" width="${b.x - a.x}" height="${b.y - a.y}"/>` +
    Object.entries(handles()).map(handle).join("");
  if (marks !== shown) $("refit-marks").innerHTML = marks;
  shown = marks;
}
// The corners of the box on the desk, and the places of its handles.
const corners = () => [found.box.slice(0, 2), found.box.slice(2)].map(([x, y]) => toDesk({ x, y }));
function handles() {
  const [a, b] = corners();
  return { e: { x: b.x, y: (a.y + b.y) / 2 }, s: { x: (a.x + b.x) / 2, y: b.y }, se: b };
}
// The places of the pins on the desk: in the middle of their parts, side by side if those coincide, and over no handle.
let spots = new Map();
function spread() {
  spots = new Map();
  const held = Object.values(handles());
  for (const { id, at } of found.pins) {
    const p = toDesk({ x: at[0], y: at[1] });
    const taken = [...spots.values()];
    const near = (far) => (q) => Math.hypot(q.x - p.x, q.y - p.y) < far;
    while (taken.some(near(27)) || held.some(near(21))) p.x += 28;
    spots.set(id, p);
  }
}
const escaped = (text) => text.replace(/["'<>&]/g, (c) => `&#${c.charCodeAt(0)};`);
function pin(one) {
  const p = spots.get(one.id);
  const label = escaped(one.words);
  return `<button type="button" class="pin-anchor" id="pin-${one.id}" data-left="${p.x}" data-top="${p.y}" data-pin="${one.id}" aria-expanded="${one.id === open}" aria-label="${label}" title="${label}">${glyph(one)}</button>`;
}
function card() {
  const one = found.pins.find(({ id }) => id === open);
  if (!one) return "";
  const p = spots.get(open);
  const row = (axis, word) =>
    `<div class="anchor-row" role="group" aria-label="${word}"><span>${word}</span>${ANCHORS.filter((h) =>
      one.can.includes(h),
    )
      .map(
        (h) =>
          `<button type="button" id="anchor-${axis}-${h}" data-anchor="${h}" data-axis="${axis}" aria-pressed="${one[axis] === h}">${WORDS[axis][h]}</button>`,
      )
      .join("")}</div>`;
  const name = escaped(one.name);
  return `<div class="pin-card" data-left="${p.x}" data-top="${p.y + 18}" role="dialog" aria-label="How ${name} is anchored"><b>${name}</b>${row("x", "Across")}${row("y", "Down")}</div>`;
}
function strips() {
  if (!found.bands.x) return "";
  const [x0, y0, x1, y1] = found.box;
  return ["x", "y"]
    .flatMap((axis) =>
      found.bands[axis].now.map(([low, high], k) => {
        const a = toDesk(axis === "x" ? { x: low, y: y0 } : { x: x0, y: low });
        const b = toDesk(axis === "x" ? { x: high, y: y1 } : { x: x1, y: high });
        const edge = (end, at) =>
          `<button type="button" role="slider" class="band-edge ${axis}" id="band-${axis}-${k}-${end}" data-axis="${axis}" data-band="${k}" data-end="${end}" aria-label="Band ${k + 1} ${axis === "x" ? "across" : "down"}, ${end ? "end" : "start"}" aria-valuenow="${Math.round(end ? high : low)}" data-left="${axis === "x" ? at.x : a.x}" data-top="${axis === "x" ? a.y : at.y}" ${axis === "x" ? `data-height="${b.y - a.y}"` : `data-width="${b.x - a.x}"`}></button>`;
        return `<div class="band ${axis}" data-left="${a.x}" data-top="${a.y}" data-width="${b.x - a.x}" data-height="${b.y - a.y}"></div>${edge(0, a)}${edge(1, b)}`;
      }),
    )
    .join("");
}
on("view", () => active() && draw());

// -- starting and ending

async function begin() {
  const can = await may("refit");
  // the tool may have been left since then
  if (!active()) return;
  const [id] = state.chosen;
  const g = drawn(id);
  if (!can || !g) return emit("drawn");
  const [x0, y0, x1, y1] = g.dataset.box.split(" ").map(Number);
  about = { id, name: g.dataset.name, box: [x0, y0, x1, y1] };
  const draft = drafts.get(id);
  drafts.delete(id);
  size = draft?.size || { width: x1 - x0, height: y1 - y0 };
  holds = draft?.holds || {};
  bands = draft?.bands || { x: null, y: null };
  found = null;
  open = "";
  trouble = false;
  words("");
  bar();
  ask();
}
// A page opened with a size starts refitting the only item on the sheet to it.
export function asked() {
  const [width, height] = (new URLSearchParams(location.search).get("refit") || "").split("x").map(Number);
  const only = document.querySelectorAll("#art > [data-id]");
  if (!(width > 0 && height > 0) || only.length !== 1) return "";
  history.replaceState(history.state, "", location.pathname);
  drafts.set(only[0].dataset.id, { size: { width, height }, holds: {}, bands: { x: null, y: null } });
  return only[0].dataset.id;
}
function keep() {
  if (about && found) drafts.set(about.id, { size, holds, bands });
  putBack();
  about = found = null;
}
on("tool", () => {
  if (active()) return begin();
  if (!about && $("refit-bar").hidden) return;
  keep();
  bar();
  draw();
});
on("chosen", () => {
  if (active() && about && state.chosen[0] !== about.id) emit("drawn");
});
// another step was made, here or elsewhere: refit the new state
on("answer", () => {
  if (!active() || !about) return;
  original = "";
  if (!drawn(about.id)) {
    about = null;
    return emit("drawn");
  }
  ask();
});
action("drop-refit", () => {
  putBack();
  about = null;
  emit("drawn");
  chosenMarks();
});
action("accept-refit", async () => {
  if (!about) return null;
  const done = inHand();
  const sent = args();
  const answer = await command("refit", sent, { quiet: true });
  if (answer.error) {
    if (!answer.failed) emit("refused", answer);
    return answer;
  }
  drafts.delete(sent.id);
  original = "";
  about = null;
  done();
  return answer;
});
// Escape first closes the card, then leaves.
export function drop() {
  if (!open) return false;
  const id = open;
  open = "";
  draw();
  $(`pin-${id}`)?.focus();
  return true;
}

// -- sizes

action("refit-size", async ({ name, value }) => {
  if (!about) return null;
  const before = size;
  size = { ...now(), [name]: value };
  const answer = await askRefit(args());
  if (answer.error) {
    // what is shown is what would be accepted
    size = before;
    words("", answer.offer);
    return { ...answer, field: answer.field || name };
  }
  ask();
  return null;
});
const now = () => {
  // before the first answer it has its present size
  const [x0, y0, x1, y1] = (found || about).box;
  return { width: x1 - x0, height: y1 - y0 };
};
action("refit-to", (wanted) => {
  if (!about) return;
  size = wanted;
  ask();
});
// A proportion: the longer side keeps its length.
action("refit-proportion", ({ of }) => {
  if (!about) return;
  const ratio = of === "sheet" ? state.surface.width / state.surface.height : of;
  const { width, height } = now();
  const long = Math.max(width, height);
  size = ratio >= 1 ? { width: long, height: long / ratio } : { width: long * ratio, height: long };
  ask();
});

// -- pins and bands

const place = $("refit-pins");
place.addEventListener("click", ({ target }) => {
  const button = target.closest("button");
  if (!button) return;
  if (button.dataset.pin) {
    open = open === button.dataset.pin ? "" : button.dataset.pin;
    draw();
    $(open ? place.querySelector(".pin-card [aria-pressed=true]").id : button.id)?.focus();
  } else if (button.dataset.anchor) {
    const one = found.pins.find(({ id }) => id === open);
    const said = { x: one.x, y: one.y, [button.dataset.axis]: button.dataset.anchor };
    holds = { ...holds, [open]: [said.x, said.y] };
    ask();
  }
});
place.addEventListener("pointerdown", (event) => {
  const edge = event.target.closest(".band-edge");
  if (edge) dragBand(event, edge);
});
place.addEventListener("keydown", (event) => {
  const edge = event.target.closest(".band-edge");
  const steps = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 };
  if (!edge) return;
  const { axis, band, end } = edge.dataset;
  if (event.key === "Delete" || event.key === "Backspace") {
    bands[axis] = was(axis).filter((_, k) => k !== Number(band));
    if (!bands[axis].length) bands[axis] = [];
    ask();
  } else if (event.key in steps) {
    setBand(axis, Number(band), Number(end), was(axis)[band][end] + steps[event.key] * (event.shiftKey ? 10 : 1));
  } else return;
  event.preventDefault();
  event.stopPropagation();
});
const was = (axis) => (bands[axis]?.length ? bands[axis] : found.bands[axis].was).map((band) => [...band]);
function setBand(axis, k, end, value) {
  const next = was(axis);
  if (end ? value <= next[k][0] : value >= next[k][1]) return;
  next[k][end] = value;
  bands[axis] = next;
  ask();
}
// Where a point of the result was before: between the ends of bands the map is linear.
function before(axis, at) {
  const [old, grown] = [found.bands[axis].was.flat(), found.bands[axis].now.flat()];
  const k = grown.findIndex((g) => at < g);
  if (k === 0) return at - grown[0] + old[0];
  if (k < 0) return at - grown[grown.length - 1] + old[old.length - 1];
  return old[k - 1] + ((at - grown[k - 1]) / (grown[k] - grown[k - 1] || 1)) * (old[k] - old[k - 1]);
}
function dragBand(event0, edge) {
  const { axis, band, end } = edge.dataset;
  event0.preventDefault();
  const move = (event) => setBand(axis, Number(band), Number(end), before(axis, toSheet(event)[axis]));
  const up = () => {
    removeEventListener("pointermove", move);
    removeEventListener("pointerup", up);
  };
  addEventListener("pointermove", move);
  addEventListener("pointerup", up);
}
// One more band, in the middle of the longest stretch without one.
action("refit-band", ({ axis }) => {
  if (!found) return;
  const [x0, y0, x1, y1] = drawnBox();
  const [low, high] = axis === "x" ? [x0, x1] : [y0, y1];
  const have = was(axis).sort((p, q) => p[0] - q[0]);
  const stops = [low, ...have.flat(), high];
  let best = [low, low];
  for (let k = 0; k < stops.length; k += 2)
    if (stops[k + 1] - stops[k] > best[1] - best[0]) best = [stops[k], stops[k + 1]];
  const [a, b] = best;
  if (b - a < 1) {
    notice("Its bands leave no room for another one.", "Make one narrower, or take one away with Delete.");
    return;
  }
  bands[axis] = [...have, [a + (b - a) * 0.4, a + (b - a) * 0.6]].sort((p, q) => p[0] - q[0]);
  ask();
});
function drawnBox() {
  const inner = document.createElementNS("http://www.w3.org/2000/svg", "g");
  inner.innerHTML = original;
  return (inner.firstElementChild || drawn(about.id)).dataset.box.split(" ").map(Number);
}

// -- the pointer

export function press(event0) {
  const handle = aimed(event0).dataset?.refit;
  const from = toSheet(event0);
  if (!handle || !found) {
    return {
      hint: "",
      update() {},
      end() {},
      click() {
        if (open) {
          open = "";
          draw();
        }
      },
      cancel() {},
    };
  }
  const start = { ...now(), typed: size };
  return {
    hint: "refit",
    update(event) {
      const p = toSheet(event);
      let width = start.width + (handle.includes("e") ? p.x - from.x : 0);
      let height = start.height + (handle.includes("s") ? p.y - from.y : 0);
      if (event.shiftKey && handle === "se") {
        const by = Math.max(width / start.width, height / start.height);
        width = start.width * by;
        height = start.height * by;
      }
      const step = state.surface.round || 0;
      const on_step = (v) => Math.max(1, step ? Math.round(v / step) * step : v);
      size = { width: on_step(width), height: on_step(height) };
      const a = toDesk({ x: found.box[0], y: found.box[1] });
      live(
        `<rect class="refit-box now" x="${a.x}" y="${a.y}" width="${size.width * view.zoom}" height="${size.height * view.zoom}"/>`,
      );
      ask();
    },
    end() {
      live();
      ask();
    },
    cancel() {
      size = start.typed;
      live();
      ask();
    },
  };
}
