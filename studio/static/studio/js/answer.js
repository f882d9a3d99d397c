// Swapping in what the server drew.
import { $, on, state, tell } from "./state.js";

const holder = document.createElementNS("http://www.w3.org/2000/svg", "svg");

export function show(answer) {
  Object.assign(state, {
    revision: answer.revision,
    undo: answer.undo,
    redo: answer.redo,
    order: answer.order,
    surface: answer.surface,
  });
  const art = $("art");
  const now = new Map([...art.children].map((g) => [g.dataset.id, g]));
  for (const [id, svg] of Object.entries(answer.swap)) {
    holder.innerHTML = svg;
    const fresh = holder.firstElementChild;
    const old = now.get(id);
    if (old) old.replaceWith(fresh);
    now.set(id, fresh);
  }
  const wanted = new Set(answer.order);
  for (const [id, g] of now) if (!wanted.has(id)) g.remove();
  let before = null;
  for (const id of [...answer.order].reverse()) {
    const g = now.get(id);
    if (g.parentNode !== art || g.nextElementSibling !== before) art.insertBefore(g, before);
    g.removeAttribute("transform");
    before = g;
  }
  if (answer.chosen) state.chosen = answer.chosen;
  overPhotos();
  if (answer.panels) showPanels(answer.panels);
  tell("shown", answer);
}

// Mark the pieces that lie over a photo: while working, it shows through them.
export function overPhotos() {
  const below = [];
  for (const g of $("art").children) {
    const b = g.dataset.box.split(" ").map(Number);
    const photo = g.dataset.kind === "photo" || g.dataset.kind === "frame";
    const over = !photo && below.some((p) => p[0] < b[2] && b[0] < p[2] && p[1] < b[3] && b[1] < p[3]);
    g.classList.toggle("over", over);
    if (photo) below.push(b);
  }
}

// How a field is found again in a panel that comes anew, or null.
const FIELDS = ["measure", "row", "detail", "pivot"];
function address(field) {
  const data = field?.dataset || {};
  if (data.paint) return `input.number[data-paint="${data.paint}"]`;
  if (data.mark) return `[data-mark="${data.mark}"][data-id="${data.id}"]`;
  if (data.margin) return `[data-hole="${field.closest("[data-hole]").dataset.hole}"] [data-margin="${data.margin}"]`;
  const name = FIELDS.find((f) => data[f]);
  return name ? `[data-${name}="${data[name]}"]` : null;
}

export function showPanels(panels) {
  const focus = document.activeElement;
  const step = focus?.closest?.(".step");
  const tool = step && [...step.querySelectorAll("select, button, input")].indexOf(focus);
  const key = step ? `.step[data-${step.dataset.finish ? "finish" : "number"}="${step.dataset.finish ?? step.dataset.number}"]` : address(focus);
  const { kept, sent } = focus?.dataset || {};
  const typed = focus?.matches?.(".number") && kept !== undefined && ![kept, sent].includes(focus.value) ? focus.value : null;
  const cursor = focus?.dataset?.detail === "text" ? focus.selectionStart : null;
  for (const [name, html] of Object.entries(panels)) {
    if (name === "nodes" || name === "cells") {
      tell(name, JSON.parse(html));
      continue;
    }
    const place = $(name);
    if (place.dataset.shown === html) continue;
    // the numbers a person is typing into the draw station's form stay
    if (name === "drawer" && place.dataset.kind === "draw" && state.station === "draw") continue;
    const open = new Map([...place.querySelectorAll("details")].map((d) => [d.querySelector("summary").textContent, d.open]));
    // what is typed will be sent by the field that comes; this one, as it goes, must not
    if (typed !== null && place.contains(focus)) focus.dataset.sent = typed;
    place.innerHTML = html;
    place.dataset.shown = html;
    // what a person unfolded stays so
    for (const d of place.querySelectorAll("details")) {
      const was = open.get(d.querySelector("summary").textContent);
      if (was !== undefined) d.open = was || d.open;
    }
    if (name === "drawer") place.dataset.kind = state.station;
  }
  if (key && !document.activeElement?.dataset?.row && document.activeElement !== focus) {
    const again = document.querySelector(key);
    (step ? again?.querySelectorAll("select, button, input")[tool] : again)?.focus();
    // what is being typed while an answer comes in is not lost
    if (typed !== null && again?.matches(".number")) again.value = typed;
    if (cursor !== null) again?.setSelectionRange(cursor, cursor);
  }
  tell("panels-shown", panels);
}

on("answer", show);
on("panels", showPanels);
