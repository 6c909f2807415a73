// A new part, or a looked-at area, drawn on the plan: as a rectangle, or point by point along a line or an outline.
// A part chosen by a click.

import { drawing, map, paperPoint, SNAP_MM, snapped } from "./board.js";
import { post } from "./edits.js";
import { onEscape } from "./keys.js";
import { $, work } from "./page.js";

const MOST_POINTS = 60;
const HINTS = {
  rectangle: "drag a rectangle on the plan; Esc leaves",
  points: "click point after point on the plan; Enter or a double click ends, Esc leaves",
};
let sketch = null;
let drawn = ""; // what is drawn: "part", "area", or an area "wanted" or "unwanted" for a layout
let clicked = []; // places of a line or outline, on the paper
export const isOn = () => work()?.dataset.drawing === "yes";

/** Whether the part is drawn point by point. */
const byPoints = () => {
  const option = $("#add-kind")?.selectedOptions[0];
  const shape = $("#add-shape")?.value || option?.dataset.shape;
  return drawn === "part" && (shape === "tube" || shape === "outline");
};
const shapeNow = () => ($("#add-shape").value === "outline" ? "outline" : "tube");
function toggleDrawing(what) {
  work().dataset.drawing = isOn() ? "no" : "yes";
  drawn = what;
  clicked = [];
  for (const button of document.querySelectorAll("[data-draw]"))
    button.setAttribute("aria-pressed", String(isOn() && button.dataset.draw === what));
  const hint = byPoints() ? HINTS.points : HINTS.rectangle;
  $("#board-hint").textContent = isOn() ? hint : "click a part to choose it";
}
function newNode(tag) {
  const node = document.createElementNS("http://www.w3.org/2000/svg", tag);
  node.setAttribute("class", "sketch");
  drawing().append(node);
  return node;
}
const placeOf = ({ u, v }) => {
  const m = map();
  return [
    snapped((u - m.xOffset) / m.scale, SNAP_MM),
    snapped((v - m.planOffset) / m.scale / m.planSign, SNAP_MM),
  ];
};
document.addEventListener(
  "pointerdown",
  (event) => {
    if (!isOn() || event.button !== 0 || !event.target.closest("#board-drawing")) return;
    const from = paperPoint(event);
    if (from.v > map().tapeTop) return;
    event.preventDefault();
    if (byPoints()) {
      addPoint(from);
      return;
    }
    sketch = { from, to: from, node: newNode("rect") };
  },
  true,
);
function addPoint(at) {
  const last = clicked.at(-1);
  if (clicked.length >= MOST_POINTS) return;
  if (last && Math.hypot(at.u - last.u, at.v - last.v) < 4) return; // the second of a double click
  clicked.push(at);
  sketch ??= { node: newNode("polyline") };
  showPoints(at);
}
function showPoints(to) {
  const points = [...clicked, to].map(({ u, v }) => `${u},${v}`).join(" ");
  sketch.node.setAttribute("points", points);
}
function endPoints() {
  const places = clicked.map(placeOf);
  const needed = shapeNow() === "outline" ? 3 : 2;
  if (places.length < needed) return;
  leave();
  post("/add", {
    kind: $("#add-kind").value,
    shape: shapeNow(),
    traced: places.map((place) => place.join(" ")).join(";"),
  });
}
document.addEventListener("pointermove", (event) => {
  if (!sketch) return;
  if (byPoints()) {
    showPoints(paperPoint(event));
    return;
  }
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
  if (!sketch || byPoints()) return;
  const { from, to, node } = sketch;
  sketch = null;
  node.remove();
  const [x, y] = placeOf(from);
  const [x1, y1] = placeOf(to);
  const at = [Math.min(x, x1), Math.min(y, y1), Math.abs(x1 - x), Math.abs(y1 - y)];
  if (at[2] < SNAP_MM || at[3] < SNAP_MM) return;
  work().dataset.drawing = "no";
  const rectangle = at.join(" ");
  if (drawn === "part")
    post("/add", { kind: $("#add-kind").value, shape: "box", drawn: rectangle });
  else if (drawn === "wanted" || drawn === "unwanted")
    post("/paint", { wanted: drawn === "wanted" ? "yes" : "", drawn: rectangle });
  else
    post("/looked", {
      where: $("#looked-where").value,
      how: $("#looked-how").value,
      on: $("#looked-on").value,
      drawn: rectangle,
    });
});
document.addEventListener("dblclick", (event) => {
  if (!isOn() || !byPoints() || !(event.target instanceof Element)) return;
  if (event.target.closest("#board-drawing")) endPoints();
});
document.addEventListener(
  "keydown",
  (event) => {
    if (event.key !== "Enter" || !isOn() || !byPoints() || clicked.length < 2) return;
    event.preventDefault();
    event.stopPropagation();
    endPoints();
  },
  true,
);
function leave() {
  sketch?.node.remove();
  sketch = null;
  toggleDrawing(drawn);
}
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-draw]");
  if (button) {
    if (isOn()) leave();
    else toggleDrawing(button.dataset.draw);
  }
  const solid = event.target.closest("#survey .solid");
  if (solid && !isOn()) $(`[data-choose="${solid.dataset.item}"]`)?.click();
});
onEscape(
  () => {
    if (!isOn()) return false;
    leave();
    return true;
  },
  { settled: true },
);
