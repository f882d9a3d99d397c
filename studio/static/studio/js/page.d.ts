// biome-ignore-all lint/suspicious/noExplicitAny: the templates say what each is
// Types of the page's elements and events. Which element has which id, and where an event comes from, is defined by the
// templates: TypeScript only knows that it exists, so what any of them may have is declared for all.

interface EventTarget {
  readonly dataset: DOMStringMap;
  id: any;
  value: any;
  defaultValue: any;
  checked: any;
  type: any;
  name: any;
  files: any;
  form: any;
  elements: any;
  disabled: any;
  click(): void;
  closest: any;
  matches: any;
  select: any;
  blur(): void;
  focus(options?: FocusOptions): void;
}

interface Element {
  hidden: any;
  title: any;
  open: any;
  src: any;
  options: any;
  tabIndex: number;
  focus(options?: FocusOptions): void;
}

interface Window {
  // set by its own script, loaded before
  Alpine: any;
}
