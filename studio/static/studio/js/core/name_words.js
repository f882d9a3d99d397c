// Buttons that insert a word of a file name, such as {project}, at the cursor. The field is sent as usual: by
// Enter, or by leaving it.
import { $ } from "./by_id.js";

const button = (event) => event.target.closest?.("[data-insert]");

// the field keeps the focus, so that it is not sent before the word is in it
document.addEventListener("pointerdown", (event) => button(event) && event.preventDefault());
document.addEventListener("click", (event) => {
  const pressed = button(event);
  if (!pressed) return;
  const field = $(pressed.dataset.into);
  const fresh = document.activeElement !== field;
  field.focus();
  if (fresh) field.setSelectionRange(field.value.length, field.value.length);
  field.setRangeText(pressed.dataset.insert, field.selectionStart, field.selectionEnd, "end");
});
