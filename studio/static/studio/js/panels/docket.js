// While one exports, the side shows the file as it will be.
import { ordered } from "./export.js";
import { latest } from "../core/queue.js";
import { askPicture } from "../core/server.js";
import { $, on, state } from "../core/state.js";

const picture = $("docket-picture");
let asked = "";

const look = latest(async (order) => {
  const answer = await askPicture(state.urls.docket, order);
  if (picture.src) URL.revokeObjectURL(picture.src);
  picture.hidden = Boolean(answer.error);
  if (answer.error) picture.removeAttribute("src");
  else picture.src = URL.createObjectURL(answer.picture);
});

function show() {
  $("docket").hidden = state.station !== "export";
  if ($("docket").hidden) return;
  const order = ordered();
  const now = `${state.revision} ${JSON.stringify(order)}`;
  if (now === asked) return;
  asked = now;
  look(order);
}
for (const name of ["station", "panels-shown", "shown"]) on(name, show);
show();
