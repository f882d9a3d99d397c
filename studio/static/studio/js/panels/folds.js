// The side shows what the current station uses; the rest is one line each, and stays as the person left it.
import { on, state } from "../core/state.js";
import { recall, record } from "../core/storage.js";

const KEY = "gouge-folds";
let remembered = recall(KEY);
// the station that each fold was set for: a redrawn panel comes folded
let set = new WeakMap();

function apply() {
  for (const fold of document.querySelectorAll("details[data-at]")) {
    if (set.get(fold) === state.station) continue;
    set.set(fold, state.station);
    const left = remembered[`${state.station}/${fold.id}`];
    const at = state.chosen.length > 1 ? fold.dataset.many || fold.dataset.at : fold.dataset.at;
    fold.open = left ?? at.split(" ").includes(state.station);
  }
}

document.addEventListener("click", (event) => {
  const fold = event.target.closest("summary")?.parentElement;
  if (fold?.dataset.at === undefined) return;
  // the click has not changed it yet
  remembered = { ...recall(KEY), [`${state.station}/${fold.id}`]: !fold.open };
  record(KEY, remembered);
});
on("station", () => {
  set = new WeakMap();
  apply();
});
// the panel for aligning unfolds when several things are selected
on("chosen", () => {
  for (const fold of document.querySelectorAll("details[data-many]")) set.delete(fold);
  apply();
});
on("panels-shown", apply);
apply();
