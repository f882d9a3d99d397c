// The guided first job: what to press next is ringed, and a card explains it. Escape leaves it.
import { action } from "../core/act.js";
import { busy } from "../tools/gestures.js";
import { $, drawn, on, onAny, state } from "../core/state.js";

const has = (...kinds) => [...$("art").children].some((g) => kinds.includes(g.dataset.kind));
const only = (kind) => state.chosen.length === 1 && drawn(state.chosen[0])?.dataset.kind === kind;
let exported = false;

// What to do, with which key, and whether it is done. `at` is the id of what to press now; without one, the sheet.
const STEPS = [
  {
    words: () =>
      state.tool === "ellipse"
        ? "Now drag over the photo. Hold Shift for a circle."
        : "Draw a circle over the photo: press Ellipse.",
    at: () => (state.tool === "ellipse" ? "desk" : state.station === "draw" ? "tool-ellipse" : "station-draw"),
    done: () => has("piece", "outline", "frame"),
  },
  {
    words: () => "You see the photo through the circle. Go on to Fit.",
    at: () => "station-fit",
    done: () => state.station === "fit" || has("frame"),
  },
  {
    words: () => (only("piece") ? "Put the photo in." : "Click the circle, then put the photo in."),
    at: () => (state.station !== "fit" ? "station-fit" : only("piece") ? "put-in" : "desk"),
    done: () => has("frame"),
  },
  {
    words: () =>
      state.station === "export" ? "Export it: a picture with nothing left around it." : "Go on to Export.",
    at: () => (state.station === "export" ? "export-now" : "station-export"),
    done: () => exported,
  },
];

const card = $("first-job");
const ring = $("first-ring");
const over = () => card.hidden;

function draw() {
  if (over()) return;
  const k = STEPS.findIndex((step) => !step.done());
  const step = STEPS[k];
  card.querySelector("b").textContent = step ? `${k + 1} of ${STEPS.length}` : "Done";
  card.querySelector("p").textContent = step
    ? step.words()
    : "That is the whole job. Everything can still be changed: move the photo, reshape the circle, give it a border.";
  const target = step && $(step.at());
  ring.hidden = !target || target.id === "desk";
  if (ring.hidden) return;
  target.scrollIntoView({ block: "nearest" });
  const box = target.getBoundingClientRect();
  const place = { left: box.left - 4, top: box.top - 4, width: box.width + 8, height: box.height + 8 };
  for (const [side, value] of Object.entries(place)) ring.style[side] = `${value}px`;
}

function leave() {
  card.hidden = ring.hidden = true;
  history.replaceState(null, "", location.pathname);
}
action("leave-first-job", leave);
// whatever is running or open is closed first
addEventListener(
  "keydown",
  (event) => {
    if (
      event.key === "Escape" &&
      !over() &&
      !busy() &&
      state.tool === "choose" &&
      !document.querySelector("dialog[open]")
    )
      leave();
  },
  true,
);
on("exported", () => {
  exported = true;
  draw();
});
onAny(["shown", "panels-shown", "station", "tool", "chosen"], () => requestAnimationFrame(draw));
addEventListener("resize", draw);
if (new URLSearchParams(location.search).has("first")) {
  card.hidden = false;
  draw();
}
