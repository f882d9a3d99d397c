// Undo belongs to the work at hand: what is marked, drawn or set in a mode goes back a step at a time, before the
// project's own steps do. A mode says what it has by `get`, and takes it back by `set`; what changed is seen here.
const works = [];
const histories = new Map();
const at_hand = () => works.find((work) => work.active());

// { name, active(), get() -> plain data, set(data), idle() }: a mode that is idle has nothing to be left for
export const work = (mode) => works.push(mode);

function record() {
  for (const mode of works) if (!mode.active()) histories.delete(mode);
  const mode = at_hand();
  if (!mode) return;
  const now = JSON.stringify(mode.get());
  const history = histories.get(mode) || { steps: [now], at: 0 };
  histories.set(mode, history);
  if (history.steps[history.at] === now) return;
  history.steps = [...history.steps.slice(0, history.at + 1), now].slice(-200);
  history.at = history.steps.length - 1;
}

// Go a step back (-1) or on (1) in the work at hand: "done", "over" where nothing of it is left, "" without any.
export function step(by) {
  record();
  const mode = at_hand();
  if (!mode) return "";
  const history = histories.get(mode);
  const next = history.steps[history.at + by];
  if (next === undefined) return mode.idle?.() ? "" : by < 0 ? "over" : "done";
  history.at += by;
  mode.set(JSON.parse(next));
  return "done";
}
export const workName = () => at_hand()?.name || "";

// before a gesture, so that what was there first is known; and after it
for (const name of ["pointerdown", "keydown"]) document.addEventListener(name, record, { capture: true });
for (const name of ["pointerup", "keyup", "change"]) document.addEventListener(name, () => setTimeout(record));
