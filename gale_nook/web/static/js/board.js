// The board's paper and the vehicle's millimetres.

import { $ } from "./page.js";

export const SNAP_MM = 5;

export const drawing = () => $("#board-drawing");
export const map = () =>
  Object.fromEntries(Object.entries(drawing().dataset).map(([key, value]) => [key, Number(value)]));

export function paperPoint(event) {
  const svg = drawing();
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(
    svg.getScreenCTM().inverse(),
  );
  return { u: point.x, v: point.y };
}
export const snapped = (mm, snap) => Math.round(mm / snap) * snap;

export function onPaper([x, y, z], board) {
  const m = map();
  return {
    u: m.xOffset + m.scale * x,
    v: board === "plan" ? m.planOffset + m.planSign * m.scale * y : m.sideOffset - m.scale * z,
  };
}
