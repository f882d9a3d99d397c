// Files for a page's form, chosen or dropped anywhere on the page, with their progress.
import { $ } from "./by_id.js";
import { upload } from "./http.js";

const opening = $("open-file");
const words = opening?.querySelector("[role=status]");
const say = (text) => {
  if (words) words.textContent = text;
};

opening?.addEventListener("submit", async (event) => {
  event.preventDefault();
  const body = new FormData(opening);
  say("Sending");
  const refused = { error: "The server refused it.", remedy: "The file may be too large." };
  const sent = (share) => say(share < 1 ? `Sending, ${Math.round(100 * share)} %` : "Reading…");
  const answer = await upload(opening.action, body, sent, { say, refused });
  if (answer.to) window.location.assign(answer.to);
  else say(`${answer.error} ${answer.remedy || ""}`);
  // allow choosing the same file again
  opening.elements.file.value = "";
});
opening?.elements.file.addEventListener("change", () => opening.requestSubmit());
const carries = (event) => [...(event.dataTransfer?.types || [])].includes("Files");
document.addEventListener("dragover", (event) => {
  if (!opening || !carries(event)) return;
  event.preventDefault();
  document.body.classList.add("dropping");
});
document.addEventListener("dragleave", (event) => {
  if (!event.relatedTarget) document.body.classList.remove("dropping");
});
document.addEventListener("drop", (event) => {
  document.body.classList.remove("dropping");
  if (!opening || !carries(event)) return;
  event.preventDefault();
  const field = opening.elements.file;
  const transfer = new DataTransfer();
  for (const file of field.multiple ? event.dataTransfer.files : [event.dataTransfer.files[0]])
    transfer.items.add(file);
  field.files = transfer.files;
  opening.requestSubmit();
});
