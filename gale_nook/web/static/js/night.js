// The start of the night, dragged on its chart; the end of the night stays.

import { send } from "./edits.js";
import { onEscape, onKey } from "./keys.js";
import { $ } from "./page.js";
import { drop, forgetWaiting, preview } from "./preview.js";

const QUARTER_H = 0.25;
let pull = null;
let refocus = null;
function startMoved(from, hours, by) {
  const moved = Math.min(Math.max(Math.round(by / QUARTER_H) * QUARTER_H, hours - 24), hours - 1);
  const at = (address, value) => ({ address: `heat.night.${address}`, value });
  return {
    op: "set",
    changes: [at("start_h", (from + moved + 24) % 24), at("hours_h", hours - moved)],
  };
}
document.addEventListener("pointerdown", (event) => {
  const grip = event.target.closest?.("#start-grip");
  if (!grip || event.button !== 0) return;
  const svg = $("#night-drawing");
  const pxPerHour = Number(svg.dataset.pxPerHour) * svg.getScreenCTM().a;
  pull = {
    from: Number(grip.dataset.start),
    hours: Number(grip.dataset.hours),
    x: event.clientX,
    pxPerHour,
    command: null,
  };
  document.body.setPointerCapture(event.pointerId);
  event.preventDefault();
});
document.addEventListener("pointermove", (event) => {
  if (!pull) return;
  const command = startMoved(pull.from, pull.hours, (event.clientX - pull.x) / pull.pxPerHour);
  if (JSON.stringify(command) === JSON.stringify(pull.command)) return;
  pull.command = command;
  preview(command);
});
document.addEventListener("pointerup", () => {
  if (!pull) return;
  const { command } = pull;
  pull = null;
  forgetWaiting();
  if (command) {
    refocus = "start-grip";
    drop(command);
  }
});
function startKeys(event, grip) {
  const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
  if (!way) return false;
  refocus = "start-grip";
  send(
    startMoved(
      Number(grip.dataset.start),
      Number(grip.dataset.hours),
      way * (event.shiftKey ? 1 : QUARTER_H),
    ),
  );
  return true;
}
document.addEventListener("htmx:afterSettle", () => {
  const found = refocus && document.getElementById(refocus);
  if (found && found !== document.activeElement) {
    found.focus({ preventScroll: true });
    refocus = null;
  }
});

onKey((event) => {
  const grip = document.activeElement?.closest?.("#start-grip");
  return Boolean(grip) && startKeys(event, grip);
});
onEscape(() => {
  const held = pull !== null;
  pull = null;
  return held;
});
