// What htmx needs to be told: tokens, what is busy and sent again, what was refused.

import { $, cookie } from "./page.js";

document.addEventListener("htmx:configRequest", (event) => {
  event.detail.headers["x-csrftoken"] = cookie("csrftoken");
});

// What takes longer than a moment is said to be waiting; asking how long work stands is not.
const AT_WORK_MS = 80; // a line that moves says that something is on its way
const BUSY_MS = 1200;
const AGAIN_MS = 1500;
const pending = new Map();
const isAsking = (element) => Boolean(element?.matches?.(".working"));
let turnedAway = 0;
// An edit ends what was asked for: what still comes of it is for a page that is no longer there.
const isOver = (element) =>
  Boolean(element?.matches?.(".working, #find-state")) &&
  (!element.isConnected || !element.hasAttribute("hx-get"));
document.addEventListener("htmx:beforeRequest", (event) => {
  if (event.detail.requestConfig?.verb === "get" && isOver(event.detail.elt))
    event.preventDefault();
});
document.addEventListener("htmx:beforeSwap", (event) => {
  const { requestConfig } = event.detail;
  if (requestConfig.verb === "get" && isOver(requestConfig.elt)) event.detail.shouldSwap = false;
});
const showBusy = () => {
  $("#busy").hidden = turnedAway === 0 && ![...pending.values()].includes("late");
  if (pending.size === 0) document.body.classList.remove("at-work");
};
document.addEventListener("htmx:beforeRequest", ({ detail }) => {
  if (isAsking(detail.elt)) return;
  pending.set(detail.xhr, "new");
  setTimeout(() => {
    if (pending.has(detail.xhr)) document.body.classList.add("at-work");
  }, AT_WORK_MS);
  setTimeout(() => {
    if (pending.has(detail.xhr)) {
      pending.set(detail.xhr, "late");
      showBusy();
    }
  }, BUSY_MS);
});
document.addEventListener("htmx:afterRequest", ({ detail }) => {
  pending.delete(detail.xhr);
  showBusy();
});

// What was turned away because too many are working is sent again by itself, with all that was typed.
const sendAgain = ({ verb, path, elt, formData }) => {
  if (elt.isConnected) htmx.ajax(verb.toUpperCase(), path, { source: elt, values: formData });
};
document.addEventListener("htmx:beforeSwap", (event) => {
  const { xhr, requestConfig } = event.detail;
  const isBusy = xhr.status === 429 && xhr.getResponseHeader("x-busy");
  if (!isBusy && !(xhr.status >= 400 && isAsking(requestConfig.elt))) return;
  event.detail.shouldSwap = false;
  event.detail.isError = false;
  turnedAway += 1;
  showBusy();
  setTimeout(
    () => {
      turnedAway -= 1;
      showBusy();
      sendAgain(requestConfig);
    },
    AGAIN_MS + Math.random() * AGAIN_MS,
  );
});

// A field that was refused keeps what was typed, and says so to those who cannot see the colour.
document.addEventListener("htmx:responseError", (event) => {
  const field = event.detail.elt;
  if (field.matches?.("input, select, textarea")) field.setAttribute("aria-invalid", "true");
});
// Choosing in a notice settles what was refused: the fields show what is kept.
document.addEventListener("htmx:beforeRequest", (event) => {
  if (!event.detail.elt.closest?.("#notice")) return;
  document
    .querySelectorAll("#work [aria-invalid]")
    .forEach((field) => field.removeAttribute("aria-invalid"));
});
document.addEventListener("htmx:sendError", (event) => {
  if (isAsking(event.detail.elt)) {
    setTimeout(() => sendAgain(event.detail.requestConfig), 2 * AGAIN_MS);
    return;
  }
  $("#notice").replaceChildren($("#no-answer").content.cloneNode(true));
});
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id === "work") {
    const sender = event.detail.requestConfig?.elt;
    sender?.removeAttribute?.("aria-invalid");
    if (event.detail.xhr.status < 400) $("#notice")?.replaceChildren();
  }
});
document.addEventListener("DOMContentLoaded", () => {
  if (!window.Idiomorph) return;
  Idiomorph.defaults.ignoreActiveValue = true;
  Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => {
    // a refused value stays until it is mended; an open detail stays open
    if (old.nodeType !== 1) return true;
    if (old.id && old.id === fresh.id && old.matches("[hx-trigger^=load]")) return false; // loaded already
    if (old.getAttribute("aria-invalid") === "true" && old !== document.activeElement) return false;
    // the active element's inside is left alone, but a button that was pressed may say something else now
    if (old.tagName === "BUTTON" && old === document.activeElement && fresh.nodeType === 1)
      old.innerHTML = fresh.innerHTML;
    if (old.tagName === "DETAILS" && old.open && fresh.nodeType === 1)
      fresh.setAttribute("open", "");
    return true;
  };
});
