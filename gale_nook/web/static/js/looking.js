// What of the vehicle the drawing shows: wheel, pinch, drag and keys; kept by job and station.

import { drawing, map, paperPoint } from "./board.js";
import { onKey } from "./keys.js";
import { $, clamp, stationUrl, work } from "./page.js";

const QUIET_MS = 90; // after the last step the drawing is made anew, with its names in place
const PAPER = 812;
const NEAREST_MM = 60;
const FARTHEST_MM = 60000;
const FAR_MM = 40000;
const KEY_STEP = 0.1; // of the paper's width
const NEARER = 1.25;

// As it was drawn, and as it is looked at now; the difference is shown by moving what was drawn.
let seen = null;
let timer = 0;
let asking = false;

function begin() {
  const m = map();
  const p = m.tapeTop;
  const sideMiddle = m.sideTop + (drawing().viewBox.baseVal.height - m.sideTop) / 2;
  seen ??= {
    map: m,
    planMiddle: p / 2,
    sideMiddle,
    x: (PAPER / 2 - m.xOffset) / m.scale,
    y: (p / 2 - m.planOffset) / m.scale / m.planSign,
    z: (m.sideOffset - sideMiddle) / m.scale,
    scale: m.scale,
    plan: p,
  };
  return seen;
}
const text = (frame) =>
  [frame.x, frame.y, frame.z, PAPER / frame.scale, frame.plan]
    .map((value) => String(Number(value.toFixed(2))))
    .join("_");
const bounded = (value) => clamp(value, -FAR_MM, FAR_MM);

/** Move the drawing by paper units; a plan's drag moves across, an elevation's up and down. */
function pan(du, dv, onPlan) {
  const frame = begin();
  frame.x = bounded(frame.x - du / frame.scale);
  if (onPlan) frame.y = bounded(frame.y - (dv / frame.scale) * frame.map.planSign);
  else frame.z = bounded(frame.z + dv / frame.scale);
  show();
}
/** Bring the drawing nearer, holding what lies at a point of the paper. */
function nearer(by, at) {
  const frame = begin();
  const scale = clamp(frame.scale * by, PAPER / FARTHEST_MM, PAPER / NEAREST_MM);
  const change = 1 / frame.scale - 1 / scale;
  if (at) {
    frame.x = bounded(frame.x + (at.u - PAPER / 2) * change);
    if (at.v < frame.map.tapeTop)
      frame.y = bounded(frame.y + (at.v - frame.planMiddle) * change * frame.map.planSign);
    else frame.z = bounded(frame.z - (at.v - frame.sideMiddle) * change);
  }
  frame.scale = scale;
  show();
}
function show() {
  const { map: m, x, y, z, scale, planMiddle, sideMiddle } = seen;
  const k = scale / m.scale;
  const across = PAPER / 2 - scale * x - k * m.xOffset;
  const plan = planMiddle - m.planSign * scale * y - k * m.planOffset;
  const side = sideMiddle + scale * z - k * m.sideOffset;
  const moved = (selector, dv, vertical = k) =>
    document
      .querySelectorAll(`#board-drawing ${selector}`)
      .forEach((sheet) =>
        sheet.setAttribute("transform", `matrix(${k} 0 0 ${vertical} ${across} ${dv})`),
      );
  moved(".plan-sheet", plan);
  moved(".side-sheet", side);
  moved(".tape-sheet", 0, 1);
  clearTimeout(timer);
  timer = setTimeout(draw, QUIET_MS);
}
function draw() {
  if (!seen || asking) return;
  showFrame(text(seen));
}

/**
 * Show a frame, and keep it for this job and station.
 * @param {string} frame as the server writes it; "whole" for the vehicle, "close" for the station
 */
export async function showFrame(frame, keep = true) {
  if (!drawing() || !work()) return;
  const url = stationUrl();
  if (keep) document.cookie = `frame=${frame}; path=${url}; max-age=31536000; samesite=lax`;
  const asked = seen && { ...seen };
  asking = true;
  const query = new URLSearchParams(location.search);
  query.set("frame", frame);
  try {
    const answer = await fetch(`${url}/board?${query}`);
    if (answer.ok && work() && stationUrl() === url) swapBoard(await answer.text());
  } finally {
    asking = false;
  }
  const again = asked && seen && text(asked) !== text(seen);
  if (!again) seen = null;
  else {
    const later = seen;
    seen = null;
    Object.assign(begin(), { x: later.x, y: later.y, z: later.z, scale: later.scale });
    show();
  }
}

function swapBoard(html) {
  const focused = document.activeElement?.closest?.("#board-area") && document.activeElement.id;
  const template = document.createElement("template");
  template.innerHTML = html;
  const area = template.content.querySelector("#board-area");
  $("#board-area").replaceWith(area);
  $("#state [name=frame]").value = area.dataset.shown;
  htmx.process(area);
  if (focused) document.getElementById(focused)?.focus({ preventScroll: true });
  htmx.trigger(area, "htmx:afterSettle", {});
}

document.addEventListener(
  "wheel",
  (event) => {
    if (!event.target.closest?.("#board-drawing")) return;
    event.preventDefault();
    const pixels = event.deltaMode === 1 ? event.deltaY * 20 : event.deltaY;
    nearer(Math.exp(-clamp(pixels, -240, 240) / 400), paperPoint(event));
  },
  { passive: false },
);

// One finger or button drags what is not held by a grip; two fingers pinch.
const fingers = new Map();
let dragged = false;
let pressedAt = null;
const isFree = (event) =>
  event.target.closest?.("#board-drawing") &&
  !event.target.closest(".grip, .badge, #tape") &&
  work()?.dataset.drawing !== "yes" &&
  !work()?.classList.contains("pointing");
document.addEventListener("pointerdown", (event) => {
  if (!isFree(event) || event.button > 0) return;
  fingers.set(event.pointerId, paperPoint(event));
  pressedAt = paperPoint(event);
  dragged = false;
});
document.addEventListener("pointermove", (event) => {
  const before = fingers.get(event.pointerId);
  if (!before) return;
  const now = paperPoint(event);
  const [other] = [...fingers].filter(([id]) => id !== event.pointerId).map(([, at]) => at);
  if (!dragged && !other && Math.hypot(now.u - pressedAt.u, now.v - pressedAt.v) < 4) return;
  dragged = true;
  work().classList.add("panning");
  if (other) {
    const apart = (at) => Math.max(Math.hypot(at.u - other.u, at.v - other.v), 10);
    const middle = { u: (now.u + other.u) / 2, v: (now.v + other.v) / 2 };
    nearer(apart(now) / apart(before), middle);
    pan((now.u - before.u) / 2, (now.v - before.v) / 2, middle.v < map().tapeTop);
  } else pan(now.u - before.u, now.v - before.v, pressedAt.v < map().tapeTop);
  fingers.set(event.pointerId, now);
});
const letGo = (event) => {
  if (fingers.delete(event.pointerId)) work()?.classList.remove("panning");
};
document.addEventListener("pointerup", letGo);
document.addEventListener("pointercancel", letGo);
// What was dragged was not clicked.
document.addEventListener(
  "click",
  (event) => {
    if (!dragged || !event.target.closest?.("#board-drawing")) return;
    dragged = false;
    event.stopPropagation();
    event.preventDefault();
  },
  true,
);
document.addEventListener("click", (event) => {
  const to = event.target.closest?.("[data-frame]");
  const by = event.target.closest?.("[data-nearer]");
  if (to) {
    event.preventDefault();
    seen = null;
    showFrame(to.dataset.frame);
  } else if (by) nearer(Number(by.dataset.nearer));
});

const PAN_KEYS = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
onKey((event) => {
  if (!drawing() || event.altKey) return false;
  if (event.key === "+" || event.key === "=") nearer(NEARER);
  else if (event.key === "−" || event.key === "_") nearer(1 / NEARER);
  else if (event.key.toLowerCase() === "w") $('[data-frame="whole"]')?.click();
  else if (event.key.toLowerCase() === "c") $('[data-frame="close"]')?.click();
  else if (document.activeElement?.id === "board") return boardKeys(event);
  else return false;
  return true;
});
function boardKeys(event) {
  const way = PAN_KEYS[event.key];
  if (event.key === "-") nearer(1 / NEARER);
  else if (way) pan(way[0] * PAPER * KEY_STEP, way[1] * PAPER * KEY_STEP, !event.shiftKey);
  else return false;
  return true;
}
