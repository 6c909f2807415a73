// A new part, or a looked-at area, drawn as a rectangle on the plan; a part chosen by a click.

import { drawing, map, paperPoint, SNAP_MM, snapped } from "./board.js";
import { post } from "./edits.js";
import { onEscape } from "./keys.js";
import { $, work } from "./page.js";

let sketch = null;
let drawn = ""; // what is drawn: "part" or "area"
export const isOn = () => work()?.dataset.drawing === "yes";
function toggleDrawing(what) {
  work().dataset.drawing = isOn() ? "no" : "yes";
  drawn = what;
  for (const button of document.querySelectorAll("[data-draw]"))
    button.setAttribute("aria-pressed", String(isOn() && button.dataset.draw === what));
  $("#board-hint").textContent = isOn()
    ? "drag a rectangle on the plan; Esc leaves"
    : "click a part to choose it";
}
document.addEventListener(
  "pointerdown",
  (event) => {
    if (!isOn() || event.button !== 0 || !event.target.closest("#board-drawing")) return;
    const from = paperPoint(event);
    if (from.v > map().tapeTop) return;
    const node = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    node.setAttribute("class", "sketch");
    drawing().append(node);
    sketch = { from, to: from, node };
    event.preventDefault();
  },
  true,
);
document.addEventListener("pointermove", (event) => {
  if (!sketch) return;
  sketch.to = paperPoint(event);
  const { from, to, node } = sketch;
  const box = {
    x: Math.min(from.u, to.u),
    y: Math.min(from.v, to.v),
    width: Math.abs(to.u - from.u),
    height: Math.abs(to.v - from.v),
  };
  for (const [key, value] of Object.entries(box)) node.setAttribute(key, value);
});
document.addEventListener("pointerup", () => {
  if (!sketch) return;
  const { from, to, node } = sketch;
  sketch = null;
  node.remove();
  const m = map();
  const xs = [from.u, to.u].map((u) => snapped((u - m.xOffset) / m.scale, SNAP_MM));
  const ys = [from.v, to.v].map((v) => snapped((v - m.planOffset) / m.scale / m.planSign, SNAP_MM));
  const at = [Math.min(...xs), Math.min(...ys), Math.abs(xs[1] - xs[0]), Math.abs(ys[1] - ys[0])];
  if (at[2] < SNAP_MM || at[3] < SNAP_MM) return;
  work().dataset.drawing = "no";
  const rectangle = at.join(" ");
  if (drawn === "part")
    post("/add", { kind: $("#add-kind").value, shape: "box", drawn: rectangle });
  else
    post("/looked", {
      where: $("#looked-where").value,
      how: $("#looked-how").value,
      on: $("#looked-on").value,
      drawn: rectangle,
    });
});

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-draw]");
  if (button) toggleDrawing(button.dataset.draw);
  const solid = event.target.closest("#survey .solid");
  if (solid && !isOn()) $(`[data-choose="${solid.dataset.item}"]`)?.click();
});
onEscape(
  () => {
    if (!isOn()) return false;
    sketch?.node.remove();
    sketch = null;
    toggleDrawing(drawn);
    return true;
  },
  { settled: true },
);
