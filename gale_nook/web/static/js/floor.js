// The floor's map: the reason under the pointer, the best spots lettered.

import { drawing, map, paperPoint } from "./board.js";
import { isDragging } from "./drag.js";
import { $, addToDrawing, state, stationUrl } from "./page.js";

let asking = false;
let asked = "";
document.addEventListener("pointermove", async (event) => {
  if (isDragging() || asking || !event.target.closest?.("#board") || !$(".floor-map")) return;
  const { u, v } = paperPoint(event);
  const m = map();
  if (v > m.tapeTop) return;
  const x = ((u - m.xOffset) / m.scale).toFixed(0);
  const y = ((v - m.planOffset) / m.scale / m.planSign).toFixed(0);
  const query = `x=${x}&y=${y}&best=${state().floor === "best"}`;
  if (query === asked) return;
  asked = query;
  asking = true;
  try {
    const answer = await fetch(`${stationUrl()}/why?${query}`);
    if (answer.ok) $("#board-hint").textContent = (await answer.json()).words;
  } finally {
    asking = false;
  }
});
function letters() {
  const svg = drawing();
  if (!svg) return;
  svg.querySelectorAll(".letter").forEach((node) => node.remove());
  const m = map();
  document.querySelectorAll("#best-spots tr[data-letter]").forEach((row) => {
    const at = {
      x: m.xOffset + m.scale * Number(row.dataset.x),
      y: m.planOffset + m.planSign * m.scale * Number(row.dataset.y),
    };
    if (at.y > m.tapeTop || at.y < 0) return;
    addToDrawing("circle", { class: "letter spot-letter", cx: at.x, cy: at.y, r: 10 });
    addToDrawing(
      "text",
      { class: "letter spot-letter-text", x: at.x, y: at.y + 5, "text-anchor": "middle" },
      row.dataset.letter,
    );
  });
}
document.addEventListener("htmx:afterSettle", letters);
