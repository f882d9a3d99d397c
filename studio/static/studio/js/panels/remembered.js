// A person's last choices on this page, in this browser.
const chosen = (select) => `gouge-${select.dataset.remember}`;

document.addEventListener("change", ({ target }) => {
  if (!target.dataset?.remember) return;
  try {
    localStorage.setItem(chosen(target), target.value);
  } catch {
    // a browser that stores nothing starts afresh
  }
});
for (const select of document.querySelectorAll("[data-remember]")) {
  const last = localStorage.getItem(chosen(select));
  if ([...select.options].some((option) => option.value === last)) select.value = last;
}
