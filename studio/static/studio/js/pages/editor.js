// The editor's entry: starts its parts, in order.
import "../panels/bench.js";
import "../core/announce.js";
import { overPhotos } from "../core/swap.js";
import "../panels/rows.js";
import "../tools/rulers.js";
import "../tools/gestures.js";
import "../core/hints.js";
import "../panels/holes.js";
import "../tools/nodes.js";
import "../panels/ordering.js";
import "../panels/photos.js";
import "../panels/tray.js";
import "../tools/guides.js";
import "../tools/settings.js";
import "../panels/shelf.js";
import "../tools/snap.js";
import "../panels/fields.js";
import "../core/name_words.js";
import "../panels/first_job.js";
import "../panels/folds.js";
import "../panels/help.js";
import "../panels/own_files.js";
import "../panels/remembered.js";
import "../tools/lettering.js";
import "../tools/exact.js";
import "../panels/export.js";
import "../panels/docket.js";
import "../tools/base.js";
import "../panels/panes.js";
import "../panels/fit.js";
import "../panels/round.js";
import "../tools/keys.js";
import { see } from "../tools/actions.js";
import { tool } from "../tools/gestures.js";
import { asked } from "../tools/refit.js";
import { choose, stepInside } from "../tools/select.js";
import { notice } from "../core/notices.js";
import { drawn, state, emit } from "../core/state.js";
import { fit } from "../core/view.js";

overPhotos();
fit();
tool("choose");
see();
emit("chosen", []);
// A reloaded page restores its state: the selection, the item being edited inside, and the tool.
const KEY = `gouge-left-${state.project}`;
const MODES = ["nodes", "cells", "refit"];
addEventListener("pagehide", () => {
  const { chosen, inside, tool: at } = state;
  sessionStorage.setItem(KEY, JSON.stringify({ chosen, inside, tool: at }));
});
const [came] = /** @type {any[]} */ (performance.getEntriesByType("navigation"));
const again = came?.type === "reload";
const left = (again && JSON.parse(sessionStorage.getItem(KEY))) || { chosen: [] };
const there = left.chosen.filter((id) => drawn(id));
if (left.inside && drawn(left.inside)) stepInside(left.inside);
if (there.length) choose(there);
if (there.length && MODES.includes(left.tool)) tool(left.tool);
const refitted = asked();
if (refitted) {
  choose([refitted]);
  tool("refit");
}
if (state.note) notice(state.note);
document.documentElement.dataset.ready = "yes";
