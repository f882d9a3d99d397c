// Drawing: pieces in a box, edge runs along a line, freehand strokes. Outlines come from Python; here they are scaled.
import { ask } from "../core/http.js";
import { marks } from "./select.js";
import { label, show } from "../core/label.js";
import { notice } from "../core/notices.js";
import { latest } from "../core/queue.js";
import { command } from "../core/server.js";
import {
  chosenReady,
  details,
  drawnAs,
  fetchTemplate,
  fixedSize,
  isRounded,
  setting,
  settingsRead,
  target,
  template,
} from "./settings.js";
import { roundedBox, snapBox, snapPoint } from "./snap.js";
import { inHand, live, state, emit } from "../core/state.js";
import { toDesk, toSheet, view } from "../core/view.js";

const intoWord = () => (target().into ? `${state.into} · ` : state.into ? "select an outline first · " : "");

// What scaling cannot show, Python draws in the very box: an outline of the shelf refitted to
// another proportion, corners of a radius.
function refitting(kind, again) {
  const what = kind === "ready" ? chosenReady() : {};
  const rounded = isRounded(kind);
  let got = null; // { d, w, h } in px
  const fetchShape = latest(async ({ w, h }) => {
    const size = rounded ? { width: `${w} px`, height: `${h} px` } : { width: w, height: h };
    const asked = rounded ? { kind, ...details(kind) } : { item: what.item, variant: what.variant };
    const url = rounded ? state.urls.template : state.urls.refit_shelved;
    const answer = await ask(`${url}?${new URLSearchParams({ ...asked, ...size })}`);
    got = answer.error ? { d: "", w, h, error: answer.error } : { ...answer, w, h };
    again();
  });
  return (box, shape) => {
    const same = Math.abs(box.w / box.h - shape.natural[0] / shape.natural[1]) < 1e-6;
    if (!(rounded || (what.item && !same)) || !(box.w > 0 && box.h > 0)) return shape;
    if (got?.w !== box.w || got?.h !== box.h) fetchShape({ w: box.w, h: box.h });
    return got || shape;
  };
}

export function drawPiece(kind, from0, modifiers) {
  let from = { ...from0 };
  let before = toSheetOnly(from0);
  let box = { x: from.x, y: from.y, w: 0, h: 0 };
  let last = null;
  let over = false;
  const again = () => last && !over && run.update(last);
  const refitted = refitting(kind, again);
  const run = {
    hint: "draw",
    again,
    update(event) {
      last = event;
      const { fixed, ratio } = fixedSize();
      const p = toSheet(event);
      if (modifiers.space) from = { x: from.x + p.x - before.x, y: from.y + p.y - before.y };
      before = p;
      let html = "";
      let to = p;
      if (!event.shiftKey && !fixed.w && !fixed.h && !ratio) {
        const snap = snapBox({ x0: p.x, x1: p.x, y0: p.y, y1: p.y }, [], event, { x: ["low"], y: ["low"] });
        to = { x: p.x + snap.dx, y: p.y + snap.dy };
        html = snap.html;
      }
      let w = to.x - from.x;
      let h = to.y - from.y;
      const shape = template(kind);
      const natural = shape ? shape.natural[0] / shape.natural[1] : 1;
      const keep = event.shiftKey ? natural : ratio;
      if (keep) {
        const height = Math.max(Math.abs(w) / keep, Math.abs(h));
        w = height * keep * (Math.sign(w) || 1);
        h = height * (Math.sign(h) || 1);
      }
      if (fixed.w) w = fixed.w * (Math.sign(w) || 1);
      if (fixed.h) h = fixed.h * (Math.sign(h) || 1);
      const centred = event.altKey !== setting("centre");
      const share = centred && (fixed.w || fixed.h) ? 0.5 : 1;
      box = centred
        ? {
            x: from.x - Math.abs(w) * share,
            y: from.y - Math.abs(h) * share,
            w: 2 * share * Math.abs(w),
            h: 2 * share * Math.abs(h),
          }
        : { x: Math.min(from.x, from.x + w), y: Math.min(from.y, from.y + h), w: Math.abs(w), h: Math.abs(h) };
      if (!event.ctrlKey && !event.metaKey) box = roundedBox(box);
      const a = toDesk(box);
      const drawn = shape && !(event.ctrlKey && kind === "ready") ? refitted(box, shape) : shape;
      const [sx, sy] = drawn ? [(box.w * view.zoom) / drawn.w, (box.h * view.zoom) / drawn.h] : [0, 0];
      live(
        `${html}${drawn ? `<path class="drawing ${target().into ? state.into : ""}" d="${drawn.d}" transform="matrix(${sx} 0 0 ${sy} ${a.x} ${a.y})"/>` : ""}`,
      );
      const { steered } = state.tools[kind];
      const many = steered ? `${setting(steered)} ${steered} · ` : "";
      label(event, `${intoWord()}${many}${show(box.w)} × ${show(box.h)} ${state.surface.unit}`);
    },
    async end() {
      const done = inHand();
      over = true;
      // a size or a count changed a moment ago may not have arrived yet
      await Promise.all([settingsRead(), fetchTemplate(kind)]);
      if (last) run.update(last);
      live();
      if (box.w > 0 && box.h > 0) await place(kind, box, last?.ctrlKey);
      else marks();
      done();
    },
    async click(_event) {
      const done = inHand();
      await settingsRead();
      const { fixed } = fixedSize();
      if (fixed.w && fixed.h) {
        const centred = setting("centre");
        const [x, y] = [from0.x - (centred ? fixed.w / 2 : 0), from0.y - (centred ? fixed.h / 2 : 0)];
        await place(kind, roundedBox({ x, y, w: fixed.w, h: fixed.h }));
        done();
      } else emit("exact", { kind, at: from0, name: state.tools[kind].name });
    },
    cancel() {
      over = true;
      marks();
    },
  };
  return run;
}
const toSheetOnly = (p) => ({ x: p.x, y: p.y });

// Draw a box tool's piece in a box; resolves to the answer.
export function drawIn(kind, box, options, stretch = false) {
  const what = kind === "ready" ? chosenReady() : { kind, details: details(kind) };
  if ("item" in what) return command("draw_shelved", { ...what, ...target(), ...box, stretch }, options);
  return command("draw", { ...what, ...drawnAs(), ...box }, options);
}

async function place(kind, box, stretch = false) {
  if (state.into && !target().into) {
    notice("No outline is selected to draw into.", "Select one piece first, or draw a new piece.");
    return;
  }
  const answer = await drawIn(kind, { x: box.x, y: box.y, width: box.w, height: box.h }, {}, Boolean(stretch));
  if (answer.error) marks();
}

export function drawEdge(from0, hit) {
  const from = snapPoint(from0, [], {});
  let to = from;
  return {
    hint: "edge",
    update(event) {
      const p = toSheet(event);
      const snap = snapPoint(p, [], event);
      to = { x: snap.x, y: snap.y };
      if (event.shiftKey) {
        const angle = (Math.round((Math.atan2(p.y - from.y, p.x - from.x) * 12) / Math.PI) * Math.PI) / 12;
        const size = Math.hypot(p.x - from.x, p.y - from.y);
        to = { x: from.x + size * Math.cos(angle), y: from.y + size * Math.sin(angle) };
      }
      const [a, b] = [toDesk(from), toDesk(to)];
      live(`${snap.html}<path class="drawing" d="M${a.x} ${a.y}L${b.x} ${b.y}"/>`);
      label(event, `${setting("kind")} · ${show(Math.hypot(to.x - from.x, to.y - from.y))} ${state.surface.unit}`);
    },
    async end() {
      const done = inHand();
      const line = { x0: from.x, y0: from.y, x1: to.x, y1: to.y };
      await command("draw_edge", { ...edgeArgs(), ...line, ...drawnAs() });
      done();
    },
    async click(event) {
      if (!hit) return notice("No piece is there.", "Drag a line, or click the side of a piece.");
      const done = inHand();
      await command("draw_edge", { ...edgeArgs(), id: hit, near: event.shiftKey ? null : [from0.x, from0.y] });
      done();
    },
    cancel: () => marks(),
  };
}
const edgeArgs = () => ({ kind: setting("kind"), pitch: setting("pitch"), details: details("edge") });

export function drawFreehand(from) {
  const points = [[from.x, from.y]];
  let closed = false;
  return {
    hint: "freehand",
    at_once: true,
    update(event) {
      const events = event.getCoalescedEvents?.() ?? [];
      for (const e of events.length ? events : [event]) {
        const p = toSheet(e);
        const last = points[points.length - 1];
        if (Math.hypot(p.x - last[0], p.y - last[1]) * view.zoom >= 1) points.push([p.x, p.y]);
      }
      const [x, y] = points[points.length - 1];
      closed = points.length > 8 && Math.hypot(x - points[0][0], y - points[0][1]) * view.zoom < 12;
      const d = points.map((p) => toDesk({ x: p[0], y: p[1] })).map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`);
      live(`<path class="drawing${closed ? "" : " open"}" d="M${d.join("L")}${closed ? "Z" : ""}"/>`);
      if (closed) label(event, "closes here");
    },
    async end() {
      const done = inHand();
      if (points.length < 3) return marks();
      await command("draw_freehand", { points, tolerance: setting("tolerance"), closed, ...drawnAs() });
      done();
    },
    cancel: () => marks(),
    click: () => notice("That stroke is too short to be a curve.", "Draw a little further."),
  };
}
