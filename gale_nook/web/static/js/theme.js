// Light, dark, or as the device is set: before anything is drawn, so not a module.

(() => {
  const THEMES = ["auto", "light", "dark"];
  const NAMES = { auto: "as this device", light: "light", dark: "dark" };
  const kept = () => {
    const theme = localStorage.getItem("theme") ?? "auto";
    return THEMES.includes(theme) ? theme : "auto";
  };
  const show = () => {
    const theme = kept();
    const media = { auto: "(prefers-color-scheme: dark)", light: "not all", dark: "all" }[theme];
    document.getElementById("dark")?.setAttribute("media", media);
    const button = document.getElementById("theme");
    if (button) {
      button.title = `Page: ${NAMES[theme]}. Press to change.`;
      button.setAttribute("aria-label", `Page: ${NAMES[theme]}`);
      button.textContent = { auto: "◐", light: "○", dark: "●" }[theme];
    }
  };
  show();
  document.addEventListener("DOMContentLoaded", show);
  document.addEventListener("htmx:afterSettle", show);
  document.addEventListener("click", (event) => {
    const target = event.target;
    if (!(target instanceof Element) || !target.closest("#theme")) return;
    localStorage.setItem("theme", THEMES[(THEMES.indexOf(kept()) + 1) % THEMES.length]);
    show();
  });
})();
