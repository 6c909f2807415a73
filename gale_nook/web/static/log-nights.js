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
  // A photo is scaled down here, and sent after its night.
  const PHOTO_PX = 1280;
  const PHOTOS = `${KEY}-photos`;
  let picture = "";
  async function takePhoto(file) {
    const said = form.querySelector(".photo-state");
    try {
      const bitmap = await createImageBitmap(file);
      const scale = Math.min(1, PHOTO_PX / Math.max(bitmap.width, bitmap.height));
      const canvas = document.createElement("canvas");
      canvas.width = Math.round(bitmap.width * scale);
      canvas.height = Math.round(bitmap.height * scale);
      canvas.getContext("2d").drawImage(bitmap, 0, 0, canvas.width, canvas.height);
      picture = canvas.toDataURL("image/jpeg", 0.7);
      said.textContent = "It is kept with this night.";
    } catch {
      said.textContent = "This is no picture that this phone can read.";
    }
    $("#photo").value = "";
  }
  async function sendPhotos() {
    for (const photo of read(PHOTOS, [])) {
      const data = new FormData();
      const bytes = Uint8Array.from(atob(photo.data.split(",")[1]), (c) => c.charCodeAt(0));
      data.append("id", photo.id);
      data.append("file", new Blob([bytes], { type: "image/jpeg" }), "photo.jpg");
      const answer = await fetch(`/jobs/${job}/log/photo`, {
        method: "POST",
        body: data,
        headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
      });
      // what the log does not take, as of a night that was taken out, is not sent for ever
      if (answer.status >= 500) return;
      localStorage.setItem(PHOTOS, JSON.stringify(read(PHOTOS, []).slice(1)));
    }
  }
  $("#photo").addEventListener("change", ({ target }) => {
    if (target.files[0]) takePhoto(target.files[0]);
  });
  form.addEventListener("input", () => localStorage.setItem(DRAFT, JSON.stringify(typed())));
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    // an id of its own, so that a night that is sent twice is one entry
    const id = `p-${Date.now().toString(36)}`;
    try {
      if (picture)
        localStorage.setItem(PHOTOS, JSON.stringify([...read(PHOTOS, []), { id, data: picture }]));
      keep([...nights(), { id, ...typed() }]);
    } catch {
      say("This phone has no room left to keep it. Send what is kept first.");
      return;
    }
    localStorage.removeItem(DRAFT);
    picture = "";
    form.querySelector(".photo-state").textContent = "";
    fill({ on: today });
    say("Kept on this phone.");
    send();
  });
  let isSending = false;
  async function send() {
    const list = nights();
    if (isSending || !(list.length || read(PHOTOS, []).length)) return;
    isSending = true;
    try {
      if (!list.length) {
        await sendPhotos();
        return;
      }
      const answer = await fetch(`/jobs/${job}/log/phone`, {
        method: "POST",
        body: new URLSearchParams({ nights: JSON.stringify({ nights: list }) }),
        headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
      });
      if (answer.ok) {
        keep(nights().filter((night) => !list.some((sent) => sent.id === night.id)));
        await sendPhotos();
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
