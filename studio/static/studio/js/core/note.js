// One notice at a time, at the foot of the page: why something cannot be done, or what became of it.
const place = document.getElementById("notices");

export function note(message, remedy = "", button = null) {
  const box = document.createElement("div");
  box.className = "notice";
  box.setAttribute("role", "alert");
  const words = document.createElement("div");
  const strong = document.createElement("b");
  strong.textContent = message;
  words.append(strong, ` ${remedy}`);
  const close = document.createElement("button");
  close.type = "button";
  close.setAttribute("aria-label", "Close this notice");
  close.textContent = "✕";
  close.addEventListener("click", () => box.remove());
  box.append(...[words, button, close].filter(Boolean));
  // refusals do not pile up: the newest says what is to be said
  place.replaceChildren(box);
  setTimeout(() => box.remove(), 12000);
}

export function offered(words, id = "") {
  const button = document.createElement("button");
  button.type = "button";
  button.className = "btn btn-sm btn-outline-primary";
  button.id = id;
  button.textContent = words;
  return button;
}
