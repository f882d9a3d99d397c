/**
 * The element with an id. Which one it is, the templates say: here it is taken for any.
 *
 * @type {(id: string) => any}
 */
export const $ = (id) => document.getElementById(id);
