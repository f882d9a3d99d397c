// Affine maps [a, b, c, d, e, f], in SVG's order, for moving, scaling and turning drawings.
export const identity = [1, 0, 0, 1, 0, 0];
export const times = (m, n) => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];
export const apply = (m, p) => ({ x: m[0] * p.x + m[2] * p.y + m[4], y: m[1] * p.x + m[3] * p.y + m[5] });
export const inverse = (m) => {
  const det = m[0] * m[3] - m[1] * m[2];
  const [a, b, c, d] = [m[3] / det, -m[1] / det, -m[2] / det, m[0] / det];
  return [a, b, c, d, -(a * m[4] + c * m[5]), -(b * m[4] + d * m[5])];
};
export const move = (x, y) => [1, 0, 0, 1, x, y];
export const resize = (sx, sy, p) => [sx, 0, 0, sy, p.x - sx * p.x, p.y - sy * p.y];
export const turn = (degrees, p) => {
  const r = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(r), Math.sin(r)];
  return [c, s, -s, c, p.x - c * p.x + s * p.y, p.y - s * p.x - c * p.y];
};
export const text = (m) => `matrix(${m.join(" ")})`;
