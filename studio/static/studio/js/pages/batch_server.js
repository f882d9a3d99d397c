// What the page of a batch asks of the server, and what it says.
import { trying } from "../core/busy.js";
import { note, offered } from "../core/note.js";

import { $ } from "../core/by_id.js";

export { $ };
const batch = $("batch");
export const at = batch.dataset.at;
export const first = batch.dataset;
export const many = Number(batch.dataset.many);
const token = document.querySelector("input[name=csrfmiddlewaretoken]").value;

export async function ask(path, body, method = "POST") {
  const options = { method, headers: { "X-CSRFToken": token, Accept: "application/json" } };
  if (body instanceof FormData) options.body = body;
  else if (body !== undefined) options.body = JSON.stringify(body);
  try {
    const response = await trying(() => fetch(at + path, options));
    if (response.redirected) return { error: "You are signed out.", remedy: "Sign in again in another window." };
    const json = response.headers.get("Content-Type")?.includes("json");
    if (json) return await response.json();
    return response.ok ? {} : { error: "That did not work.", remedy: "Try again in a moment." };
  } catch {
    return { error: "The server does not answer.", remedy: "Try again in a moment." };
  }
}
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
// What was moved a moment ago is sent while the page goes away.
export function leave(path, body) {
  fetch(at + path, { method: "POST", headers: { "X-CSRFToken": token }, body: JSON.stringify(body), keepalive: true });
}
