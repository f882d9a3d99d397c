// The new-project form: a size from the list fills the numbers, and changed numbers are a custom size.
const form = document.getElementById("new-project");
const fields = ["width", "height", "unit", "resolution"];

form?.addEventListener("change", (event) => {
  const size = event.target.closest("input[name=size]");
  if (size?.dataset.width) for (const f of fields) form.elements[f].value = size.dataset[f];
  if (event.target.name === "backdrop") form.elements.backdrop_kind.value = "colour";
});
form?.addEventListener("input", (event) => {
  if (["width", "height", "unit"].includes(event.target.name)) form.elements.size.value = "custom";
});
