// The list of what was delivered: Python draws it, and it is asked for again while anything of it is under way.
import { Idiomorph } from "../../../vendor/idiomorph/idiomorph.esm.js";
import { deed } from "../core/act.js";
import { askDeliveries, tellDelivery } from "../core/server.js";
import { $, on, state } from "../core/state.js";
import { tellTimes } from "../core/times.js";

let again = null;

// Show the list, and return its rows.
export async function listDeliveries() {
  clearTimeout(again);
  const answer = await askDeliveries();
  const place = $("delivered");
  if (answer.error) return null;
  if (place && place.dataset.shown !== answer.html) {
    place.dataset.shown = answer.html;
    Idiomorph.morph(place, answer.html, { morphStyle: "innerHTML" });
    tellTimes(place);
  }
  if (answer.rows.some((row) => row.state === "under way")) again = setTimeout(listDeliveries, 1000);
  return answer.rows;
}

let revision = -1;
on("panels-shown", () => {
  const place = $("delivered");
  if (state.station !== "deliver" || !place) return;
  // what was delivered before a change is of an earlier state then
  if (place.dataset.shown && revision === state.revision) return;
  revision = state.revision;
  listDeliveries();
});

for (const what of ["stop", "forget"]) {
  deed(`${what}-delivery`, async ({ id }) => {
    await tellDelivery(id, what);
    listDeliveries();
  });
}
