// While the pointer is down on a button nothing moves under it, or its click would be lost: updates
// wait until after the click.
const BUTTONS = ":is(.drawer, .side) :is(button, a, summary, label)";
const waiting = [];
let pressed = false;

function release() {
  pressed = false;
  for (const run of waiting.splice(0)) run();
}

document.addEventListener(
  "pointerdown",
  ({ target }) => {
    // a slider is pressed for long, and has no click to lose
    pressed = Boolean(target.closest(BUTTONS)) && !target.matches("[type=range]");
  },
  true,
);
// the click comes right after the pointer is up
for (const end of ["pointerup", "pointercancel"]) window.addEventListener(end, () => setTimeout(release), true);
window.addEventListener("blur", release);
// it was released outside of this window
window.addEventListener("pointermove", (event) => pressed && !event.buttons && release(), true);

// Run it now, or once nothing is pressed.
export function unpressed(run) {
  if (pressed) waiting.push(run);
  else run();
}
