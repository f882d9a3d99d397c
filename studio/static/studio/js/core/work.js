// Undo belongs to the current mode: what is marked, drawn or set in a mode is undone step by step, before the
// project's own steps. A mode returns its state by `get`, and restores it by `set`; changes are noticed here.
const works = [];
const histories = new Map();
const at_hand = () => works.find((work) => work.active());

// { name, active(), get() -> plain data, set(data), idle() }: an idle mode has nothing to undo
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

// Undo (-1) or redo (1) a step within the mode: "done", "over" if nothing is left, "" outside of modes.
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

// before a gesture, to know the state at its start; and after it
for (const name of ["pointerdown", "keydown"]) document.addEventListener(name, record, { capture: true });
for (const name of ["pointerup", "keyup", "change"]) document.addEventListener(name, () => setTimeout(record));
