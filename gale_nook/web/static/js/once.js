// A double click does one thing: its second click does not reach what changes something.

const AGAIN = "#undo, #redo, [data-nearer], #board-drawing, summary, input, label, #theme";
document.addEventListener(
  "click",
  (event) => {
    if (event.detail < 2 || !event.target.closest?.("button, .btn")) return;
    if (event.target.closest(AGAIN)) return;
    event.preventDefault();
    event.stopPropagation();
  },
  true,
);
