// Exact numbers at the pointer: a click with a drawing tool asks for them.
import { action } from "../core/act.js";
import { drawIn } from "./draw.js";
import { openAt } from "./lettering.js";
import { $, inHand, on } from "../core/state.js";

let exact = null;
on("exact", ({ kind, at, name }) => {
  exact = { kind, x: at.x, y: at.y };
  $("exact").querySelector("h2").textContent = name;
  openAt($("exact"), at, $("exact").elements.width);
});
action("draw-exact", async ({ width, height }) => {
  const done = inHand();
  const answer = await drawIn(exact.kind, { x: exact.x, y: exact.y, width, height }, { quiet: true });
  if (answer.error) return answer;
  $("exact").hidden = true;
  $("desk").focus();
  done();
  return answer;
});
