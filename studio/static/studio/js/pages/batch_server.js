// The requests of a batch's page, and its notices.
import { ask as asked, leave as leaving } from "../core/http.js";
import { note, offered } from "../core/note.js";

import { $ } from "../core/by_id.js";

export { $ };
const batch = $("batch");
export const at = batch.dataset.at;
export const first = batch.dataset;
export const many = Number(batch.dataset.many);

export const ask = (path, body, method = "POST") =>
  asked(at + path, body instanceof FormData || body === undefined ? { method, body } : { data: body });
export const look = (path) => ask(path, undefined, "GET");

export function notice(message, remedy = "", offer = null) {
  let button = null;
  if (offer) {
    button = offered(offer[0]);
    button.addEventListener("click", () => {
      button.parentNode.remove();
      offer[1]();
    });
  }
  note(message, remedy, button);
}
export const refused = (answer) => {
  if (answer.error) notice(answer.error, answer.remedy);
  return Boolean(answer.error);
};
// Send a move of a moment ago while the page is closing.
export const leave = (path, body) => leaving(at + path, body);
