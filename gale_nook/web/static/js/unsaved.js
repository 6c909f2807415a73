// What was typed while nothing answered: marked, kept in the browser, and sent when asked.

import { $, work } from "./page.js";

const store = () => `unsaved ${location.pathname}`;
const kept = () => JSON.parse(localStorage.getItem(store()) ?? "{}");
const keep = (values) =>
  Object.keys(values).length > 0
    ? localStorage.setItem(store(), JSON.stringify(values))
    : localStorage.removeItem(store());
const fieldOf = (name) => $(`#work [name="${CSS.escape(name)}"]`);
const isTyped = (field) =>
  typeof field?.name === "string" && field.name.startsWith("set:") && field.type !== "checkbox";

function show() {
  if (!work()) return;
  const names = Object.keys(kept());
  /** @type {NodeListOf<HTMLInputElement>} */
  const marked = document.querySelectorAll("#work .unsaved");
  for (const field of marked) if (!names.includes(field.name)) field.classList.remove("unsaved");
  for (const name of names) fieldOf(name)?.classList.add("unsaved");
  const saved = $("#saved");
  if (!saved) return;
  saved.classList.toggle("not-saved", names.length > 0);
  $("#save-again").hidden = names.length === 0;
  if (names.length > 0) {
    const count = names.length === 1 ? "1 field" : `${names.length} fields`;
    saved.textContent = `not saved: ${count}`;
  }
}
document.addEventListener("htmx:sendError", ({ detail }) => {
  const field = detail.elt;
  if (!isTyped(field)) return;
  keep({ ...kept(), [field.name]: field.value });
  show();
});
document.addEventListener("htmx:afterRequest", ({ detail }) => {
  if (!detail.xhr?.status || !isTyped(detail.elt)) return;
  const { [detail.elt.name]: done, ...left } = kept();
  if (done !== undefined) keep(left);
});
function restore() {
  for (const [name, value] of Object.entries(kept())) {
    const field = fieldOf(name);
    if (field && field !== document.activeElement) field.value = value;
  }
  show();
}
// Fields are sent one after another, as they were typed.
function sendAgain() {
  for (const name of Object.keys(kept())) {
    const field = fieldOf(name);
    if (field) htmx.trigger(field, "change");
    else keep(Object.fromEntries(Object.entries(kept()).filter(([each]) => each !== name)));
  }
  show();
}
document.addEventListener("click", (event) => {
  if (event.target.closest?.("#save-again")) sendAgain();
});
window.addEventListener("online", sendAgain);
document.addEventListener("htmx:afterSettle", restore);
document.addEventListener("DOMContentLoaded", restore);
