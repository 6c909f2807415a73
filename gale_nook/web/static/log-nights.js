// Nights on the phone: kept until there is signal, then sent; what is half typed is kept too.
"use strict";

(() => {
  const { job, today } = document.body.dataset;
  const KEY = `gale-nook-log-${job}`;
  const DRAFT = `${KEY}-draft`;
  const $ = (selector) => document.querySelector(selector);
  const form = $("#night");
  const cookie = (name) =>
    document.cookie
      .split("; ")
      .find((pair) => pair.startsWith(name + "="))
      ?.split("=")[1] ?? "";
  function read(key, otherwise) {
    try {
      return JSON.parse(localStorage.getItem(key) ?? "null") ?? otherwise;
    } catch {
      return otherwise;
    }
  }
  const typed = () => Object.fromEntries(new FormData(form));
  const nights = () => read(KEY, []);
  function say(text) {
    $("#kept").textContent = text;
  }
  function show() {
    const count = nights().length;
    $("#progress").textContent = count ? `${count} kept on this phone, not sent yet` : "";
  }
  function keep(list) {
    localStorage.setItem(KEY, JSON.stringify(list));
    show();
  }
  function fill(values) {
    for (const field of form.elements) {
      if (!field.name) continue;
      if (field.type === "checkbox") field.checked = values[field.name] === "yes";
      else field.value = values[field.name] ?? "";
    }
  }
  form.addEventListener("input", () => localStorage.setItem(DRAFT, JSON.stringify(typed())));
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    // an id of its own, so that a night that is sent twice is one entry
    const id = `p-${Date.now().toString(36)}`;
    try {
      keep([...nights(), { id, ...typed() }]);
    } catch {
      say("This phone has no room left to keep it. Send what is kept first.");
      return;
    }
    localStorage.removeItem(DRAFT);
    fill({ on: today });
    say("Kept on this phone.");
    send();
  });
  let isSending = false;
  async function send() {
    const list = nights();
    if (isSending || !list.length) return;
    isSending = true;
    try {
      const answer = await fetch(`/jobs/${job}/log/phone`, {
        method: "POST",
        body: new URLSearchParams({ nights: JSON.stringify({ nights: list }) }),
        headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
      });
      if (answer.ok) {
        keep(nights().filter((night) => !list.some((sent) => sent.id === night.id)));
        say("Sent. It is in the log.");
      } else {
        const page = new DOMParser().parseFromString(await answer.text(), "text/html");
        const told = page.querySelector(".notice span")?.textContent ?? "look on the main screen";
        fill(list[list.length - 1]);
        keep(list.slice(0, -1));
        say(`Not taken: ${told} It is back in the fields; mend it and write it down again.`);
      }
    } catch {
      say("No signal. It is kept here and sent when the signal is back.");
    } finally {
      isSending = false;
    }
  }
  $("#send").addEventListener("click", send);
  window.addEventListener("online", send);
  if ("serviceWorker" in navigator)
    navigator.serviceWorker.register("/card-worker.js").catch(() => {});
  fill(read(DRAFT, { on: today }));
  show();
})();
