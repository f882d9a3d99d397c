// By keyboard from part to part: F6 cycles through drawer, sheet and side, and the stations are one stop of Tab.
import { action } from "../core/act.js";
import { $ } from "../core/state.js";

const CONTROLS = "button, a[href], input, select, textarea, summary, [tabindex]";
const first = (part) =>
  [...part.querySelectorAll(CONTROLS)].find(
    (control) => control.tabIndex >= 0 && !control.disabled && control.checkVisibility({ visibilityProperty: true }),
  );

action("round", ({ by }) => {
  const stops = [first($("drawer")), $("desk"), first($("side"))].filter(Boolean);
  const here = stops.findIndex((stop) => {
    const part = stop.closest("#drawer, #desk, #side");
    return part.contains(document.activeElement);
  });
  // from the strip to the first part, or back to the last
  const next = here < 0 ? (by > 0 ? 0 : -1) : (here + by) % stops.length;
  stops.at(next).focus();
});

// What an arrow key does to a focused station; returns whether it was one.
export function along({ key, target }) {
  const row = [...target.closest(".stations").querySelectorAll("button")];
  const at = row.indexOf(target.closest("button"));
  const to = { ArrowLeft: at - 1, ArrowRight: at + 1, Home: 0, End: row.length - 1 }[key];
  if (to === undefined) return false;
  row.at(to % row.length).focus();
  return true;
}
