// Tracing a silhouette: Python traces, from the photo's small copy while settings change; here points are picked.
import { actors, action } from "../core/act.js";
import { notice } from "../core/notices.js";
import { latest } from "../core/queue.js";
import { askPanels, askSilhouette, command } from "../core/server.js";
import { $, inHand, live, on, state, emit } from "../core/state.js";
import { toDesk, toSheet, view } from "../core/view.js";
import { work } from "../core/work.js";

const OWN = { brightness: [], tone: ["point"], subject: ["box", "loop"] };
const FAR = 3; // px of the screen between two points of a stroke

let about = null; // the photo or silhouette that is traced, as the panel describes it
let way = "brightness";
let brush = "add";
let width = "middle";
let at = null;
let loop = [];
let marks = [];
let cross = null; // where the arrows went
let newest = null; // what was asked last, as the command's arguments
const drafts = new Map(); // id -> the same, where a silhouette was left without accepting or dropping it

export const active = () => state.tool === "silhouette";
const tracing = () => $("silhouette") && JSON.parse($("silhouette").dataset.about);
const value = (name) => $(`sil-${name}`)?.value ?? "";
const on_ = (name) => $(`sil-${name}`)?.checked ?? false;
const path = (points) => points.map(([x, y], k) => `${k ? "L" : "M"}${x.toFixed(2)} ${y.toFixed(2)}`).join("");

const args = () => ({
  id: about.id,
  way,
  level: value("level"),
  light: on_("light"),
  at,
  tolerance: value("tolerance"),
  touching: on_("touching"),
  loop,
  marks,
  smooth: value("smooth") || "0",
  grow: value("grow") || "0",
  smallest: value("smallest"),
  holes: on_("holes"),
  deviation: value("deviation"),
});

// -- the preview

const place = $("silhouette-live");
const quad = () => {
  const [w, h, a, b, c, d, e, f] = about.frame;
  return `${path(
    [
      [0, 0],
      [w, 0],
      [w, h],
      [0, h],
    ].map(([x, y]) => [a * x + c * y + e, b * x + d * y + f]),
  )}Z`;
};
let shown = "";
let words = "";
let trouble = false;

// Once the hand rests, the photo itself is traced: only that gives the number of nodes.
const REST = 400; // ms
let resting = 0;

function took(answer) {
  trouble = Boolean(answer.error);
  const share = answer.share < 10 ? answer.share?.toFixed(1) : Math.round(answer.share);
  const nodes = answer.nodes ? ` · ${answer.nodes} nodes` : "";
  // no marks yet is not an error
  words = answer.error ? `${answer.error} ${answer.remedy || ""}` : `${share} % of the photo${nodes}`;
  shown = answer.error ? "" : answer.d;
  draw();
}

const asked = latest(async () => {
  if (!active() || !about) return;
  const sent = newest;
  const answer = await askSilhouette(sent);
  if (newest?.way !== sent.way || !active() || !about || answer.late) return;
  took(answer);
  clearTimeout(resting);
  if (!answer.error) resting = setTimeout(exactly, REST, sent);
});

async function exactly(sent) {
  const answer = await askSilhouette(sent, true);
  if (newest === sent && active() && about && !answer.late) took(answer);
}

function look() {
  clearTimeout(resting);
  newest = args();
  const marked = { brightness: true, tone: at, subject: loop.length > 2 }[way];
  if (marked) return asked();
  shown = "";
  trouble = false;
  words = way === "tone" ? "No tone is selected yet." : "No subject is marked yet.";
  draw();
}

work({
  name: "The silhouette",
  active: () => active() && about !== null,
  get: () => ({ at, loop, marks }),
  set(was) {
    ({ at, loop, marks } = was);
    draw();
    look();
  },
});

function draw() {
  if (!active() || !about) {
    place.innerHTML = "";
    place.dataset.of = "";
    return;
  }
  const veil = shown ? `<path class="sil-veil" d="${quad()}${shown}"/><path class="sil-line" d="${shown}"/>` : "";
  const box = way === "subject" && loop.length ? `<path class="sil-loop" d="${path(loop)}Z"/>` : "";
  const strokes = marks
    .map(
      (m) =>
        `<path class="sil-mark ${m.adds ? "adds" : ""}" d="${path(m.points.length > 1 ? m.points : [...m.points, ...m.points])}" stroke-width="${2 * m.radius}"/>`,
    )
    .join("");
  const [w, h, ...m] = about.frame;
  // the whole photo is above everything while it is traced
  const picture = `<image href="${about.picture}" width="${w}" height="${h}" preserveAspectRatio="none" transform="matrix(${m.join(" ")})"/>`;
  if (place.dataset.of !== picture) place.innerHTML = `${picture}<g></g>`;
  place.dataset.of = picture;
  place.lastChild.innerHTML = veil + box + strokes;
  cursor();
  bar();
}

// The point of the tone and the arrows' cross, of the same size on the screen at any zoom.
function cursor() {
  const spots = [way === "tone" && at, brush !== "point" && brush !== "box" && cross].filter(Boolean);
  $("silhouette-spots").innerHTML = active()
    ? spots
        .map(([x, y]) => {
          const p = toDesk({ x, y });
          return `<path class="sil-spot" d="M${p.x - 9} ${p.y}h6m6 0h6M${p.x} ${p.y - 9}v6m0 6v6"/><circle class="sil-spot" cx="${p.x}" cy="${p.y}" r="3"/>`;
        })
        .join("")
    : "";
}
on("view", cursor);

function bar() {
  const box = $("silhouette-bar");
  box.hidden = !active();
  if (!active()) return;
  box.querySelector(".mode-words").textContent = words || "Loading…";
  box.querySelector(".mode-words").classList.toggle("low", trouble);
  $("accept-silhouette").disabled = trouble || !shown;
  for (const [button, { name }] of actors("page:silhouette-brush")) {
    button.hidden = !["add", "away", ...OWN[way]].includes(name);
    button.setAttribute("aria-pressed", String(name === brush));
  }
  for (const [button, { name }] of actors("page:silhouette-width"))
    button.setAttribute("aria-pressed", String(name === width));
  box.querySelector(".widths").hidden = !["add", "away"].includes(brush);
}

function fields() {
  const panel = $("silhouette");
  if (!panel) return;
  $("silhouette-start").hidden = active();
  panel.querySelector(".silhouette-fields").hidden = !active();
  for (const part of panel.querySelectorAll("[data-way]")) part.hidden = part.dataset.way !== way;
  for (const [button, { name }] of actors("page:silhouette-way"))
    button.setAttribute("aria-pressed", String(name === way));
}

// -- starting and ending

function begin() {
  keep();
  about = tracing();
  const draft = drafts.get(about.id);
  drafts.delete(about.id);
  ({ way, at, loop, marks } = draft || about);
  if (draft) fill(draft);
  brush = OWN[way][0] || "add";
  cross = null;
  shown = "";
  words = "";
  trouble = false;
  fields();
  draw();
  look();
  $("silhouette").scrollIntoView({ block: "nearest" });
}
// A tracing that was neither accepted nor cancelled is restored on coming back to it.
function keep() {
  if (about && newest) drafts.set(about.id, newest);
  about = newest = null;
}
function fill(draft) {
  for (const name of ["level", "tolerance", "smooth", "grow", "smallest", "deviation"])
    $(`sil-${name}`).value = draft[name];
  for (const name of ["light", "touching", "holes"]) $(`sil-${name}`).checked = draft[name];
  $("sil-dark").checked = !draft.light;
}
on("tool", () => {
  if (active()) {
    if (tracing()) begin();
    else askPanels();
    return;
  }
  keep();
  $("silhouette-bar").hidden = true;
  draw();
  cursor();
  fields();
});
on("panels-shown", () => {
  fields();
  if (!active()) return;
  const now = tracing();
  if (!now) {
    notice("Tracing needs a photo. None is selected.", "Select one photo, or a silhouette.");
    emit("drawn");
  } else if (now.id !== about?.id) begin();
  else about = now;
});
on("answer", () => active() && about && look());
action("drop-silhouette", () => {
  about = null;
  emit("drawn");
});

action("silhouette-way", ({ name }) => {
  way = name;
  brush = OWN[way][0] || "add";
  fields();
  draw();
  look();
});
// A brush; by keyboard it is used at the cross.
action("silhouette-brush", ({ name }, { event }) => {
  brush = name;
  if (event?.type === "keydown" && cross && (name === "add" || name === "away")) {
    mark([cross]);
    look();
  }
  draw();
});
action("silhouette-width", ({ name }) => {
  width = name;
  draw();
});
action("silhouette-back", () => {
  if (marks.length) marks = marks.slice(0, -1);
  else loop = [];
  draw();
  look();
});
action("accept-silhouette", async () => {
  if (!about) return null;
  const done = inHand();
  const { toolChanges } = state;
  const { id } = about;
  const answer = await command("silhouette", args(), { quiet: true });
  if (!answer.error) {
    drafts.delete(id);
    if (state.toolChanges === toolChanges) about = null;
    done();
  } else if ($(`sil-${answer.field}`)) emit("refused-field", { id: `sil-${answer.field}`, answer });
  else if (!answer.failed) emit("refused", answer);
  return answer;
});
// Escape first removes the marks, then leaves.
export function drop() {
  if (!about) return false;
  const first = tracing();
  const same = first && JSON.stringify([first.loop, first.marks]) === JSON.stringify([loop, marks]);
  if (same || !first) return false;
  ({ loop, marks } = first);
  draw();
  look();
  return true;
}

// -- settings

document.addEventListener("input", ({ target }) => {
  if (!active() || !target.closest?.(".silhouette-fields")) return;
  if (target.type === "range") $(target.id.replace("range", "sil")).value = target.value;
  else if ($(target.id.replace("sil", "range")) && Number.isFinite(Number.parseFloat(target.value)))
    $(target.id.replace("sil", "range")).value = Number.parseFloat(target.value);
  look();
});

// -- the pointer

const mark = (points) => {
  marks = [...marks, { points, radius: about.brushes[width], adds: brush === "add" }];
};
const spot = (event) => {
  const p = toSheet(event);
  return [p.x, p.y];
};

export function press(event0) {
  const from = spot(event0);
  const stroke = [from];
  const before = { at, loop, marks };
  const strokes = brush === "add" || brush === "away";
  const follow = (event) => {
    const p = spot(event);
    const last = stroke[stroke.length - 1];
    if (Math.hypot(p[0] - last[0], p[1] - last[1]) * view.zoom >= FAR && stroke.length < 2000) stroke.push(p);
  };
  const done = () => {
    live();
    draw();
    look();
  };
  return {
    hint: "silhouette",
    update(event) {
      if (!about) return;
      if (brush === "point") {
        at = spot(event);
        look();
      } else if (brush === "box") {
        const [x, y] = spot(event);
        loop = [from, [x, from[1]], [x, y], [from[0], y]];
      } else {
        follow(event);
        if (brush === "loop") loop = [...stroke];
        else {
          ({ marks } = before);
          mark([...stroke]);
        }
      }
      draw();
    },
    end: () => about && done(),
    click() {
      if (!about) return;
      if (brush === "point") at = from;
      else if (strokes) mark([from]);
      else notice("A click can’t mark the subject.", "Drag a box or a loop around it.");
      done();
    },
    cancel() {
      ({ at, loop, marks } = before);
      done();
    },
  };
}

// The arrows move the point of the tone, the box, or the cross at which a brush is used.
action("silhouette-move", ({ x, y, size }) => {
  if (!about) return;
  const [w, h, a, b, c, d, e, f] = about.frame;
  const on_photo = (u, v) => [a * u * w + c * v * h + e, b * u * w + d * v * h + f];
  const step = 8 / view.zoom;
  const moved = ([px, py]) => [px + x * step, py + y * step];
  if (brush === "point") at = at ? moved(at) : on_photo(0.5, 0.5);
  else if (brush === "box" || brush === "loop") {
    if (!loop.length) loop = [on_photo(0.1, 0.1), on_photo(0.9, 0.1), on_photo(0.9, 0.9), on_photo(0.1, 0.9)];
    else if (!size) loop = loop.map(moved);
    else {
      const [x0, y0] = loop.reduce(([mx, my], [px, py]) => [Math.min(mx, px), Math.min(my, py)]);
      const [x1, y1] = loop.reduce(([mx, my], [px, py]) => [Math.max(mx, px), Math.max(my, py)]);
      const [sx, sy] = [(x1 - x0 + x * step) / (x1 - x0 || 1), (y1 - y0 + y * step) / (y1 - y0 || 1)];
      if (sx > 0.02 && sy > 0.02) loop = loop.map(([px, py]) => [x0 + (px - x0) * sx, y0 + (py - y0) * sy]);
    }
  } else cross = cross ? moved(cross) : on_photo(0.5, 0.5);
  draw();
  look();
});
