// Files for a page's form, chosen or dropped anywhere on the page, and how far they are.
import { $ } from "./by_id.js";
import { trying } from "./busy.js";

const opening = $("open-file");
const words = opening?.querySelector("[role=status]");
const say = (text) => {
  if (words) words.textContent = text;
};

function sent(body) {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", opening.action);
    // the token goes ahead: whose body it is is asked before it comes
    request.setRequestHeader("X-CSRFToken", opening.elements.csrfmiddlewaretoken.value);
    request.setRequestHeader("Accept", "application/json");
    request.upload.addEventListener("progress", ({ loaded, total }) =>
      say(loaded < total ? `Sending, ${Math.round((100 * loaded) / total)} %` : "Reading…"),
    );
    request.addEventListener("load", () =>
      done({ busy: request.getResponseHeader("Retry-After") !== null, text: request.responseText }),
    );
    request.addEventListener("error", failed);
    request.send(body);
  });
}

opening?.addEventListener("submit", async (event) => {
  event.preventDefault();
  const body = new FormData(opening);
  say("Sending");
  try {
    const { text } = await trying(() => sent(body), say);
    const answer = JSON.parse(text);
    if (answer.to) window.location.assign(answer.to);
    else say(`${answer.error} ${answer.remedy || ""}`);
  } catch {
    say("The server refused it. The file may be too large, or try again in a moment.");
  } finally {
    // the same file may be selected again
    opening.elements.file.value = "";
  }
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
  const held = new DataTransfer();
  for (const file of field.multiple ? event.dataTransfer.files : [event.dataTransfer.files[0]]) held.items.add(file);
  field.files = held.files;
  opening.requestSubmit();
});
