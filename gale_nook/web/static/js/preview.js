// Previews of a command: one in flight, the newest waits; and what follows them.

import { send } from "./edits.js";
import { tellChanges } from "./news.js";
import { $, cookie, state, stationUrl, work } from "./page.js";

let inFlight = false;
let waiting = null;
export async function preview(command) {
  if (command.changes && command.changes.length === 0) return;
  if (inFlight) {
    waiting = command;
    return;
  }
  inFlight = true;
  try {
    const body = new URLSearchParams({ ...state(), command: JSON.stringify(command) });
    const url = stationUrl();
    const answer = await fetch(url + "/preview", {
      method: "POST",
      body,
      headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
    });
    const shown = answer.ok ? await answer.json() : null;
    if (shown && work() && stationUrl() === url) show(shown);
  } finally {
    inFlight = false;
    if (waiting) {
      const next = waiting;
      waiting = null;
      preview(next);
    }
  }
}
function show(shown) {
  if ($("#overlay")) $("#overlay").innerHTML = shown.overlay;
  const openOnes = [...document.querySelectorAll("#findings details[open]")].map(({ id }) => id);
  if ($("#findings")) $("#findings").innerHTML = shown.findings;
  for (const id of openOnes) document.getElementById(id)?.setAttribute("open", "");
  for (const [id, html] of Object.entries(shown.parts)) {
    const part = document.getElementById(id);
    if (part) part.innerHTML = html;
  }
  for (const [address, text] of Object.entries(shown.fields)) {
    const typed = document.querySelector(`input[name="set:${address}"]`);
    if (typed && typed !== document.activeElement) typed.value = text;
    document.querySelector(`[data-slide="${address}"]`)?.setAttribute("aria-valuetext", text);
  }
  tellChanges();
  work().classList.add("previewing");
  work().dataset.previews = String(Number(work().dataset.previews ?? 0) + 1);
}
export async function back() {
  await htmx.ajax("GET", stationUrl() + location.search, {
    source: work(),
    target: "#work",
    swap: "morph:outerHTML",
  });
  const night = $("#night-live")?.closest("[hx-get]");
  if (night) htmx.trigger(night, "anew");
}

/** Forget what waits to be previewed. */
export function forgetWaiting() {
  waiting = null;
}

/** Save what was let go of; nothing that moved goes back. */
export function drop(command) {
  work().classList.remove("previewing");
  if (command.changes?.length === 0) back();
  else send(command);
}
