// Places pointed at on the plan, one click each, until Esc or the button again.

import { drawing, map, paperPoint, SNAP_MM, snapped } from "./board.js";
import { post } from "./edits.js";
import { onEscape } from "./keys.js";
import { $, work } from "./page.js";

let on = false;
let hint = "";

function turn(to) {
  on = to;
  if (on) {
    hint = $("#board-hint").textContent;
    drawing()?.scrollIntoView({ block: "nearest" });
  }
  show();
  if (!on) $("#board-hint").textContent = hint;
}
function show() {
  if (!work()) return;
  work().classList.toggle("pointing", on);
  $("[data-pointing]")?.setAttribute("aria-pressed", String(on));
  if (on) $("#board-hint").textContent = "click where the air should come out; Esc leaves";
}
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-pointing]")) turn(!on);
});
document.addEventListener(
  "pointerdown",
  (event) => {
    if (!on || event.button !== 0 || !event.target.closest("#board-drawing")) return;
    const { u, v } = paperPoint(event);
    const m = map();
    if (!drawing() || v > m.tapeTop) return;
    event.preventDefault();
    event.stopPropagation();
    const x = snapped((u - m.xOffset) / m.scale, SNAP_MM);
    const y = snapped((v - m.planOffset) / m.scale / m.planSign, SNAP_MM);
    post("/point", { at: `${x} ${y}` });
  },
  true,
);
document.addEventListener("htmx:afterSettle", () => {
  if (on) show();
});
onEscape(
  () => {
    if (!on) return false;
    turn(false);
    return true;
  },
  { settled: true },
);
