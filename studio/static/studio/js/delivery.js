// Delivering: the file comes as the server made it.
import { deed } from "./act.js";
import { notice } from "./notices.js";
import { progress, stoppable } from "./progress.js";
import { askPanels } from "./server.js";
import { $, change, on, state } from "./state.js";

let what = "";
const chosenTarget = () => $("deliver")?.querySelector("input[name=what]:checked");

// The sizes shown are what the files will have: Python works them out for the px per inch typed.
deed("resolution", ({ value }) => {
  change({ resolution: value });
  askPanels();
});

// what goes out stays chosen through every new panel
document.addEventListener("change", (event) => {
  if (event.target.name === "what") what = event.target.value;
});
on("panels-shown", () => {
  const kept = what && $(`what-${what}`);
  if (kept) kept.checked = true;
});
on("chosen", () => {
  what = "";
});

deed("deliver", async ({ format }) => {
  const resolution = $("d-resolution").value;
  const query = new URLSearchParams({ format, what: chosenTarget()?.value || "sheet", resolution });
  const { signal } = stoppable();
  progress(`Making the ${format.toUpperCase()}`, null);
  try {
    const response = await fetch(`${state.urls.deliver}?${query}`, { signal });
    if (!response.ok) {
      const answer = await response.json();
      if (answer.field === "resolution") return askAgain(resolution, answer);
      notice(answer.error, answer.remedy);
      return answer;
    }
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await response.blob());
    link.download = /filename="([^"]+)"/.exec(response.headers.get("Content-Disposition"))?.[1] || `gouge.${format}`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
  } catch (error) {
    if (error.name !== "AbortError") notice("The server does not answer.", "Try again in a moment.");
  } finally {
    progress(null);
  }
  return null;
});

// a number that is refused is shown with its reason, in the drawer itself
function askAgain(resolution, answer) {
  change({ resolution });
  askPanels();
  $("d-resolution").focus();
  return { ...answer, failed: true };
}
