// Keys: stations, undo, what is moved on the board, and Esc.

import { cancelAlong, setAlong, within } from "./along.js";
import { map } from "./board.js";
import { cancelDrag, target } from "./drag.js";
import { send } from "./edits.js";
import { $, clamp, exact, work } from "./page.js";
import { back, forgetWaiting } from "./preview.js";

const TURN_DEG = 15;
const others = [];
const escapes = [];
const settled = [];

/**
 * Have keys looked at that the board has no use for.
 * @param {(event: KeyboardEvent) => boolean} handle returns whether the key was its own
 */
export const onKey = (handle) => others.push(handle);

/**
 * Have something left by Esc.
 * @param {() => boolean} leave returns whether there was anything to leave
 * @param {{settled?: boolean}} how settled: nothing has to be drawn back after it
 */
export const onEscape = (leave, how = {}) => (how.settled ? settled : escapes).push(leave);

document.addEventListener("click", (event) => {
  if (event.target.closest("#keys-button")) toggleKeys();
});
function toggleKeys() {
  const keys = $("#keys");
  keys.hidden = !keys.hidden;
  $("#letter-keys").checked = lettersOn();
  $("#keys-button").setAttribute("aria-expanded", String(!keys.hidden));
}

const lettersOn = () => localStorage.getItem("letter-keys") !== "off";
document.addEventListener("change", ({ target }) => {
  if (target instanceof HTMLInputElement && target.id === "letter-keys")
    localStorage.setItem("letter-keys", target.checked ? "on" : "off");
});

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
document.addEventListener("keydown", (event) => {
  if (!work()) return;
  if (event.key === "Escape") escape();
  else if (event.target.matches?.("input:not([type=checkbox]), select, textarea")) return;
  else if (event.ctrlKey || event.metaKey) undoKeys(event);
  else if (event.key.length === 1 && !lettersOn()) return;
  else if (movingKeys(event)) event.preventDefault();
  else if (!event.altKey) pageKeys(event.key);
});
function movingKeys(event) {
  const grip = document.activeElement?.closest?.(".grip");
  return Boolean(grip && gripKeys(event, grip)) || others.some((handle) => handle(event));
}
function pageKeys(key) {
  const isOn = (way) => $(`[data-flip="${way}"]`)?.classList.contains("on");
  if (key === "?") toggleKeys();
  else if (key.toLowerCase() === "b") flip(isOn("above") ? "below" : "above");
  else if (key.toLowerCase() === "f") flip(isOn("left") ? "right" : "left");
  else $(`[data-key="${CSS.escape(key)}"]`)?.click();
}
function escape() {
  if (!$("#keys").hidden) toggleKeys();
  else if (settled.some((leave) => leave())) return;
  else if ([cancelDrag, cancelAlong, ...escapes].some((leave) => leave())) {
    forgetWaiting();
    back();
  } else if (work().classList.contains("previewing")) {
    const slide = document.activeElement?.closest?.("[data-slide]");
    if (slide) slide.value = slide.defaultValue;
    back();
  }
}
document.addEventListener("pointercancel", () => {
  if ([cancelDrag, cancelAlong, ...escapes].map((leave) => leave()).some(Boolean)) {
    forgetWaiting();
    back();
  }
});
const flip = (way) => $(`[data-flip="${way}"]`)?.click();
function undoKeys(event) {
  const key = event.key.toLowerCase();
  const again = key === "y" || (key === "z" && event.shiftKey);
  if (!again && key !== "z") return;
  event.preventDefault();
  (again ? $("#redo") : $("#undo"))?.click();
}
function gripKeys(event, grip) {
  const step = event.shiftKey ? 50 : event.altKey ? 1 : 5;
  if (event.key.toLowerCase() === "r") return turned(event, grip);
  if (grip.dataset.along) return stepAlong(event, grip, step);
  const thing = target(grip);
  const next = stepped(event.key, thing.at, grip.dataset.board, step);
  if (next === null) return false;
  const command = thing.command(next);
  if (command.changes?.length !== 0) send(command);
  return true;
}
function turned(event, grip) {
  if (grip.dataset.turn) {
    const angle = exact(grip.dataset.turn) + (event.shiftKey ? -TURN_DEG : TURN_DEG);
    send({ op: "set", changes: [{ address: grip.dataset.turn, value: clamp(angle, -90, 90) }] });
    return true;
  }
  if (grip.dataset.drag !== "heater") return false;
  const yaw = (exact("spot.yaw_deg") + 90) % 360;
  send({ op: "place", x_mm: exact("spot.x_mm"), y_mm: exact("spot.y_mm"), yaw_deg: yaw });
  return true;
}
function stepAlong(event, grip, step) {
  const up = grip.dataset.up ? 1 : -1;
  const way = { ArrowLeft: -1, ArrowUp: up, ArrowRight: 1, ArrowDown: -up }[event.key];
  if (way) send(setAlong(grip.dataset.along, within(grip, exact(grip.dataset.along) + way * step)));
  return Boolean(way);
}
/** Where a key moves something to; null for a key that moves nothing. */
function stepped(key, at, board, step) {
  const next = { ...at };
  if (key === "PageUp") next.z += step;
  else if (key === "PageDown") next.z -= step;
  else if (ARROWS[key]) {
    const [dx, dv] = ARROWS[key];
    next.x += dx * step;
    if (board === "plan") next.y += dv * step * map().planSign;
    else next.z -= dv * step;
  } else return null;
  return next;
}
