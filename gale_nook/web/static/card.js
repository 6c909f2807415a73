// The card for under the vehicle: keeps what is typed, and gives it back as a line, a file, or by sending it.
"use strict";

(() => {
  const { job, rev, units, alone } = document.body.dataset;
  const KEY = `gale-nook-card-${job}-${alone}`;
  const $ = (selector) => document.querySelector(selector);
  const all = (selector) => [...document.querySelectorAll(selector)];
  const cookie = (name) =>
    document.cookie
      .split("; ")
      .find((pair) => pair.startsWith(name + "="))
      ?.split("=")[1] ?? "";

  // Some browsers keep nothing for a file from the disk; the address then holds it through a reload.
  const shelf = {
    read() {
      try {
        const kept = localStorage.getItem(KEY);
        if (kept) return JSON.parse(kept);
      } catch {
        /* falls through */
      }
      try {
        return JSON.parse(decodeURIComponent(location.hash.slice(1)));
      } catch {
        return null;
      }
    },
    write(value) {
      const text = JSON.stringify(value);
      try {
        localStorage.setItem(KEY, text);
      } catch {
        // full, or a file from the disk for which some browsers keep nothing
        if (alone !== "yes") return false;
      }
      if (alone === "yes") history.replaceState(null, "", `#${encodeURIComponent(text)}`);
      return true;
    },
  };

  // Places are typed without a sign: the button beside them says which way they count.
  const MINUS = { ahead: true, left: true };
  const wayOf = (input) => {
    const next = input.closest("label")?.nextElementSibling;
    return next?.classList.contains("way") ? next : null;
  };
  function signed(input) {
    const text = input.value.trim();
    const way = wayOf(input);
    return text && way && MINUS[way.dataset.way] && !text.startsWith("-") ? `-${text}` : text;
  }
  function unsigned(input, text) {
    const way = wayOf(input);
    if (!way || !text) {
      input.value = text;
      return;
    }
    const names = [...way.querySelectorAll("button")].map((button) => button.textContent);
    choose(way, text.startsWith("-") ? names[0] : names[1]);
    input.value = text.replace(/^-/, "");
  }
  const lengths = (set) =>
    [...set.querySelectorAll("input")].filter((i) => i.type !== "file" && i.name !== "name");
  const given = (set) =>
    Object.fromEntries(
      lengths(set)
        .filter((input) => input.value.trim() && !input.closest("[hidden].of-shape"))
        .map((input) => [input.name, signed(input)]),
    );
  function givenIn(name) {
    const results = {};
    all(`fieldset[data-${name}]`).forEach((set) => {
      const values = given(set);
      if (Object.keys(values).length) results[set.dataset[name]] = values;
    });
    return results;
  }

  function typed() {
    const features = {};
    all("fieldset[data-feature]").forEach((set) => {
      const [x, y] = [...set.querySelectorAll("input")].map(signed);
      if (x || y) features[set.dataset.feature] = [x, y];
    });
    const found = all("fieldset[data-found]").map((set) => ({
      kind: set.querySelector("[name=kind]").value,
      name: set.querySelector("[name=name]").value.trim(),
      shape: set.querySelector("[name=shape]").value,
      values: given(set),
      photo: set.dataset.photo ?? "",
    }));
    const pilots = all("fieldset[data-hole]")
      .map((set) => {
        const [along, across] = [...set.querySelectorAll("input")].map((input) =>
          input.value.trim(),
        );
        const [forth, side] = [...set.querySelectorAll(".way")].map((way) => way.dataset.way);
        const drilled = JSON.parse(set.dataset.drilled);
        const mark = JSON.parse(set.dataset.mark);
        return { hole: set.dataset.hole, along, forth, across, side, drilled, mark };
      })
      .filter((pilot) => pilot.along || pilot.across);
    return {
      gale_nook: "below",
      version: 1,
      job: Number(job),
      revision: Number(rev),
      units,
      heights: $("#heights").value,
      features,
      parts: givenIn("part"),
      runs: givenIn("run"),
      found,
      pilots,
      note: $("textarea[name=note]").value,
    };
  }
  const holds = (value) =>
    Object.keys(value.features).length > 0 ||
    Object.keys(value.parts).length > 0 ||
    Object.keys(value.runs).length > 0 ||
    value.found.length > 0 ||
    value.pilots.length > 0 ||
    value.note.trim() !== "";

  // Both ways stand side by side, and the one that is tapped is the one that holds.
  function choose(way, wanted) {
    way.dataset.way = wanted;
    way.querySelectorAll("button").forEach((button) => {
      button.setAttribute("aria-pressed", String(button.textContent === wanted));
    });
  }

  function fill(set, kept) {
    for (const input of lengths(set))
      if (kept[input.name] !== undefined) unsigned(input, kept[input.name]);
  }

  // --- what was found below ---

  const PHOTO_PX = 1280; // its longer side, as it is kept and sent
  function addFound() {
    const one = $("#found-one").content.cloneNode(true);
    $("#found").append(one);
    const set = $("#found").lastElementChild;
    heightWords();
    return set;
  }
  function fillFound(set, each) {
    for (const name of ["kind", "name", "shape"])
      set.querySelector(`[name=${name}]`).value = each[name];
    showShape(set);
    fill(set, each.values ?? {});
    if (each.photo) keepPhoto(set, each.photo);
  }
  function showShape(set) {
    const shape = set.querySelector("[name=shape]").value;
    set.querySelectorAll(".of-shape").forEach((part) => {
      part.hidden = part.dataset.shape !== shape;
    });
  }
  function keepPhoto(set, photo) {
    set.dataset.photo = photo;
    set.querySelector(".photo-state").textContent = "The photo is kept with it.";
  }
  async function takePhoto(set, file) {
    const said = set.querySelector(".photo-state");
    try {
      const picture = await createImageBitmap(file);
      const scale = Math.min(1, PHOTO_PX / Math.max(picture.width, picture.height));
      const canvas = document.createElement("canvas");
      canvas.width = Math.round(picture.width * scale);
      canvas.height = Math.round(picture.height * scale);
      canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
      keepPhoto(set, canvas.toDataURL("image/jpeg", 0.7));
      keep();
    } catch {
      said.textContent = "This is no picture that this phone can read.";
    }
  }

  function restorePilot(pilot) {
    const set = all("fieldset[data-hole]").find((each) => each.dataset.hole === pilot.hole);
    if (!set) return;
    const [along, across] = set.querySelectorAll("input");
    const [forth, side] = set.querySelectorAll(".way");
    along.value = pilot.along;
    across.value = pilot.across;
    choose(forth, pilot.forth);
    choose(side, pilot.side);
  }
  function restoreFeature([id, [x, y]]) {
    const inputs = document.querySelectorAll(`fieldset[data-feature="${CSS.escape(id)}"] input`);
    if (inputs.length !== 2) return;
    unsigned(inputs[0], x);
    unsigned(inputs[1], y);
  }
  function restore(value) {
    if (!value) return;
    if (value.heights) $("#heights").value = value.heights;
    Object.entries(value.features ?? {}).forEach(restoreFeature);
    for (const name of ["part", "run"])
      for (const [id, kept] of Object.entries(value[`${name}s`] ?? {})) {
        const set = document.querySelector(`fieldset[data-${name}="${CSS.escape(id)}"]`);
        if (set) fill(set, kept);
      }
    for (const each of value.found ?? []) fillFound(addFound(), each);
    (value.pilots ?? []).forEach(restorePilot);
    $("textarea[name=note]").value = value.note ?? "";
  }

  function keep() {
    const value = typed();
    const kept = shelf.write(value);
    $("#line").value = holds(value) ? JSON.stringify(value) : "";
    if (!holds(value)) $("#kept").textContent = "Nothing typed yet.";
    else if (kept) $("#kept").textContent = "Kept on this phone.";
    else $("#kept").textContent = "This phone has no room left to keep it. Send it or save it now.";
  }
  // What heights are measured from, and what is known of them so.
  function heightWords() {
    const chosen = $("#heights");
    const words = chosen.selectedOptions[0]?.textContent ?? "";
    all(".height-words").forEach((each) => {
      each.textContent = words;
    });
    all("input[data-floor]").forEach((input) => {
      input.placeholder = input.dataset[chosen.value] ?? "";
    });
  }
  document.addEventListener("input", keep);
  document.addEventListener("change", ({ target }) => {
    const found = target.closest("fieldset[data-found]");
    if (target.id === "heights") heightWords();
    else if (target.dataset.chooses) showChosen(target.dataset.chooses, target.value);
    else if (target.name === "shape" && found) showShape(found);
    else if (target.name === "photo" && found && target.files[0]) {
      takePhoto(found, target.files[0]);
      return;
    } else return;
    keep();
  });
  function showChosen(name, id) {
    all(`fieldset[data-${name}]`).forEach((set) => {
      set.hidden = set.dataset[name] !== id;
    });
  }
  $("#add-found").addEventListener("click", () => {
    const set = addFound();
    keep();
    set.querySelector("[name=kind]").focus();
  });
  document.addEventListener("click", (event) => {
    const gone = event.target.closest("[data-remove-found]");
    if (gone) {
      gone.closest("fieldset").remove();
      keep();
      return;
    }
    const button = event.target.closest(".way button");
    if (!button) return;
    choose(button.closest(".way"), button.textContent);
    keep();
  });
  $("#copy").addEventListener("click", async () => {
    const line = $("#line");
    line.focus();
    line.select();
    try {
      await navigator.clipboard.writeText(line.value);
    } catch {
      document.execCommand("copy");
    }
    $("#kept").textContent = "Copied. Paste it into the Spot station, under Through the floor.";
  });
  $("#save").addEventListener("click", () => {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([$("#line").value], { type: "application/json" }));
    link.download = `below-${job}.json`;
    link.click();
  });

  // --- with a server: send now, or when the signal is back ---

  async function send() {
    const value = typed();
    if (!holds(value)) return;
    try {
      const body = new URLSearchParams({ line: JSON.stringify(value) });
      const answer = await fetch(`/jobs/${job}/spot/below`, {
        method: "POST",
        body,
        headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" },
      });
      if (answer.ok) {
        localStorage.removeItem(KEY);
        $("#card").reset();
        $("#found").replaceChildren();
        heightWords();
        $("#line").value = "";
        $("#kept").textContent = "Sent. It is on the main screen.";
      } else {
        $("#kept").textContent =
          `Not taken: ${new DOMParser().parseFromString(await answer.text(), "text/html").querySelector(".notice span")?.textContent ?? "look on the main screen"}`;
      }
    } catch {
      $("#kept").textContent = "No signal. It is kept here and sent when the signal is back.";
      localStorage.setItem(`${KEY}-waiting`, "yes");
    }
  }
  if (alone === "no") {
    $("#send").addEventListener("click", send);
    window.addEventListener("online", () => {
      if (localStorage.getItem(`${KEY}-waiting`)) {
        localStorage.removeItem(`${KEY}-waiting`);
        send();
      }
    });
    if ("serviceWorker" in navigator)
      navigator.serviceWorker.register("/card-worker.js").catch(() => {});
  }
  restore(shelf.read());
  heightWords();
  keep();
})();
