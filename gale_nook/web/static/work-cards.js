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
  // Photos are scaled down here, kept beside what was typed, and sent one by one.
  const PHOTO_PX = 1280;
  const PHOTOS = `${KEY}-photos`;
  function photosKept() {
    try {
      return JSON.parse(localStorage.getItem(PHOTOS) ?? "[]");
    } catch {
      return [];
    }
  }
  function keepPhotos(photos) {
    if (photos.length) localStorage.setItem(PHOTOS, JSON.stringify(photos));
    else localStorage.removeItem(PHOTOS);
    showPhotos(photos);
  }
  function showPhotos(photos) {
    for (const field of document.querySelectorAll("[data-photo]")) {
      const own = photos.filter((each) => each.card === field.dataset.photo).length;
      field.parentElement.querySelector(".photo-state").textContent = own
        ? `${own} kept on this phone, not sent yet`
        : "";
    }
  }
  async function takePhoto(field) {
    const said = field.parentElement.querySelector(".photo-state");
    try {
      const picture = await createImageBitmap(field.files[0]);
      const scale = Math.min(1, PHOTO_PX / Math.max(picture.width, picture.height));
      const canvas = document.createElement("canvas");
      canvas.width = Math.round(picture.width * scale);
      canvas.height = Math.round(picture.height * scale);
      canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
      const photo = { card: field.dataset.photo, data: canvas.toDataURL("image/jpeg", 0.7) };
      try {
        keepPhotos([...photosKept(), photo]);
      } catch {
        said.textContent = "This phone has no room left to keep it. Send what is kept first.";
      }
    } catch {
      said.textContent = "This is no picture that this phone can read.";
    }
    field.value = "";
  }
  async function sendPhotos() {
    for (const photo of photosKept()) {
      const form = new FormData();
      form.append("card", photo.card);
      const bytes = Uint8Array.from(atob(photo.data.split(",")[1]), (c) => c.charCodeAt(0));
      form.append("file", new Blob([bytes], { type: "image/jpeg" }), "photo.jpg");
      const answer = await fetch(`/jobs/${job}/build/photo`, {
        method: "POST",
        body: form,
        headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
      });
      if (!answer.ok) throw new Refused(await problemOf(answer));
      keepPhotos(photosKept().slice(1));
    }
  }
  class Refused extends Error {}
  async function problemOf(answer) {
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    return page.querySelector(".notice span")?.textContent ?? "look on the main screen";
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
  async function sendTyped(value) {
    const answer = await fetch(`/jobs/${job}/build/phone`, {
      method: "POST",
      body: new URLSearchParams({ cards: JSON.stringify(value) }),
      headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
    });
    if (!answer.ok) throw new Refused(await problemOf(answer));
    for (const field of fields)
      field.dataset.was =
        field.type === "checkbox" ? (field.checked ? "yes" : "no") : field.value.trim();
    localStorage.removeItem(KEY);
  }
  let isSending = false; // a tap and the signal's return may come together
  async function send() {
    const value = typed();
    if (isSending || (!count(value) && !photosKept().length)) return;
    isSending = true;
    try {
      if (count(value)) await sendTyped(value);
      await sendPhotos();
      say("Sent. It is on the main screen.");
    } catch (problem) {
      if (problem instanceof Refused) {
        say(`Not taken, and kept here: ${problem.message}`);
        return;
      }
      localStorage.setItem(`${KEY}-waiting`, "yes");
      say("No signal. It is kept here and sent when the signal is back.");
    } finally {
      isSending = false;
    }
  }
  document.addEventListener("input", keep);
  document.addEventListener("change", ({ target }) => {
    if (target.dataset.photo && target.files[0]) takePhoto(target);
  });
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
  showPhotos(photosKept());
})();
