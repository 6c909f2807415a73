// Findings: a number on the drawing and its line in the list belong together; N and P step through.

import { drawing, map } from "./board.js";
import { onKey } from "./keys.js";
import { showFrame } from "./looking.js";
import { $, stationUrl, work } from "./page.js";

let chosen = ""; // its number on the drawing

function showMark(number) {
  drawing()
    ?.querySelectorAll(".mark")
    .forEach((mark) => mark.classList.toggle("shown", mark.dataset.number === number));
}
const numberOf = (target) =>
  target.closest?.(".mark")?.dataset.number ??
  target.closest?.(".finding")?.querySelector("[data-number]")?.dataset.number;

document.addEventListener("pointerover", (event) => {
  if (!work()) return;
  showMark(numberOf(event.target) ?? chosen);
});
document.addEventListener("focusin", (event) => {
  const number = numberOf(event.target);
  if (number) showMark(number);
});

/** Open a finding's lines, and all that they are folded into. */
function open(card, focus = true) {
  const about = card.querySelector(".finding-about");
  for (let at = about; at && at.id !== "panel"; at = at.parentElement)
    if (at.tagName === "DETAILS") at.open = true;
  chosen = about.dataset.number ?? "";
  work().dataset.finding = card.id;
  showMark(chosen);
  card.scrollIntoView({ block: "nearest" });
  if (focus) about.querySelector("summary").focus({ preventScroll: true });
}
const cardOf = (number) => $(`.finding-about[data-number="${CSS.escape(number)}"]`)?.parentElement;

document.addEventListener("click", (event) => {
  const mark = event.target.closest?.(".mark");
  const card = mark ? cardOf(mark.dataset.number) : null;
  if (card) open(card);
  const about = event.target.closest?.(".finding-about > summary")?.parentElement;
  if (about && !about.open) frameOf(about.parentElement);
});
function frameOf(card) {
  const about = card.querySelector(".finding-about");
  chosen = about.dataset.number ?? "";
  work().dataset.finding = card.id;
  if (about.dataset.frameOf && !isInSight(chosen)) showFrame(about.dataset.frameOf, false);
  else showMark(chosen);
}
// Whether a mark stands on the drawing already, and not so small that it says nothing.
function isInSight(number) {
  const lines = drawing()?.querySelectorAll(`.mark[data-number="${number}"] .dimension`) ?? [];
  return [...lines].some((line) => {
    const box = line.getBBox();
    const top = map().tapeTop;
    const inside = box.x > 0 && box.x + box.width < drawing().viewBox.baseVal.width;
    return inside && box.y > 0 && (box.y + box.height < top || box.y > top);
  });
}
document.addEventListener("htmx:afterSettle", () => {
  if (work()) showMark(chosen);
});

// N and P: the next finding that is not clear, and the one before, at whichever station it is.
function stepFinding(way) {
  const cards = [...document.querySelectorAll(".finding:not(.verdict-clear, .verdict-accepted)")];
  const at = cards.findIndex((card) => card.id === work().dataset.finding);
  const next = cards[at + (way === "next" ? 1 : -1)];
  if (at >= 0 ? next : way === "next" && cards.length > 0) {
    const card = at >= 0 ? next : cards[0];
    open(card);
    frameOf(card);
    return;
  }
  const finding = at >= 0 ? work().dataset.finding : "";
  location.assign(`${stationUrl()}/step?${new URLSearchParams({ way, finding })}`);
}
onKey((event) => {
  const way = { n: "next", p: "previous" }[event.key.toLowerCase()];
  if (!way || event.altKey) return false;
  stepFinding(way);
  return true;
});

// A finding that the address names is open; what was named by its anchor alone, too.
function openNamed() {
  const name = work()?.dataset.finding || location.hash.slice(1);
  const card = name ? document.getElementById(name) : null;
  if (card?.classList.contains("finding")) open(card);
}
window.addEventListener("hashchange", openNamed);
document.addEventListener("DOMContentLoaded", openNamed);
if (document.readyState !== "loading") openNamed();

// The header's counts lead on from where one is.
document.addEventListener("click", (event) => {
  const chip = event.target.closest?.("[data-step]");
  if (!chip) return;
  event.preventDefault();
  const finding = work().dataset.finding;
  location.assign(
    `${stationUrl()}/step?${new URLSearchParams({ verdict: chip.dataset.step, finding })}`,
  );
});
