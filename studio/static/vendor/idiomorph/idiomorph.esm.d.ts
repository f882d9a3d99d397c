export const Idiomorph: {
  morph(place: Element, fresh: string | Node, options?: object): Node[];
};
