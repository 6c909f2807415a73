// Edits go one after another, each on the revision that the one before it made.

import { state, stationUrl, work } from "./page.js";

// Edits go one after another, each on the revision that the one before it made; of one value only the newest waits.
// Target and swap are #work's own: given here, they would put a refusal in the place of #notice instead of into it.
let posting = false;
const queue = [];
export async function post(path, values, of = "") {
  if (posting) {
    const waits = of ? queue.findIndex((edit) => edit.of === of) : -1;
    if (waits >= 0) queue.splice(waits, 1);
    queue.push({ path, values, of });
    return;
  }
  posting = true;
  try {
    await htmx.ajax("POST", stationUrl() + path, {
      source: work(),
      values: { ...state(), ...values },
    });
  } finally {
    posting = false;
    const next = queue.shift();
    if (next && work()) post(next.path, next.values, next.of);
  }
}
export const send = (command) =>
  post(
    "/command",
    { command: JSON.stringify(command) },
    command.op === "set" ? command.changes.map((change) => change.address).join(" ") : "",
  );
