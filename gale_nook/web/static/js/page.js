// What is on the page: the working part, its job and station, its view, exact values.

/**
 * @param {string} selector
 * @returns {any}
 */
export const $ = (selector) => document.querySelector(selector);

/** The working part of the page; null on pages without a job. */
export const work = () => $("#work");

/** Address of the job's station. */
export const stationUrl = () => `/jobs/${work().dataset.job}/${work().dataset.station}`;

/** Revision and view, as every form sends them. */
export const state = () => Object.fromEntries(new FormData($("#state")));

/** @param {string} name */
export const cookie = (name) =>
  document.cookie
    .split("; ")
    .find((pair) => pair.startsWith(name + "="))
    ?.split("=")[1] ?? "";

/**
 * The exact value at an address; fields show it rounded.
 * @param {string} address
 */
export const exact = (address) => Number($(`[data-exact="${address}"]`)?.dataset.value ?? NaN);

/**
 * @param {number} value
 * @param {number} low
 * @param {number} high
 */
export const clamp = (value, low, high) => Math.min(Math.max(value, low), high);

/**
 * Add an element to the board's drawing.
 * @param {string} tag
 * @param {Record<string, any>} attributes
 */
export function addToDrawing(tag, attributes, text = "") {
  const node = document.createElementNS("http://www.w3.org/2000/svg", tag);
  for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, value);
  node.textContent = text;
  $("#board-drawing").append(node);
  return node;
}
