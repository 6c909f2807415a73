// Dragging the heater, a tank, a part or a corner over the board.

import { drawing, map, onPaper, paperPoint, SNAP_MM, snapped } from "./board.js";
import { exact } from "./page.js";
import { drop, forgetWaiting, preview } from "./preview.js";

const SQUARE_MM = 15; // a corner that comes this near to being square to its neighbour is

// What is being moved: where it stood, and how to say where it goes.
export function target(grip, event) {
  if (grip.dataset.insert) return inserted(grip, event);
  const name = grip.dataset.drag;
  if (name === "heater") {
    const at = { x: exact("spot.x_mm"), y: exact("spot.y_mm"), z: 0 };
    return { at, command: (p) => ({ op: "place", x_mm: p.x, y_mm: p.y }) };
  }
  const place = grip.dataset.place;
  const at = { x: exact(`${place}.x_mm`), y: exact(`${place}.y_mm`), z: exact(`${place}.z_mm`) };
  return {
    at,
    command: (p) => ({
      op: "set",
      changes: ["x", "y", "z"]
        .filter((axis) => p[axis] !== at[axis])
        .map((axis) => ({ address: `${place}.${axis}_mm`, value: p[axis] })),
    }),
  };
}
// A new corner pulled out of a straight, from where the pointer took hold of it.
function inserted(grip, event) {
  const { collection, id, radius_mm, after, start, end } = JSON.parse(grip.dataset.insert);
  const on = paperPoint(event);
  const [a, b] = [start, end].map((point) => onPaper(point, grip.dataset.board));
  const length2 = (b.u - a.u) ** 2 + (b.v - a.v) ** 2;
  const share = Math.min(
    Math.max(((on.u - a.u) * (b.u - a.u) + (on.v - a.v) * (b.v - a.v)) / length2, 0.05),
    0.95,
  );
  const [x, y, z] = start.map((value, axis) => Math.round(value + share * (end[axis] - value)));
  const item = (p) => ({ id, x_mm: p.x, y_mm: p.y, z_mm: p.z, radius_mm });
  return {
    at: { x, y, z },
    command: (p) => ({ op: "add", collection, item: item(p), first: after === null, after }),
  };
}
// Where a corner is pulled near a place square to a neighbour it goes there; not in height, where level is no fall.
const square = (value, near, axis, snap) =>
  near.map((point) => point[axis]).find((mm) => Math.abs(mm - value) <= SQUARE_MM) ??
  snapped(value, snap);
function moved(at, board, du, dv, snap, near = []) {
  const m = map();
  const next = { ...at, x: square(at.x + du / m.scale, near, 0, snap) };
  if (board === "plan") next.y = square(at.y + (dv / m.scale) * m.planSign, near, 1, snap);
  else if (Number.isFinite(at.z)) next.z = snapped(at.z - dv / m.scale, snap);
  return next;
}
let drag = null;
document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest?.(".grip");
  if (!grip || grip.dataset.along || event.button !== 0) return;
  const thing = target(grip, event);
  const near = JSON.parse(grip.dataset.near ?? "[]");
  drag = {
    thing,
    near,
    board: grip.dataset.board,
    from: paperPoint(event),
    to: thing.at,
    begun: false,
  };
  drawing().setPointerCapture(event.pointerId);
  grip.focus({ preventScroll: true });
  event.preventDefault();
});
document.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const now = paperPoint(event);
  if (!drag.begun && Math.hypot(now.u - drag.from.u, now.v - drag.from.v) < 3) return;
  drag.begun = true;
  const to = moved(
    drag.thing.at,
    drag.board,
    now.u - drag.from.u,
    now.v - drag.from.v,
    event.altKey ? 1 : SNAP_MM,
    event.altKey ? [] : drag.near,
  );
  if (to.x === drag.to.x && to.y === drag.to.y && to.z === drag.to.z) return;
  drag.to = to;
  preview(drag.thing.command(to));
});
document.addEventListener("pointerup", () => {
  if (!drag) return;
  const { thing, to, begun } = drag;
  drag = null;
  forgetWaiting();
  if (begun) drop(thing.command(to));
});

/** Whether something is being dragged. */
export const isDragging = () => drag !== null;

/** Let go without saving; returns whether anything was held. */
export function cancelDrag() {
  const held = drag !== null;
  drag = null;
  return held;
}
