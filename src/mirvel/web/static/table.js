// The Table's keys, and one queue for its changes: each is sent with the state the last answer was at, so that
// quick presses follow one another, and presses of one kind on one entry are added up while an answer is awaited.
"use strict";
(() => {
  const work = () => document.getElementById("work");
  const rows = () => [...document.querySelectorAll("tr.entry")];
  const waiting = [];
  let sending = false;
  let chosen = null;

  const choose = (entry, { scroll = true } = {}) => {
    chosen = entry;
    for (const row of rows()) {
      const on = row.dataset.entry === entry;
      row.classList.toggle("chosen", on);
      row.setAttribute("aria-selected", on);
      if (on && scroll) row.scrollIntoView({ block: "nearest" });
    }
    for (const piece of document.querySelectorAll(".drawing [data-entry]")) {
      piece.classList.toggle("lit", entry !== null && piece.dataset.entry === entry);
    }
  };

  const send = async (change) => {
    const last = waiting[waiting.length - 1];
    const adds = last && "by" in change && last.kind === change.kind && last.entry === change.entry;
    if (adds) last.by = String(Number(last.by) + Number(change.by));
    else waiting.push(change);
    if (sending) return;
    sending = true;
    work().setAttribute("aria-busy", "true");
    while (waiting.length) {
      const next = { ...waiting.shift(), read_at: work().dataset.readAt };
      const held = document.activeElement?.id;
      await htmx.ajax("POST", work().dataset.change, { values: next, target: "#work", swap: "outerHTML" });
      if (held && document.activeElement?.id !== held) document.getElementById(held)?.focus({ preventScroll: true });
      if (next.kind === "add") choose(rows().find((row) => !known.has(row.dataset.entry))?.dataset.entry ?? chosen);
      else choose(rows().some((row) => row.dataset.entry === chosen) ? chosen : null, { scroll: false });
      known = new Set(rows().map((row) => row.dataset.entry));
    }
    sending = false;
  };
  let known = new Set();

  const sendForm = (form, submitter) => {
    const values = Object.fromEntries(new FormData(form, submitter));
    delete values.read_at;
    if (form.closest("#found")) closeFound(); // leaves the field, so that keys act again
    send(values);
  };

  document.addEventListener("submit", (event) => {
    if (!event.target.matches("form.change")) return;
    event.preventDefault();
    sendForm(event.target, event.submitter);
  });
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form.change");
    if (form) sendForm(form);
  });

  const closeFound = () => {
    const field = document.getElementById("add");
    field.value = "";
    field.blur();
    document.getElementById("found").replaceChildren();
  };

  const step = (by) => {
    const all = rows();
    if (!all.length) return;
    const at = all.findIndex((row) => row.dataset.entry === chosen);
    const next = at < 0 ? (by > 0 ? 0 : all.length - 1) : Math.min(all.length - 1, Math.max(0, at + by));
    choose(all[next].dataset.entry);
  };
  const nudge = (by) => chosen && send({ kind: "nudge", entry: chosen, by });
  const focus = (id) => {
    const field = document.getElementById(id);
    field.focus();
    field.select?.();
  };
  const openKeys = () => document.getElementById("keys").showModal();

  const keys = {
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    "+": () => nudge("1"),
    "=": () => nudge("1"),
    "-": () => nudge("-1"),
    "−": () => nudge("-1"),
    "[": () => send({ kind: "height-nudge", by: "-1" }),
    "]": () => send({ kind: "height-nudge", by: "1" }),
    "/": () => focus("add"),
    p: () => focus("price"),
    v: () => focus("vessel"),
    m: () => focus("factor"),
    u: () => send({ kind: "undo" }),
    U: () => send({ kind: "redo" }),
    k: () => document.getElementById("card-link").click(),
    "?": openKeys,
  };
  const keysAreOn = () => localStorage.getItem("single-keys") !== "off";

  document.addEventListener("keydown", (event) => {
    const field = event.target.closest("input, select, textarea, dialog");
    if (event.key === "Escape" && field && !field.matches("dialog")) {
      if (field.id === "add") closeFound();
      field.blur();
      return;
    }
    if (field?.id === "add" && event.key === "ArrowDown") {
      document.querySelector("#found .choice")?.focus();
      event.preventDefault();
      return;
    }
    if (event.target.matches("#found .choice") && /^Arrow/.test(event.key)) {
      const all = [...document.querySelectorAll("#found .choice")];
      all[(all.indexOf(event.target) + (event.key === "ArrowDown" ? 1 : -1) + all.length) % all.length].focus();
      event.preventDefault();
      return;
    }
    if (field?.id === "add" && event.key === "Enter") {
      document.querySelector("#found .choice")?.click();
      event.preventDefault();
      return;
    }
    if (field || event.ctrlKey || event.metaKey || event.altKey || !keysAreOn() || !(event.key in keys)) return;
    event.preventDefault();
    keys[event.key]();
  });

  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-open-keys]")) openKeys();
    const row = event.target.closest("tr.entry") ?? event.target.closest(".drawing [data-entry]");
    if (row) choose(row.dataset.entry, { scroll: !row.matches("tr") });
    else if (event.target.closest(".drawing-pane")) choose(null);
  });

  document.addEventListener("DOMContentLoaded", () => {
    known = new Set(rows().map((row) => row.dataset.entry));
    const box = document.getElementById("single-keys");
    box.checked = keysAreOn();
    box.addEventListener("change", () => localStorage.setItem("single-keys", box.checked ? "on" : "off"));
  });
  document.addEventListener("htmx:sendError", () => alert("Mirvel does not answer. Your last change was not saved; try it again in a moment."));
})();
