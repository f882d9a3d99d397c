// Panels that Python drew are morphed into those on the page: focus, what is being typed and what is unfolded stay.
import { Idiomorph } from "../../vendor/idiomorph/idiomorph.esm.js";
import { $, on, state, tell } from "./state.js";

const shown = new Map();

function morph(place, html) {
  Idiomorph.morph(place, html, {
    morphStyle: "innerHTML",
    // what is being typed is sent by its own field
    ignoreActiveValue: true,
    callbacks: {
      // a part that fills itself is left to itself
      beforeNodeMorphed: (node) => !node.dataset?.fills,
      // what a person unfolded stays so
      beforeAttributeUpdated: (name, node, kind) => !(name === "open" && node.matches("details") && kind === "remove"),
    },
  });
}

export function showPanels(panels) {
  for (const [name, html] of Object.entries(panels)) {
    if (name === "nodes" || name === "cells") {
      tell(name, JSON.parse(html));
      continue;
    }
    const place = $(name);
    if (name === "drawer") {
      // the numbers a person set the tools to stay
      if (place.dataset.kind === "draw" && state.station === "draw") continue;
      // another station's drawer is another thing: nothing of the old one is kept in it
      if (place.dataset.kind !== state.station) {
        place.innerHTML = html;
        place.scrollTop = 0;
        place.dataset.kind = state.station;
        shown.set(name, html);
        continue;
      }
    }
    if (shown.get(name) === html) continue;
    shown.set(name, html);
    if (place.children.length === 0 || html === "") place.innerHTML = html;
    else morph(place, html);
  }
  tell("panels-shown");
}
on("panels", showPanels);
