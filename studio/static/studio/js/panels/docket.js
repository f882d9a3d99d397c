// The side shows the file as it will be made, and the sheet dims what is left out.
import { ordered } from "./export.js";
import { latest } from "../core/queue.js";
import { askPicture } from "../core/server.js";
import { $, onAny, state } from "../core/state.js";
import { toDesk } from "../core/view.js";

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
  // what is asked for is known once the station's form is here
  if ($("docket").hidden || !$("export")) return;
  const order = ordered();
  const now = `${state.revision} ${JSON.stringify(order)}`;
  if (now === asked) return;
  asked = now;
  look(order);
}
onAny(["station", "panels-shown", "shown"], show);

// Nothing outside of each file's box is exported; for all of the sheet, its edge is that of the trim.
function dim() {
  const boxes = state.station === "export" ? $("export")?.dataset.boxes : "";
  if (!boxes) {
    $("export-marks").innerHTML = "";
    return;
  }
  const { width, height } = $("desk").getBoundingClientRect();
  const rectangle = ([x0, y0, x1, y1]) => {
    const [a, b] = [toDesk({ x: x0, y: y0 }), toDesk({ x: x1, y: y1 })];
    return `M${a.x} ${a.y}H${b.x}V${b.y}H${a.x}Z`;
  };
  const files = boxes.split(";").map((box) => rectangle(box.split(" ").map(Number)));
  const trim = rectangle([0, 0, state.surface.width, state.surface.height]);
  $("docket-h").textContent = files.length > 1 ? `The ${files.length} files, together` : "The file";
  const all = `M0 0H${width}V${height}H0Z`;
  // files may overlap: what is in any of them is not dimmed
  $("export-marks").innerHTML =
    `<mask id="behind"><path fill="#fff" d="${all}"/><path fill="#000" d="${files.join("")}"/></mask>` +
    `<path class="stays-behind" mask="url(#behind)" d="${all}"/>` +
    `<path class="trim-edge" d="${trim}"/><path class="file-edge" d="${files.join("")}"/>`;
}
onAny(["station", "panels-shown", "shown", "view"], dim);
show();
dim();
