// On a phone a table's rows are cards: each cell says what it is. The current station is in sight.

import { $ } from "./page.js";

function headCells() {
  for (const table of document.querySelectorAll("table.table")) {
    const heads = [...table.querySelectorAll("thead th")].map((th) => th.textContent.trim());
    for (const row of table.querySelectorAll("tbody tr")) {
      let column = 0;
      for (const cell of row.querySelectorAll("td")) {
        const head = heads[column] ?? "";
        cell.dataset.head = ["Actions", "What"].includes(head) ? "" : head;
        column += cell.colSpan;
      }
    }
  }
}
function showStation() {
  const line = $("#line");
  const current = line?.querySelector("[aria-current]");
  if (!current || line.scrollWidth <= line.clientWidth) return;
  const [here, whole] = [current, line].map((each) => each.getBoundingClientRect());
  line.scrollLeft += here.left - whole.left - (whole.width - here.width) / 2;
}
function settle() {
  headCells();
  showStation();
}
document.addEventListener("DOMContentLoaded", settle);
document.addEventListener("htmx:afterSettle", settle);
settle();
