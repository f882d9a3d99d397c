// Exact size at the pointer: a click with a drawing tool asks for it.
import { action } from "../core/act.js";
import { drawIn } from "./draw.js";
import { openAt } from "./lettering.js";
import { show } from "../core/label.js";
import { $, inHand, on, state } from "../core/state.js";

let exact = null;
on("exact", ({ kind, at, name, centred = false }) => {
  exact = { kind, x: at.x, y: at.y, centred };
  // the default: a third of the sheet's shorter side
  const third = show(Math.min(state.surface.width, state.surface.height) / 3);
  for (const field of ["width", "height"]) $("exact").elements[field].value ||= third;
  $("exact").querySelector("h2").textContent = name;
  openAt($("exact"), at, $("exact").elements.width);
});
action("draw-exact", async ({ width, height }) => {
  const done = inHand();
  // the next key goes to the sheet, however fast it comes
  $("exact").hidden = true;
  $("desk").focus();
  const { kind, ...place } = exact;
  const answer = await drawIn(kind, { ...place, width, height }, { quiet: true });
  if (answer.error) {
    $("exact").hidden = false;
    $("exact").elements[answer.field === "height" ? "height" : "width"].focus();
    return answer;
  }
  done();
  return answer;
});
