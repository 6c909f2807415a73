// The card for under the vehicle: keeps what is typed, and gives it back as a line, a file, or by sending it.
"use strict";

(() => {
  const { job, rev, units, heights, alone } = document.body.dataset;
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
        /* the address holds it */
      }
      if (alone === "yes") history.replaceState(null, "", `#${encodeURIComponent(text)}`);
    },
  };

  function typed() {
    const features = {};
    all("fieldset[data-feature]").forEach((set) => {
      const [x, y] = [...set.querySelectorAll("input")].map((input) => input.value.trim());
      if (x || y) features[set.dataset.feature] = [x, y];
    });
    const parts = {};
    all("fieldset[data-part]").forEach((set) => {
      const given = [...set.querySelectorAll("input")]
        .filter((input) => input.value.trim())
        .map((input) => [input.name, input.value.trim()]);
      if (given.length) parts[set.dataset.part] = Object.fromEntries(given);
    });
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
      heights,
      features,
      parts,
      pilots,
      note: $("textarea[name=note]").value,
    };
  }
  const holds = (value) =>
    Object.keys(value.features).length > 0 ||
    Object.keys(value.parts).length > 0 ||
    value.pilots.length > 0 ||
    value.note.trim() !== "";

  // Both ways stand side by side, and the one that is tapped is the one that holds.
  function choose(way, wanted) {
    way.dataset.way = wanted;
    way.querySelectorAll("button").forEach((button) => {
      button.setAttribute("aria-pressed", String(button.textContent === wanted));
    });
  }

  function restore(value) {
    if (!value) return;
    for (const [id, [x, y]] of Object.entries(value.features ?? {})) {
      const inputs = document.querySelectorAll(`fieldset[data-feature="${CSS.escape(id)}"] input`);
      if (inputs.length === 2) {
        inputs[0].value = x;
        inputs[1].value = y;
      }
    }
    for (const [id, given] of Object.entries(value.parts ?? {})) {
      const set = document.querySelector(`fieldset[data-part="${CSS.escape(id)}"]`);
      set?.querySelectorAll("input").forEach((input) => {
        input.value = given[input.name] ?? "";
      });
    }
    for (const pilot of value.pilots ?? []) {
      const set = all("fieldset[data-hole]").find((each) => each.dataset.hole === pilot.hole);
      if (!set) continue;
      const [along, across] = set.querySelectorAll("input");
      const [forth, side] = set.querySelectorAll(".way");
      along.value = pilot.along;
      across.value = pilot.across;
      choose(forth, pilot.forth);
      choose(side, pilot.side);
    }
    $("textarea[name=note]").value = value.note ?? "";
  }

  function keep() {
    const value = typed();
    shelf.write(value);
    $("#line").value = holds(value) ? JSON.stringify(value) : "";
    $("#kept").textContent = holds(value) ? "Kept on this phone." : "Nothing typed yet.";
  }
  document.addEventListener("input", keep);
  document.addEventListener("click", (event) => {
    const button = event.target.closest(".way button");
    if (!button) return;
    choose(button.closest(".way"), button.textContent);
    keep();
  });
  $("#part")?.addEventListener("change", (event) => {
    all("fieldset[data-part]").forEach((set) => {
      set.hidden = set.dataset.part !== event.target.value;
    });
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
  keep();
})();
