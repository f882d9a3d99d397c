// Panels from Python are morphed into those on the page: focus, typed text and open folds stay.
import { Idiomorph } from "../../../vendor/idiomorph/idiomorph.esm.js";
import { unpressed } from "./pressed.js";
import { $, on, state, emit } from "./state.js";

const shown = new Map();

function morph(place, html, morphStyle = "innerHTML") {
  Idiomorph.morph(place, html, {
    morphStyle,
    // a field with typed text sends it itself; the content of any other focused element is replaced
    ignoreActiveValue: document.activeElement?.matches("input, select, textarea"),
    callbacks: {
      // a part that fills itself is left alone
      beforeNodeMorphed: (node) => !node.dataset?.fills,
      // folds that a person opened stay open
      beforeAttributeUpdated: (name, node, kind) => !(name === "open" && node.matches("details") && kind === "remove"),
    },
  });
}

const holds = (row) => row.classList.contains("later");

// A row's new element: a row on the page is morphed, so that the focus in it stays.
export function renew(was, row) {
  if (holds(was)) was.replaceWith(row);
  else morph(was, row.outerHTML, "outerHTML");
  return $(row.id);
}

// The stack may have thousands of rows: unchanged ones stay, and rows whose content is not here yet are asked
// for (panels/rows.js).
function stack(place, html) {
  const holder = document.createElement("template");
  holder.innerHTML = html;
  const list = place.querySelector(".rows");
  const fresh = holder.content.querySelector(".rows");
  if (!list || !fresh) {
    place.innerHTML = html;
    return;
  }
  const old = new Map([...list.children].map((row) => [row.id, row]));
  let at = list.firstElementChild;
  for (const row of [...fresh.children]) {
    const was = old.get(row.id);
    old.delete(row.id);
    let now = was || row;
    const same = was?.dataset.mark === row.dataset.mark;
    if (was && holds(row) && !holds(was)) {
      was.dataset.mark = row.dataset.mark;
      was.classList.toggle("stale", !same || was.classList.contains("stale"));
    } else if (was && !(same && holds(was) === holds(row))) {
      if (at === was) at = was.nextElementSibling;
      now = renew(was, row);
      at = now.nextElementSibling === at ? now : at;
    }
    if (now === at) at = at.nextElementSibling;
    else list.insertBefore(now, at);
  }
  for (const row of old.values()) row.remove();
}

export const showPanels = (panels) => unpressed(() => place(panels));

function place(panels) {
  for (const [name, html] of Object.entries(panels)) {
    if (name === "nodes" || name === "cells") {
      emit(name, JSON.parse(html));
      continue;
    }
    const panel = $(name);
    if (name === "drawer") {
      // the numbers set in the tools stay
      if (panel.dataset.kind === "draw" && state.station === "draw") continue;
      // another station's drawer has nothing in common with it
      if (panel.dataset.kind !== state.station) {
        panel.innerHTML = html;
        panel.scrollTop = 0;
        panel.dataset.kind = state.station;
        shown.set(name, html);
        continue;
      }
    }
    if (shown.get(name) === html) continue;
    shown.set(name, html);
    if (name === "stack") stack(panel, html);
    else if (panel.children.length === 0 || html === "") panel.innerHTML = html;
    else morph(panel, html);
  }
  emit("panels-shown");
}
on("panels", showPanels);
