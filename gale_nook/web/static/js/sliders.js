// Sliders: figures follow the thumb, the value is kept when it is let go.

import { drop, forgetWaiting, preview } from "./preview.js";

const slid = (slide) => ({
  op: "set",
  changes: [{ address: slide.dataset.slide, value: Number(slide.value) }],
});
document.addEventListener("input", (event) => {
  if (event.target.matches?.("[data-slide]")) preview(slid(event.target));
});
document.addEventListener("change", (event) => {
  if (event.target.matches?.("[data-slide]")) {
    forgetWaiting();
    drop(slid(event.target));
  }
});
