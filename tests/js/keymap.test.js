import assert from "node:assert/strict";
import { test } from "node:test";
import { keyMap, meaning, nameOf } from "../../studio/static/studio/js/core/keymap.js";

const press = (key, held = {}) => ({ key, ctrlKey: false, metaKey: false, shiftKey: false, ...held });

test("a key is named by what was pressed", () => {
  assert.equal(nameOf(press("U")), "u");
  assert.equal(nameOf(press("V", { shiftKey: true })), "shift+v");
  assert.equal(nameOf(press("z", { ctrlKey: true, shiftKey: true })), "ctrl+shift+z");
  assert.equal(nameOf(press("ArrowLeft", { shiftKey: true })), "shift+arrowleft");
  // the mac's key does what Ctrl does elsewhere
  assert.equal(nameOf(press("z", { metaKey: true })), "ctrl+z");
  // a sign that needs Shift is itself
  assert.equal(nameOf(press("?", { shiftKey: true })), "?");
  assert.equal(nameOf(press("+", { shiftKey: true })), "+");
});

const map = keyMap([
  [
    ["u", "s"],
    [
      ["combine", { operation: "union" }],
      ["combine", { operation: "subtract" }],
    ],
    "",
  ],
  [["u"], [["page:into", { operation: "union" }]], "drawing"],
  [["arrowup"], [["page:nudge", { x: 0, y: -1 }]], ""],
  [["arrowup"], [["page:count", { by: 1 }]], "steered"],
]);

test("a key means one thing for the work at hand", () => {
  assert.deepEqual(meaning(map, "u", []), ["combine", { operation: "union" }]);
  assert.deepEqual(meaning(map, "u", ["drawing"]), ["page:into", { operation: "union" }]);
  // what the work at hand does not know is what it means elsewhere
  assert.deepEqual(meaning(map, "s", ["drawing"]), ["combine", { operation: "subtract" }]);
  assert.equal(meaning(map, "q", ["drawing"]), null);
});

test("the nearest work at hand has the key, with Shift held too", () => {
  assert.deepEqual(meaning(map, "shift+arrowup", ["drawing", "steered"]), ["page:count", { by: 1 }]);
  assert.equal(meaning(map, "shift+arrowup", []), null);
});
