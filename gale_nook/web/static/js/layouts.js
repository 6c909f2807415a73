// Layouts that are ticked, to be put side by side.

import { $ } from "./page.js";

document.addEventListener("change", (event) => {
  if (!event.target.closest?.("[data-compare]")) return;
  const ticked = [...document.querySelectorAll("[data-compare]:checked")];
  const letters = ticked.map((box) => box.dataset.compare).join("");
  $("#compare-layouts")?.setAttribute("hx-vals", JSON.stringify({ letters }));
});
