// Clamping a photo so that it covers its outline: the numbers come from Python, the page only stays within them.
// Independent of the page: node tests it.

const between = (v, low, high) => Math.min(Math.max(v, low), Math.max(low, high));

/**
 * The move (dx, dy) on the sheet, limited so that the photo covers the outline's bounds.
 *
 * @param {number[]} frame the photo's width, height and matrix
 * @param {number[]} limits the outline's bounds in px of the photo (x0 y0 x1 y1)
 * @param {number} dx
 * @param {number} dy
 * @returns {number[]}
 */
export function clampedShift([w, h, a, b, c, d], [x0, y0, x1, y1], dx, dy) {
  const det = a * d - b * c;
  if (!det) return [dx, dy];
  // moved by t of its own px, the photo has bounds smaller by t
  const tx = between((d * dx - c * dy) / det, x1 - w, x0);
  const ty = between((a * dy - b * dx) / det, y1 - h, y0);
  return [a * tx + c * ty, b * tx + d * ty];
}

/**
 * A move of the window by (x, y) px of the photo, limited to the photo, as the photo's move on the sheet.
 *
 * @param {number[]} frame
 * @param {number[] | null} limits
 * @param {number} x
 * @param {number} y
 * @returns {number[]}
 */
export function windowShift(frame, limits, x, y) {
  const [, , a, b, c, d] = frame;
  const [dx, dy] = [-(a * x + c * y), -(b * x + d * y)];
  return limits ? clampedShift(frame, limits, dx, dy) : [dx, dy];
}
