// Measuring on the tape below the plan; previews of what a button would do.

import { drawing, map, paperPoint } from "./board.js";
import { $, addToDrawing, work } from "./page.js";
import { preview } from "./preview.js";

let tapeStart = null;
document.addEventListener("click", (event) => {
  const close = event.target.closest("[data-close]");
  if (close) document.getElementById(close.dataset.close).replaceChildren();
  else if (event.target.closest("[data-preview]"))
    showPreview(event.target.closest("[data-preview]"));
  else if (event.target.closest("#tape") && work().dataset.drawing !== "yes") measure(event);
});
function showPreview(button) {
  preview(JSON.parse(button.dataset.preview));
  $("#board-hint")?.replaceChildren("previewed, not saved; Esc goes back");
}
function measure(event) {
  const u = paperPoint(event).u;
  const m = map();
  const svg = drawing();
  svg.querySelectorAll(".measure, .measure-text").forEach((node) => node.remove());
  if (tapeStart === null) tapeStart = u;
  const length = Math.abs(u - tapeStart) / m.scale;
  const inches = $("#units").textContent.trim().startsWith("in");
  const words = inches ? `${(length / 25.4).toFixed(2)}"` : `${length.toFixed(0)} mm`;
  for (const at of [tapeStart, u])
    addToDrawing("path", { class: "measure", d: `M${at} 0V${svg.viewBox.baseVal.height}` });
  if (tapeStart !== u) {
    addToDrawing("path", { class: "measure", d: `M${tapeStart} ${m.tapeTop + 4}H${u}` });
    addToDrawing(
      "text",
      { class: "measure-text", x: (tapeStart + u) / 2, y: m.tapeTop - 5, "text-anchor": "middle" },
      words,
    );
    tapeStart = null;
  }
}
