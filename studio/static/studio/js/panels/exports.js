// The list of exports: Python draws it, and it is refreshed while any of them is in progress.
import { Idiomorph } from "../../../vendor/idiomorph/idiomorph.esm.js";
import { action } from "../core/act.js";
import { tellExport, askExports } from "../core/server.js";
import { $, on, state } from "../core/state.js";
import { tellTimes } from "../core/times.js";

let again = null;

// Show the list, and return its rows.
export async function listExports() {
  clearTimeout(again);
  const answer = await askExports();
  const place = $("exported");
  if (answer.error) return null;
  if (place && place.dataset.shown !== answer.html) {
    place.dataset.shown = answer.html;
    Idiomorph.morph(place, answer.html, { morphStyle: "innerHTML" });
    tellTimes(place);
  }
  if (answer.rows.some((row) => row.state === "under way")) again = setTimeout(listExports, 1000);
  return answer.rows;
}

let revision = -1;
on("panels-shown", () => {
  const place = $("exported");
  if (state.station !== "export" || !place) return;
  // earlier exports are of an earlier state then
  if (place.dataset.shown && revision === state.revision) return;
  revision = state.revision;
  listExports();
});

for (const what of ["stop", "forget"]) {
  action(`${what}-export`, async ({ id }) => {
    await tellExport(id, what);
    listExports();
  });
}
