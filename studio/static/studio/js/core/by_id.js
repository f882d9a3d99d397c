/**
 * The element with an id, typed as any: its kind is up to the templates.
 *
 * @type {(id: string) => any}
 */
export const $ = (id) => document.getElementById(id);
