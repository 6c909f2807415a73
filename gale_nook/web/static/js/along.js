// What sits on a pipe or line, dragged along it.

import { drawing, paperPoint, SNAP_MM, snapped } from "./board.js";
import { drop, forgetWaiting, preview } from "./preview.js";

let along = null;
export const within = (grip, value) =>
  Math.min(Math.max(value, Number(grip.dataset.low ?? 0)), Number(grip.dataset.high ?? Infinity));
export const setAlong = (address, mm) => ({ op: "set", changes: [{ address, value: mm }] });
function takeAlong(event, grip) {
  along = {
    address: grip.dataset.along,
    within: (mm) => within(grip, mm),
    line: JSON.parse(document.getElementById(grip.dataset.on).dataset.line),
    to: null,
  };
  drawing().setPointerCapture(event.pointerId);
  grip.focus({ preventScroll: true });
  event.preventDefault();
}
// The distance from the port of the point of the line that is nearest to the pointer.
function nearestAlong(line, { u, v }) {
  let best = Infinity;
  let found = 0;
  for (let i = 0; i + 1 < line.length; i += 1) {
    const [u0, v0, s0] = line[i];
    const [u1, v1, s1] = line[i + 1];
    const length2 = (u1 - u0) ** 2 + (v1 - v0) ** 2;
    const share =
      length2 > 0
        ? Math.min(Math.max(((u - u0) * (u1 - u0) + (v - v0) * (v1 - v0)) / length2, 0), 1)
        : 0;
    const away = Math.hypot(u0 + share * (u1 - u0) - u, v0 + share * (v1 - v0) - v);
    if (away < best) {
      best = away;
      found = s0 + share * (s1 - s0);
    }
  }
  return found;
}
document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest?.(".grip");
  if (grip?.dataset.along && event.button === 0) takeAlong(event, grip);
});
document.addEventListener("pointermove", (event) => {
  if (!along) return;
  const to = along.within(
    snapped(nearestAlong(along.line, paperPoint(event)), event.altKey ? 1 : SNAP_MM),
  );
  if (to === along.to) return;
  along.to = to;
  preview(setAlong(along.address, to));
});
document.addEventListener("pointerup", () => {
  if (!along) return;
  const { address, to } = along;
  along = null;
  forgetWaiting();
  if (to !== null) drop(setAlong(address, to));
});

/** Let go without saving; returns whether anything was held. */
export function cancelAlong() {
  const held = along !== null;
  along = null;
  return held;
}
