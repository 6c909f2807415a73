// What the vendored scripts put on the page, and what their events carry.
declare const htmx: any;
declare const Idiomorph: any;
interface Window {
  Idiomorph?: unknown;
}
interface DocumentEventMap {
  "htmx:configRequest": CustomEvent;
  "htmx:beforeRequest": CustomEvent;
  "htmx:afterRequest": CustomEvent;
  "htmx:beforeSwap": CustomEvent;
  "htmx:responseError": CustomEvent;
  "htmx:sendError": CustomEvent;
  "htmx:afterSwap": CustomEvent;
  "htmx:afterSettle": CustomEvent;
}

// What events of the page come from: elements, and the document itself, which has no such methods.
interface EventTarget {
  closest?(selector: string): any;
  matches?(selector: string): boolean;
  value?: any;
  dataset?: DOMStringMap;
}
interface Element {
  dataset: DOMStringMap;
  value: any;
  defaultValue: string;
}
