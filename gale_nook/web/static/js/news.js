// What changed is told to those who do not see it: verdicts that an edit or a preview has changed.

import { $, work } from "./page.js";

const WORDS = {
  over: "over",
  unknown: "to measure",
  tight: "tight",
  accepted: "accepted",
  clear: "clear",
};
const MOST = 3;
let before = new Map();
let place = "";

const verdictOf = (card) => Object.keys(WORDS).find((name) => card.matches(`.verdict-${name}`));
const titleOf = (card) => card.querySelector("h3")?.textContent.trim() ?? "";
function verdicts() {
  const cards = [...document.querySelectorAll("#findings .finding")];
  return new Map(cards.map((card) => [card.id, [titleOf(card), verdictOf(card)]]));
}

/** Tell which verdicts have changed since the last time. */
export function tellChanges() {
  if (!work()) return;
  const here = `${work().dataset.job}/${work().dataset.station}`;
  const now = verdicts();
  if (place === here) tell(now);
  before = now;
  place = here;
}
function tell(now) {
  const changes = [...now]
    .filter(([id, [, verdict]]) => before.has(id) && before.get(id)[1] !== verdict)
    .map(([, [title, verdict]]) => `${title}: now ${WORDS[verdict]}.`);
  const news = [...now]
    .filter(([id, [, verdict]]) => !before.has(id) && verdict !== "clear")
    .map(([, [title, verdict]]) => `${title}: ${WORDS[verdict]}.`);
  const told = [...changes, ...news];
  if (told.length === 0) return;
  const over = [...now.values()].filter(([, verdict]) => verdict === "over").length;
  const more = told.length > MOST ? ` And ${told.length - MOST} more.` : "";
  $("#news").textContent = `${over} over here. ${told.slice(0, MOST).join(" ")}${more}`;
}
document.addEventListener("htmx:afterSettle", tellChanges);
document.addEventListener("DOMContentLoaded", tellChanges);
