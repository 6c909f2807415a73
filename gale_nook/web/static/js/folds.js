// Folded parts of a page stay as they were left, until the tab is closed.

/** @param {any} fold */
const key = (fold) => `fold ${location.pathname.split("/").pop()} ${fold.id}`;
document.addEventListener(
  "toggle",
  (event) => {
    /** @type {any} */
    const fold = event.target;
    if (fold.matches?.("details.fold[id]")) sessionStorage.setItem(key(fold), String(fold.open));
  },
  true,
);
function restore() {
  /** @type {NodeListOf<HTMLDetailsElement>} */
  const folds = document.querySelectorAll("details.fold[id]");
  for (const fold of folds) {
    const kept = sessionStorage.getItem(key(fold));
    if (kept !== null) fold.open = kept === "true";
  }
  unfoldNamed();
}
// What an address names by its anchor is unfolded.
function unfoldNamed() {
  const name = location.hash.slice(1);
  for (let at = name && document.getElementById(name); at; at = at.parentElement)
    if (at.tagName === "DETAILS") at.setAttribute("open", "");
}
document.addEventListener("DOMContentLoaded", restore);
document.addEventListener("htmx:afterSettle", ({ target }) => {
  if (target instanceof Element && target.id === "work") restore();
});
window.addEventListener("hashchange", unfoldNamed);
