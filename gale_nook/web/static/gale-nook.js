// The one script of our own: pointer and key work on the board, and what htmx needs to be told.
"use strict";

(() => {
  const SNAP_MM = 5;
  const TURN_DEG = 15;
  const SQUARE_MM = 15; // a corner that comes this near to being square to its neighbour is
  const $ = (selector) => document.querySelector(selector);
  const cookie = (name) => document.cookie.split("; ").find((pair) => pair.startsWith(name + "="))?.split("=")[1] ?? "";
  const work = () => $("#work");
  const stationUrl = () => `/jobs/${work().dataset.job}/${work().dataset.station}`;
  const state = () => Object.fromEntries(new FormData($("#state")));

  // --- what htmx needs ---

  document.addEventListener("htmx:configRequest", (event) => {
    event.detail.headers["x-csrftoken"] = cookie("csrftoken");
  });

  // What takes longer than a moment is said to be waiting; asking how long work stands is not.
  const BUSY_MS = 1200;
  const AGAIN_MS = 1500;
  const pending = new Map();
  const isAsking = (element) => Boolean(element?.matches?.(".working"));
  let turnedAway = 0;
  const showBusy = () => { $("#busy").hidden = turnedAway === 0 && ![...pending.values()].includes("late"); };
  document.addEventListener("htmx:beforeRequest", ({ detail }) => {
    if (isAsking(detail.elt)) return;
    pending.set(detail.xhr, "new");
    setTimeout(() => { if (pending.has(detail.xhr)) { pending.set(detail.xhr, "late"); showBusy(); } }, BUSY_MS);
  });
  document.addEventListener("htmx:afterRequest", ({ detail }) => { pending.delete(detail.xhr); showBusy(); });

  // What was turned away because too many are working is sent again by itself, with all that was typed.
  const sendAgain = ({ verb, path, elt, formData }) => {
    if (elt.isConnected) htmx.ajax(verb.toUpperCase(), path, { source: elt, values: formData });
  };
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { xhr, requestConfig } = event.detail;
    const isBusy = xhr.status === 429 && xhr.getResponseHeader("x-busy");
    if (!isBusy && !(xhr.status >= 400 && isAsking(requestConfig.elt))) return;
    event.detail.shouldSwap = false;
    event.detail.isError = false;
    turnedAway += 1;
    showBusy();
    setTimeout(() => { turnedAway -= 1; showBusy(); sendAgain(requestConfig); }, AGAIN_MS + Math.random() * AGAIN_MS);
  });

  // A field that was refused keeps what was typed, and says so to those who cannot see the colour.
  document.addEventListener("htmx:responseError", (event) => {
    const field = event.detail.elt;
    if (field.matches?.("input, select, textarea")) field.setAttribute("aria-invalid", "true");
  });
  // Choosing in a notice settles what was refused: the fields show what is kept.
  document.addEventListener("htmx:beforeRequest", (event) => {
    if (!event.detail.elt.closest?.("#notice")) return;
    document.querySelectorAll("#work [aria-invalid]").forEach((field) => field.removeAttribute("aria-invalid"));
  });
  document.addEventListener("htmx:sendError", (event) => {
    if (isAsking(event.detail.elt)) { setTimeout(() => sendAgain(event.detail.requestConfig), 2 * AGAIN_MS); return; }
    $("#notice").innerHTML = '<div class="notice"><strong>No answer.</strong> The application does not answer. What you typed is still in its field; try again when it is back. <button type="button" class="btn btn-sm btn-outline-dark" data-close="notice">Close</button></div>';
  });
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.detail.target.id === "work") {
      const sender = event.detail.requestConfig?.elt;
      sender?.removeAttribute?.("aria-invalid");
      if (event.detail.xhr.status < 400) $("#notice")?.replaceChildren();
    }
  });
  document.addEventListener("DOMContentLoaded", () => {
    if (!window.Idiomorph) return;
    Idiomorph.defaults.ignoreActiveValue = true;
    Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => {
      // a refused value stays until it is mended; an open detail stays open
      if (old.nodeType !== 1) return true;
      if (old.id && old.id === fresh.id && old.matches("[hx-trigger^=load]")) return false; // loaded already
      if (old.getAttribute("aria-invalid") === "true" && old !== document.activeElement) return false;
      // the active element's inside is left alone, but a button that was pressed may say something else now
      if (old.tagName === "BUTTON" && old === document.activeElement && fresh.nodeType === 1) old.innerHTML = fresh.innerHTML;
      if (old.tagName === "DETAILS" && old.open && fresh.nodeType === 1) fresh.setAttribute("open", "");
      return true;
    };
  });

  // Edits go one after another, each on the revision that the one before it made; of one value only the newest waits.
  // Target and swap are #work's own: given here, they would put a refusal in the place of #notice instead of into it.
  let posting = false;
  const queue = [];
  async function post(path, values, of = "") {
    if (posting) {
      const waits = of ? queue.findIndex((edit) => edit.of === of) : -1;
      if (waits >= 0) queue.splice(waits, 1);
      queue.push({ path, values, of });
      return;
    }
    posting = true;
    try {
      await htmx.ajax("POST", stationUrl() + path, { source: work(), values: { ...state(), ...values } });
    } finally {
      posting = false;
      const next = queue.shift();
      if (next && work()) post(next.path, next.values, next.of);
    }
  }
  const send = (command) =>
    post("/command", { command: JSON.stringify(command) }, command.op === "set" ? command.changes.map((change) => change.address).join(" ") : "");

  // --- the board: paper to millimetres ---

  const drawing = () => $("#board-drawing");
  const map = () => Object.fromEntries(Object.entries(drawing().dataset).map(([key, value]) => [key, Number(value)]));

  function paperPoint(event) {
    const svg = drawing();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return { u: point.x, v: point.y };
  }
  const snapped = (mm, snap) => Math.round(mm / snap) * snap;

  // What is being moved: where it stood, and how to say where it goes.
  function target(grip, event) {
    if (grip.dataset.insert) return inserted(grip, event);
    const name = grip.dataset.drag;
    if (name === "heater") {
      const at = { x: field("spot.x_mm"), y: field("spot.y_mm"), z: 0 };
      return { at, command: (p) => ({ op: "place", x_mm: p.x, y_mm: p.y }) };
    }
    const place = grip.dataset.place;
    const at = { x: field(`${place}.x_mm`), y: field(`${place}.y_mm`), z: field(`${place}.z_mm`) };
    return {
      at,
      command: (p) => ({ op: "set", changes: ["x", "y", "z"].filter((axis) => p[axis] !== at[axis]).map((axis) => ({ address: `${place}.${axis}_mm`, value: p[axis] })) }),
    };
  }
  // A new corner pulled out of a straight, from where the pointer took hold of it.
  function inserted(grip, event) {
    const { collection, id, radius_mm, after, start, end } = JSON.parse(grip.dataset.insert);
    const on = paperPoint(event);
    const [a, b] = [start, end].map((point) => onPaper(point, grip.dataset.board));
    const length2 = (b.u - a.u) ** 2 + (b.v - a.v) ** 2;
    const share = Math.min(Math.max(((on.u - a.u) * (b.u - a.u) + (on.v - a.v) * (b.v - a.v)) / length2, 0.05), 0.95);
    const [x, y, z] = start.map((value, axis) => Math.round(value + share * (end[axis] - value)));
    const item = (p) => ({ id, x_mm: p.x, y_mm: p.y, z_mm: p.z, radius_mm });
    return { at: { x, y, z }, command: (p) => ({ op: "add", collection, item: item(p), first: after === null, after }) };
  }
  function onPaper([x, y, z], board) {
    const m = map();
    return { u: m.xOffset + m.scale * x, v: board === "plan" ? m.planOffset + m.planSign * m.scale * y : m.sideOffset - m.scale * z };
  }
  const field = (address) => Number(document.querySelector(`[data-exact="${address}"]`)?.dataset.value ?? NaN);

  // Where a corner is pulled near a place square to a neighbour it goes there; not in height, where level is no fall.
  const square = (value, near, axis, snap) => near.map((point) => point[axis]).find((mm) => Math.abs(mm - value) <= SQUARE_MM) ?? snapped(value, snap);
  function moved(at, board, du, dv, snap, near = []) {
    const m = map();
    const next = { ...at, x: square(at.x + du / m.scale, near, 0, snap) };
    if (board === "plan") next.y = square(at.y + (dv / m.scale) * m.planSign, near, 1, snap);
    else if (Number.isFinite(at.z)) next.z = snapped(at.z - dv / m.scale, snap);
    return next;
  }

  // --- previews: one in flight, the newest waits ---

  let inFlight = false;
  let waiting = null;
  async function preview(command) {
    if (command.changes && command.changes.length === 0) return;
    if (inFlight) { waiting = command; return; }
    inFlight = true;
    try {
      const body = new URLSearchParams({ ...state(), command: JSON.stringify(command) });
      const url = stationUrl();
      const answer = await fetch(url + "/preview", { method: "POST", body, headers: { "x-csrftoken": cookie("csrftoken"), "hx-request": "true" } });
      const shown = answer.ok ? await answer.json() : null;
      if (shown && work() && stationUrl() === url) show(shown);
    } finally {
      inFlight = false;
      if (waiting) { const next = waiting; waiting = null; preview(next); }
    }
  }
  function show(shown) {
    if ($("#overlay")) $("#overlay").innerHTML = shown.overlay;
    $("#findings").innerHTML = shown.findings;
    for (const [id, html] of Object.entries(shown.parts)) {
      const part = document.getElementById(id);
      if (part) part.innerHTML = html;
    }
    for (const [address, text] of Object.entries(shown.fields)) {
      const typed = document.querySelector(`input[name="set:${address}"]`);
      if (typed && typed !== document.activeElement) typed.value = text;
      document.querySelector(`[data-slide="${address}"]`)?.setAttribute("aria-valuetext", text);
    }
    work().classList.add("previewing");
    work().dataset.previews = String(Number(work().dataset.previews ?? 0) + 1);
  }
  async function back() {
    await htmx.ajax("GET", stationUrl() + location.search, { source: work(), target: "#work", swap: "morph:outerHTML" });
    const night = $("#night-live")?.closest("[hx-get]");
    if (night) htmx.trigger(night, "anew");
  }

  // --- dragging ---

  let drag = null;
  document.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest?.(".grip");
    if (!grip || event.button !== 0) return;
    if (grip.dataset.along) { takeAlong(event, grip); return; }
    const thing = target(grip, event);
    const near = JSON.parse(grip.dataset.near ?? "[]");
    drag = { thing, near, board: grip.dataset.board, from: paperPoint(event), to: thing.at, begun: false };
    drawing().setPointerCapture(event.pointerId);
    grip.focus({ preventScroll: true });
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const now = paperPoint(event);
    if (!drag.begun && Math.hypot(now.u - drag.from.u, now.v - drag.from.v) < 3) return;
    drag.begun = true;
    const to = moved(drag.thing.at, drag.board, now.u - drag.from.u, now.v - drag.from.v, event.altKey ? 1 : SNAP_MM, event.altKey ? [] : drag.near);
    if (to.x === drag.to.x && to.y === drag.to.y && to.z === drag.to.z) return;
    drag.to = to;
    preview(drag.thing.command(to));
  });
  document.addEventListener("pointerup", () => {
    if (!drag) return;
    const { thing, to, begun } = drag;
    drag = null;
    waiting = null;
    if (begun) drop(thing.command(to));
  });
  const letGo = () => { if (drag || pull || along) { drag = pull = along = null; waiting = null; back(); } };
  document.addEventListener("pointercancel", letGo);
  function drop(command) {
    work().classList.remove("previewing");
    if (command.changes?.length === 0) back(); else send(command);
  }

  // --- what sits on a pipe: dragged along it ---

  let along = null;
  const within = (grip, value) => Math.min(Math.max(value, Number(grip.dataset.low ?? 0)), Number(grip.dataset.high ?? Infinity));
  const setAlong = (address, mm) => ({ op: "set", changes: [{ address, value: mm }] });
  function takeAlong(event, grip) {
    along = { address: grip.dataset.along, within: (mm) => within(grip, mm), line: JSON.parse(document.getElementById(grip.dataset.on).dataset.line), to: null };
    drawing().setPointerCapture(event.pointerId);
    grip.focus({ preventScroll: true });
    event.preventDefault();
  }
  // The distance from the port of the point of the line that is nearest to the pointer.
  function nearestAlong(line, { u, v }) {
    let best = Infinity;
    let found = 0;
    for (let i = 0; i + 1 < line.length; i += 1) {
      const [u0, v0, s0] = line[i];
      const [u1, v1, s1] = line[i + 1];
      const length2 = (u1 - u0) ** 2 + (v1 - v0) ** 2;
      const share = length2 > 0 ? Math.min(Math.max(((u - u0) * (u1 - u0) + (v - v0) * (v1 - v0)) / length2, 0), 1) : 0;
      const away = Math.hypot(u0 + share * (u1 - u0) - u, v0 + share * (v1 - v0) - v);
      if (away < best) { best = away; found = s0 + share * (s1 - s0); }
    }
    return found;
  }
  document.addEventListener("pointermove", (event) => {
    if (!along) return;
    const to = along.within(snapped(nearestAlong(along.line, paperPoint(event)), event.altKey ? 1 : SNAP_MM));
    if (to === along.to) return;
    along.to = to;
    preview(setAlong(along.address, to));
  });
  document.addEventListener("pointerup", () => {
    if (!along) return;
    const { address, to } = along;
    along = null;
    waiting = null;
    if (to !== null) drop(setAlong(address, to));
  });

  // --- sliders: figures follow the thumb, the value is kept when it is let go ---

  const slid = (slide) => ({ op: "set", changes: [{ address: slide.dataset.slide, value: Number(slide.value) }] });
  document.addEventListener("input", (event) => {
    if (event.target.matches?.("[data-slide]")) preview(slid(event.target));
  });
  document.addEventListener("change", (event) => {
    if (event.target.matches?.("[data-slide]")) { waiting = null; drop(slid(event.target)); }
  });

  // --- the start of the night: dragged on its chart; the end of the night stays ---

  const QUARTER_H = 0.25;
  let pull = null;
  let refocus = null;
  function startMoved(from, hours, by) {
    const moved = Math.min(Math.max(Math.round(by / QUARTER_H) * QUARTER_H, hours - 24), hours - 1);
    const at = (address, value) => ({ address: `heat.night.${address}`, value });
    return { op: "set", changes: [at("start_h", (from + moved + 24) % 24), at("hours_h", hours - moved)] };
  }
  document.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest?.("#start-grip");
    if (!grip || event.button !== 0) return;
    const svg = $("#night-drawing");
    const pxPerHour = Number(svg.dataset.pxPerHour) * svg.getScreenCTM().a;
    pull = { from: Number(grip.dataset.start), hours: Number(grip.dataset.hours), x: event.clientX, pxPerHour, command: null };
    document.body.setPointerCapture(event.pointerId);
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!pull) return;
    const command = startMoved(pull.from, pull.hours, (event.clientX - pull.x) / pull.pxPerHour);
    if (JSON.stringify(command) === JSON.stringify(pull.command)) return;
    pull.command = command;
    preview(command);
  });
  document.addEventListener("pointerup", () => {
    if (!pull) return;
    const { command } = pull;
    pull = null;
    waiting = null;
    if (command) { refocus = "start-grip"; drop(command); }
  });
  function startKeys(event, grip) {
    const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!way) return false;
    refocus = "start-grip";
    send(startMoved(Number(grip.dataset.start), Number(grip.dataset.hours), way * (event.shiftKey ? 1 : QUARTER_H)));
    return true;
  }
  document.addEventListener("htmx:afterSettle", () => {
    const found = refocus && document.getElementById(refocus);
    if (found && found !== document.activeElement) { found.focus({ preventScroll: true }); refocus = null; }
  });

  // --- drawing a new part on the plan ---

  let sketch = null;
  const drawing_on = () => work()?.dataset.drawing === "yes";
  function toggleDrawing() {
    work().dataset.drawing = drawing_on() ? "no" : "yes";
    $("#draw-part").setAttribute("aria-pressed", String(drawing_on()));
    $("#board-hint").textContent = drawing_on() ? "drag a rectangle on the plan; Esc leaves" : "click a part to choose it";
  }
  document.addEventListener("pointerdown", (event) => {
    if (!drawing_on() || event.button !== 0 || !event.target.closest("#board-drawing")) return;
    const from = paperPoint(event);
    if (from.v > map().tapeTop) return;
    const node = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    node.setAttribute("class", "sketch");
    drawing().append(node);
    sketch = { from, to: from, node };
    event.preventDefault();
  }, true);
  document.addEventListener("pointermove", (event) => {
    if (!sketch) return;
    sketch.to = paperPoint(event);
    const { from, to, node } = sketch;
    const box = { x: Math.min(from.u, to.u), y: Math.min(from.v, to.v), width: Math.abs(to.u - from.u), height: Math.abs(to.v - from.v) };
    for (const [key, value] of Object.entries(box)) node.setAttribute(key, value);
  });
  document.addEventListener("pointerup", () => {
    if (!sketch) return;
    const { from, to, node } = sketch;
    sketch = null;
    node.remove();
    const m = map();
    const xs = [from.u, to.u].map((u) => snapped((u - m.xOffset) / m.scale, SNAP_MM));
    const ys = [from.v, to.v].map((v) => snapped((v - m.planOffset) / m.scale / m.planSign, SNAP_MM));
    const at = [Math.min(...xs), Math.min(...ys), Math.abs(xs[1] - xs[0]), Math.abs(ys[1] - ys[0])];
    if (at[2] < SNAP_MM || at[3] < SNAP_MM) return;
    work().dataset.drawing = "no";
    post("/add", { kind: $("#add-kind").value, shape: "box", drawn: at.join(" ") });
  });

  // --- measuring on the tape, choosing a part ---

  let tapeStart = null;
  document.addEventListener("click", (event) => {
    const close = event.target.closest("[data-close]");
    if (close) { document.getElementById(close.dataset.close).replaceChildren(); return; }
    if (event.target.closest("#keys-button")) { toggleKeys(); return; }
    if (event.target.closest("#draw-part")) { toggleDrawing(); return; }
    if (drawing_on()) return;
    const shown = event.target.closest("[data-preview]");
    if (shown) { preview(JSON.parse(shown.dataset.preview)); $("#board-hint")?.replaceChildren("previewed, not saved; Esc goes back"); return; }
    if (event.target.closest("#tape")) { measure(event); return; }
    const solid = event.target.closest("#survey .solid");
    if (solid && work().dataset.station === "vehicle") document.querySelector(`[data-choose="${solid.dataset.item}"]`)?.click();
  });
  function measure(event) {
    const u = paperPoint(event).u;
    const m = map();
    const svg = drawing();
    svg.querySelectorAll(".measure, .measure-text").forEach((node) => node.remove());
    if (tapeStart === null) tapeStart = u;
    const length = Math.abs(u - tapeStart) / m.scale;
    const inches = $("#units").textContent.trim().startsWith("in");
    const words = inches ? `${(length / 25.4).toFixed(2)}"` : `${length.toFixed(0)} mm`;
    const make = (tag, attributes, text = "") => {
      const node = document.createElementNS("http://www.w3.org/2000/svg", tag);
      for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, value);
      node.textContent = text;
      svg.append(node);
    };
    for (const at of [tapeStart, u]) make("path", { class: "measure", d: `M${at} 0V${svg.viewBox.baseVal.height}` });
    if (tapeStart !== u) {
      make("path", { class: "measure", d: `M${tapeStart} ${m.tapeTop + 4}H${u}` });
      make("text", { class: "measure-text", x: (tapeStart + u) / 2, y: m.tapeTop - 5, "text-anchor": "middle" }, words);
      tapeStart = null;
    }
  }
  function toggleKeys() {
    const keys = $("#keys");
    keys.hidden = !keys.hidden;
    $("#keys-button").setAttribute("aria-expanded", String(!keys.hidden));
  }

  // --- the floor map: the reason under the pointer, the best spots lettered ---

  let asking = false;
  let asked = "";
  document.addEventListener("pointermove", async (event) => {
    if (drag || asking || !event.target.closest?.("#board") || !$(".floor-map")) return;
    const { u, v } = paperPoint(event);
    const m = map();
    if (v > m.tapeTop) return;
    const x = ((u - m.xOffset) / m.scale).toFixed(0);
    const y = ((v - m.planOffset) / m.scale / m.planSign).toFixed(0);
    const query = `x=${x}&y=${y}&best=${state().floor === "best"}`;
    if (query === asked) return;
    asked = query;
    asking = true;
    try {
      const answer = await fetch(`${stationUrl()}/why?${query}`);
      if (answer.ok) $("#board-hint").textContent = (await answer.json()).words;
    } finally { asking = false; }
  });
  function letters() {
    const svg = drawing();
    if (!svg) return;
    svg.querySelectorAll(".letter").forEach((node) => node.remove());
    const m = map();
    document.querySelectorAll("#best-spots tr[data-letter]").forEach((row) => {
      const at = { x: m.xOffset + m.scale * Number(row.dataset.x), y: m.planOffset + m.planSign * m.scale * Number(row.dataset.y) };
      if (at.y > m.tapeTop || at.y < 0) return;
      const add = (tag, attributes, text = "") => {
        const node = document.createElementNS("http://www.w3.org/2000/svg", tag);
        for (const [key, value] of Object.entries(attributes)) node.setAttribute(key, value);
        node.textContent = text;
        svg.append(node);
      };
      add("circle", { class: "letter spot-letter", cx: at.x, cy: at.y, r: 10 });
      add("text", { class: "letter spot-letter-text", x: at.x, y: at.y + 5, "text-anchor": "middle" }, row.dataset.letter);
    });
  }
  document.addEventListener("htmx:afterSettle", letters);

  // --- keys ---

  const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  document.addEventListener("keydown", (event) => {
    if (!work()) return;
    const typing = event.target.matches?.("input:not([type=checkbox]), select, textarea");
    if (event.key === "Escape") { escape(); return; }
    if (typing) return;
    if (event.ctrlKey || event.metaKey) { undoKeys(event); return; }
    const grip = document.activeElement?.closest?.(".grip");
    if (grip && gripKeys(event, grip)) { event.preventDefault(); return; }
    const startGrip = document.activeElement?.closest?.("#start-grip");
    if (startGrip && startKeys(event, startGrip)) { event.preventDefault(); return; }
    if (event.altKey) return;
    if (event.key === "?") toggleKeys();
    else if (event.key.toLowerCase() === "b") flip($(".switch .on")?.dataset.flip === "above" ? "below" : "above");
    else if (event.key.toLowerCase() === "f") flip($('[data-flip="left"]')?.classList.contains("on") ? "right" : "left");
    else $(`[data-key="${CSS.escape(event.key)}"]`)?.click();
  });
  function escape() {
    if (!$("#keys").hidden) toggleKeys();
    else if (drawing_on()) { sketch?.node.remove(); sketch = null; toggleDrawing(); }
    else if (drag || pull || along) letGo();
    else if (work().classList.contains("previewing")) {
      const slide = document.activeElement?.closest?.("[data-slide]");
      if (slide) slide.value = slide.defaultValue;
      back();
    }
  }
  const flip = (way) => $(`[data-flip="${way}"]`)?.click();
  function undoKeys(event) {
    const key = event.key.toLowerCase();
    const again = key === "y" || (key === "z" && event.shiftKey);
    if (!again && key !== "z") return;
    event.preventDefault();
    (again ? $("#redo") : $("#undo"))?.click();
  }
  function gripKeys(event, grip) {
    const step = event.shiftKey ? 50 : event.altKey ? 1 : 5;
    if (grip.dataset.turn && event.key.toLowerCase() === "r") {
      const turned = field(grip.dataset.turn) + (event.shiftKey ? -TURN_DEG : TURN_DEG);
      send({ op: "set", changes: [{ address: grip.dataset.turn, value: Math.min(Math.max(turned, -90), 90) }] });
      return true;
    }
    if (grip.dataset.along) {
      const up = grip.dataset.up ? 1 : -1;
      const way = { ArrowLeft: -1, ArrowUp: up, ArrowRight: 1, ArrowDown: -up }[event.key];
      if (way) send(setAlong(grip.dataset.along, within(grip, field(grip.dataset.along) + way * step)));
      return Boolean(way);
    }
    const thing = target(grip);
    if (event.key.toLowerCase() === "r" && grip.dataset.drag === "heater") {
      send({ op: "place", x_mm: thing.at.x, y_mm: thing.at.y, yaw_deg: (field("spot.yaw_deg") + 90) % 360 });
      return true;
    }
    const next = { ...thing.at };
    if (event.key === "PageUp" || event.key === "PageDown") next.z += event.key === "PageUp" ? step : -step;
    else if (ARROWS[event.key]) {
      const [dx, dv] = ARROWS[event.key];
      next.x += dx * step;
      if (grip.dataset.board === "plan") next.y += dv * step * map().planSign;
      else next.z -= dv * step;
    } else return false;
    const command = thing.command(next);
    if (command.changes?.length !== 0) send(command);
    return true;
  }
})();
