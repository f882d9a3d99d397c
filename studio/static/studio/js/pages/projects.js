// The new-project form: a size from the list fills the numbers, and changed numbers are a custom size.
import { $ } from "../core/by_id.js";
import "../core/dropped_files.js";
import { tellTimes } from "../core/times.js";

tellTimes();

const form = $("new-project");
const fields = ["width", "height", "unit", "resolution"];

function fill(size) {
  for (const f of fields) if (size?.dataset[f]) form.elements[f].value = size.dataset[f];
}
// a person may have picked one before this script was loaded
const picked = form?.querySelector("input[name=size]:checked");
if (picked && picked.value !== "custom") fill(picked);

form?.addEventListener("change", (event) => {
  const size = event.target.closest("input[name=size]");
  // a custom size starts in the unit used last
  fill(size);
  if (size?.value === "custom") form.elements.width.select();
  if (event.target.name === "backdrop") form.elements.backdrop_kind.value = "colour";
});
form?.addEventListener("input", (event) => {
  if (["width", "height", "unit"].includes(event.target.name)) form.elements.size.value = "custom";
});
document.addEventListener("keydown", (event) => {
  if (event.key.toLowerCase() !== "n" || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.target.closest("input:not([type=radio]), select, textarea")) return;
  event.preventDefault();
  form?.elements.name.focus();
});
