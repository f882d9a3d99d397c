// The settings of a batch: the position of photos, the export; Python returns the texts that go with them.
import { $, ask } from "./batch_server.js";
import { anew, follow, known, words } from "./batch_progress.js";

let settled = Promise.resolve();
known(() => settled);
function set(values) {
  settled = settled.then(async () => {
    const answer = await ask("set", values);
    $("batch-error").hidden = !(answer.error || answer.wrong);
    $("batch-error").textContent = answer.error ? `${answer.error} ${answer.remedy || ""}` : answer.wrong || "";
    for (const field of document.querySelectorAll("[data-order]"))
      field.classList.toggle("is-invalid", Boolean(answer.field) && field.dataset.order === answer.field);
    if (answer.error) return answer;
    $("batch-example").textContent = answer.example || "";
    $("batch-pixels").textContent = answer.pixels || "";
    options(answer.options);
    words();
    return answer;
  });
  return settled;
}
export const example = () => set({});
function options(have) {
  for (const part of document.querySelectorAll("[data-option]")) part.hidden = !have.includes(part.dataset.option);
}
document.addEventListener("change", async ({ target }) => {
  if (target.dataset.order) {
    const value = target.type === "checkbox" ? target.checked : target.value.trim();
    await set({ order: { [target.dataset.order]: value } });
    follow();
  } else if (target.name === "where") {
    await set({ where: target.value });
    anew();
  } else if (target.id === "batch-variants") {
    /** @type {any} */
    const answer = await set({ variants: target.checked });
    if (answer.error) target.checked = !target.checked;
    else anew();
  } else if (target.id === "batch-name") set({ name: target.value });
});
document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.target.matches?.(".number")) event.target.blur();
});
