// Search: each typed word must begin one of the words of a result.
export function finds(typed) {
  const words = typed.toLowerCase().split(/\s+/);
  return (text) => words.every((word) => ` ${text}`.includes(` ${word}`));
}
