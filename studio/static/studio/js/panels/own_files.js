// A person's own font or print profile, imported beside a list and selected there.
import { action } from "../core/act.js";
import { notice } from "../core/notices.js";
import { sendOwnFile } from "../core/server.js";
import { $ } from "../core/state.js";

const LISTS = { font: ["set-font", "d-font"], profile: ["d-profile"] };
let wanted = ""; // the list it is brought in beside

action("bring-file", ({ use, into }) => {
  wanted = into;
  $(`${use}-file`).click();
});

// Add a file to a list, in the group of the person's own.
function list(select, key, words) {
  if ([...select.options].some((option) => option.value === key)) return;
  let group = select.querySelector("optgroup[data-own]");
  if (!group) {
    group = document.createElement("optgroup");
    group.label = "Yours";
    group.dataset.own = "";
    select.prepend(group);
  }
  group.append(new Option(words, key));
}

for (const [use, lists] of Object.entries(LISTS))
  $(`${use}-file`).addEventListener("change", async ({ target }) => {
    const [file] = target.files;
    target.value = "";
    if (!file) return;
    const own = await sendOwnFile(use, file);
    if (own.error) return notice(own.error, own.remedy);
    // a drawer is too narrow for the colours of a press beside its name
    const words = use === "font" && own.kind ? `${own.name} · ${own.kind}` : own.name;
    for (const id of lists) if ($(id)) list($(id), own.key, words);
    const select = $(wanted);
    if (!select) return;
    select.value = own.key;
    select.dispatchEvent(new Event("change", { bubbles: true }));
    notice(`“${own.name}” is in your ${use}s.`);
  });
