import assert from "node:assert/strict";
import { test } from "node:test";
import { clampedShift, windowShift } from "../../studio/static/studio/js/tools/clamp.js";

const upright = [600, 400, 1, 0, 0, 1, 0, 0];

test("a photo moves no further than it covers its outline", () => {
  const limits = [100, 50, 300, 250];
  assert.deepEqual(clampedShift(upright, limits, 40, -30), [40, -30]);
  // its left edge may come to the outline's left side, 100 px on, and its right edge 300 px back
  assert.deepEqual(clampedShift(upright, limits, 500, 500), [100, 50]);
  assert.deepEqual(clampedShift(upright, limits, -500, -500), [-300, -150]);
});

test("an outline as wide as the photo leaves it no room that way", () => {
  assert.deepEqual(clampedShift(upright, [0, 100, 600, 200], 25, 25), [0, 25]);
});

test("turned and scaled, the room is along the photo's own sides", () => {
  // a quarter turn at twice the size: the photo's x runs down the sheet
  const turned = [600, 400, 0, 2, -2, 0, 0, 0];
  const [dx, dy] = clampedShift(turned, [100, 50, 300, 250], 1000, 1000);
  assert.deepEqual([dx, dy], [300, 200]);
});

test("the window goes one way and the photo the other", () => {
  assert.deepEqual(windowShift(upright, [100, 50, 300, 250], 40, 0), [-40, 0]);
  assert.deepEqual(windowShift(upright, [100, 50, 300, 250], -400, 0), [100, 0]);
});
