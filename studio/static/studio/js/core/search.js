// What was typed to find something: each of its words begins one of the words of what is found.
export function finds(typed) {
  const words = typed.toLowerCase().split(/\s+/);
  return (text) => words.every((word) => ` ${text}`.includes(` ${word}`));
}
