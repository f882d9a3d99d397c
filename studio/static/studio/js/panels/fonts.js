// A person's own font, imported beside a list of fonts and selected there.
import { action } from "../core/act.js";
import { notice } from "../core/notices.js";
import { sendFont } from "../core/server.js";
import { $ } from "../core/state.js";

let wanted = ""; // the list it is brought in beside

action("bring-font", ({ into }) => {
  wanted = into;
  $("font-file").click();
});

// Add a font to a list, in the group of the person's own.
function list(select, { key, name, kind }) {
  if ([...select.options].some((option) => option.value === key)) return;
  let group = select.querySelector("optgroup[label=Yours]");
  if (!group) {
    group = document.createElement("optgroup");
    group.label = "Yours";
    select.prepend(group);
  }
  group.append(new Option(kind ? `${name} · ${kind}` : name, key));
}

$("font-file").addEventListener("change", async ({ target }) => {
  const [file] = target.files;
  target.value = "";
  if (!file) return;
  const font = await sendFont(file);
  if (font.error) return notice(font.error, font.remedy);
  for (const select of [$("set-font"), $("d-font")]) if (select) list(select, font);
  const select = $(wanted);
  if (!select) return;
  select.value = font.key;
  select.dispatchEvent(new Event("change", { bubbles: true }));
  notice(`“${font.name}” is in your fonts.`);
});
