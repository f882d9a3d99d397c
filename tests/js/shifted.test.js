import assert from "node:assert/strict";
import { test } from "node:test";
import { shiftedBox, shiftedFrame, shiftedPath } from "../../studio/static/studio/js/core/shifted.js";

test("every command of a path moves along its own axes", () => {
  assert.equal(
    shiftedPath("M0 0H10V-2.5C.5 1 1 1 -3 2L4 5ZM1e-05 2H3Z", 1, 10),
    "M1 10H11V7.5C1.5 11 2 11 -2 12L5 15ZM1.00001 12H4Z",
  );
  assert.equal(shiftedPath("", 1, 1), "");
});

test("a box moves with both corners, a frame by its matrix alone", () => {
  assert.equal(shiftedBox("0 1 2.25 3", 0.5, -1), "0.5 0 2.75 2");
  assert.equal(shiftedFrame("20 10 1 0 0 1 5 6", 0.1, 0.2), "20 10 1 0 0 1 5.1 6.2");
});
