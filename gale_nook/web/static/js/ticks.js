// One tick for a whole table.

document.addEventListener("change", ({ target }) => {
  if (!(target instanceof HTMLInputElement) || !target.dataset.tickEvery) return;
  /** @type {NodeListOf<HTMLInputElement>} */
  const ticks = document.querySelectorAll(`${target.dataset.tickEvery} tbody input[type=checkbox]`);
  for (const tick of ticks) tick.checked = target.checked;
});
