// Files for a page's form, chosen or dropped anywhere on the page.
const opening = document.getElementById("open-file");
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
