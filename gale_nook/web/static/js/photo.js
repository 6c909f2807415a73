// Points shown in a photo: by a click, by dragging, or pixel by pixel with the arrow keys.

import { $, clamp } from "./page.js";

const STEPS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const LOUPE_PX = 140;
const LARGER = 2;

const box = () => $("#photo-marking");
const size = () => [Number(box().dataset.width), Number(box().dataset.height)];
const chosen = () => Number($("[data-choose-point]:checked")?.value ?? 1);
const field = (name, number) => $(`#${name}-${number}`);
let dragging = false;

// Points that were kept, or typed, stand where they belong.
function place() {
  if (!box()) return;
  const [width, height] = size();
  /** @type {NodeListOf<HTMLElement>} */
  const marks = document.querySelectorAll(".photo-point");
  for (const mark of marks) {
    const [u, v] = ["u", "v"].map((name) => field(name, mark.dataset.point)?.value ?? "");
    mark.hidden = u === "" || v === "";
    mark.style.left = `${(100 * Number(u)) / width}%`;
    mark.style.top = `${(100 * Number(v)) / height}%`;
    mark.classList.toggle("chosen", Number(mark.dataset.point) === chosen());
  }
}
/**
 * @param {number} number
 * @param {number[]} at
 */
function set(number, [u, v]) {
  const [width, height] = size();
  field("u", number).value = String(Math.round(clamp(u, 0, width)));
  field("v", number).value = String(Math.round(clamp(v, 0, height)));
  mark(number);
  place();
}
function mark(number) {
  if ($(`#photo-point-${number}`)) return;
  const node = document.createElement("span");
  node.className = "photo-point";
  node.id = `photo-point-${number}`;
  node.dataset.point = number;
  node.textContent = number;
  box().append(node);
}
function at(event) {
  const rect = box().querySelector("img").getBoundingClientRect();
  const [width, height] = size();
  return [
    ((event.clientX - rect.left) / rect.width) * width,
    ((event.clientY - rect.top) / rect.height) * height,
  ];
}
// What is under the pointer, larger: a finger hides it.
/**
 * @param {PointerEvent} event
 * @param {number[]} at
 */
function loupe(event, [u, v]) {
  const glass = $("#photo-loupe");
  const image = box().querySelector("img");
  const scale = (image.clientWidth / size()[0]) * LARGER;
  glass.hidden = false;
  glass.style.backgroundImage = `url("${image.src}")`;
  glass.style.backgroundSize = `${size()[0] * scale}px ${size()[1] * scale}px`;
  glass.style.backgroundPosition = `${LOUPE_PX / 2 - u * scale}px ${LOUPE_PX / 2 - v * scale}px`;
  const rect = box().getBoundingClientRect();
  const right = event.clientX - rect.left < rect.width / 2;
  glass.style.left = right ? `${rect.width - LOUPE_PX}px` : "0";
}
function stop() {
  dragging = false;
  const glass = $("#photo-loupe");
  if (glass) glass.hidden = true;
}
document.addEventListener("pointerdown", (event) => {
  if (!(event.target instanceof Element) || !event.target.closest("#photo-marking")) return;
  if (event.button !== 0) return;
  const near = event.target.closest(".photo-point");
  if (near) $(`#choose-${near.dataset.point}`).checked = true;
  dragging = true;
  const point = at(event);
  set(chosen(), point);
  loupe(event, point);
  box().focus({ preventScroll: true });
  event.preventDefault();
});
document.addEventListener("pointermove", (event) => {
  if (!dragging) return;
  const point = at(event);
  set(chosen(), point);
  loupe(event, point);
});
document.addEventListener("pointerup", () => {
  if (!dragging) return;
  stop();
});
document.addEventListener("pointercancel", stop);
document.addEventListener("keydown", (event) => {
  const step = STEPS[event.key];
  if (!step || !(event.target instanceof Element) || !event.target.closest("#photo-marking"))
    return;
  event.preventDefault();
  const by = event.shiftKey ? 10 : 1;
  const [width, height] = size();
  const [u, v] = ["u", "v"].map((name) => field(name, chosen()).value);
  set(chosen(), [Number(u || width / 2) + by * step[0], Number(v || height / 2) + by * step[1]]);
});
document.addEventListener("input", ({ target }) => {
  if (target instanceof Element && target.closest(".photo-points")) place();
});
document.addEventListener("change", ({ target }) => {
  if (target instanceof Element && target.matches("[data-choose-point]")) place();
});
document.addEventListener("htmx:afterSettle", place);
document.addEventListener("DOMContentLoaded", place);
place();
