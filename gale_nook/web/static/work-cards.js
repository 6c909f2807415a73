// The order of work on the phone: keeps ticks, notes and what was measured, and sends them when there is signal.
"use strict";

(() => {
  const { job } = document.body.dataset;
  const KEY = `gale-nook-work-${job}`;
  const $ = (selector) => document.querySelector(selector);
  const fields = [...document.querySelectorAll("[data-kind]")];
  const cookie = (name) =>
    document.cookie
      .split("; ")
      .find((pair) => pair.startsWith(name + "="))
      ?.split("=")[1] ?? "";
  const now = (field) => (field.type === "checkbox" ? field.checked : field.value.trim());
  const was = (field) =>
    field.type === "checkbox" ? field.dataset.was === "yes" : field.dataset.was;

  // Only what differs from what the server told is kept and sent.
  function typed() {
    const results = { ticks: {}, notes: {}, built: {}, cut: {} };
    for (const field of fields)
      if (now(field) !== was(field)) results[field.dataset.kind][field.dataset.id] = now(field);
    return results;
  }
  const count = (value) =>
    Object.values(value).reduce((sum, part) => sum + Object.keys(part).length, 0);
  function say(text) {
    $("#kept").textContent = text;
  }
  function show() {
    for (const field of fields)
      if (field.dataset.kind === "ticks")
        field.closest(".work-card").classList.toggle("is-done", field.checked);
    const done = fields.filter((f) => f.dataset.kind === "ticks" && f.checked).length;
    const all = fields.filter((f) => f.dataset.kind === "ticks").length;
    $("#progress").textContent = `${done} of ${all} done`;
  }
  function keep() {
    const value = typed();
    show();
    if (!count(value)) {
      localStorage.removeItem(KEY);
      say("Nothing new.");
      return;
    }
    try {
      localStorage.setItem(KEY, JSON.stringify(value));
      say("Kept on this phone.");
    } catch {
      say("This phone has no room left to keep it. Send it now.");
    }
  }
  function restore() {
    let kept = null;
    try {
      kept = JSON.parse(localStorage.getItem(KEY) ?? "null");
    } catch {
      /* what is kept cannot be read: it is left alone */
    }
    for (const field of fields) {
      const value = kept?.[field.dataset.kind]?.[field.dataset.id];
      if (value === undefined) continue;
      if (field.type === "checkbox") field.checked = value;
      else field.value = value;
    }
  }
  async function send() {
    const value = typed();
    if (!count(value)) return;
    try {
      const answer = await fetch(`/jobs/${job}/build/phone`, {
        method: "POST",
        body: new URLSearchParams({ cards: JSON.stringify(value) }),
        headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
      });
      if (answer.ok) {
        for (const field of fields)
          field.dataset.was =
            field.type === "checkbox" ? (field.checked ? "yes" : "no") : field.value.trim();
        localStorage.removeItem(KEY);
        say("Sent. It is on the main screen.");
      } else {
        const page = new DOMParser().parseFromString(await answer.text(), "text/html");
        const told = page.querySelector(".notice span")?.textContent ?? "look on the main screen";
        say(`Not taken, and kept here: ${told}`);
      }
    } catch {
      localStorage.setItem(`${KEY}-waiting`, "yes");
      say("No signal. It is kept here and sent when the signal is back.");
    }
  }
  document.addEventListener("input", keep);
  $("#send").addEventListener("click", send);
  window.addEventListener("online", () => {
    if (!localStorage.getItem(`${KEY}-waiting`)) return;
    localStorage.removeItem(`${KEY}-waiting`);
    send();
  });
  if ("serviceWorker" in navigator)
    navigator.serviceWorker.register("/card-worker.js").catch(() => {});
  restore();
  keep();
})();
