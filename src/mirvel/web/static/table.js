// The Table's keys, and one queue for its changes: each is sent with the state the last answer was at, so that
// quick presses follow one another, and presses of one kind on one entry are added up while an answer is awaited.
"use strict";
(() => {
  const TYPED = "input:not([type=hidden]), textarea";
  const work = () => document.getElementById("work");
  const rows = () => [...document.querySelectorAll("tr.entry")];
  const waiting = [];
  let sending = false;
  let chosen = null;

  // How the drawing is looked at: it travels with every change, so that the answer is drawn the same way.
  const lookingForm = () => document.getElementById("looking");
  const looking = () => (lookingForm() ? Object.fromEntries(new FormData(lookingForm())) : {});
  const look = (field, value) => {
    const form = lookingForm();
    form.elements[field].value = value;
    htmx.trigger(form, "change");
  };
  const turn = (way) => look("hour", document.getElementById(`turn-${way}`).dataset.hour);
  const markPicked = () => {
    const [entry, number] = (looking().piece ?? "").split(".");
    for (const piece of document.querySelectorAll(".drawing [data-piece]")) {
      piece.classList.toggle("picked", piece.dataset.entry === entry && piece.dataset.piece === number);
    }
  };

  // The pane about what is meant by the chosen entry, once it is opened: it goes with the choice, and after each change
  // it is asked for anew. What could not be read stays in its field.
  let meaning = false;
  const meantPane = () => document.getElementById("meant-pane");

  // What stands where a choice of it points to lights up on the drawing, all else steps back.
  const light = (there) => {
    const keys = new Set(there?.split(" "));
    work().classList.toggle("lighting", Boolean(there));
    for (const piece of document.querySelectorAll(".drawing g[data-piece]"))
      piece.classList.toggle("there", keys.has(`${piece.dataset.entry}.${piece.dataset.piece}`));
    for (const blade of document.querySelectorAll(".drawing g[data-blade]")) blade.classList.toggle("there", keys.has(blade.dataset.blade));
  };
  for (const [begin, end] of [["pointerover", "pointerout"], ["focusin", "focusout"]]) {
    document.addEventListener(begin, (event) => {
      const there = event.target.closest("[data-lights]");
      if (there) light(there.dataset.lights);
    });
    document.addEventListener(end, (event) => event.target.closest("[data-lights]") && light(""));
  }
  const showMeant = async () => {
    light("");
    if (!meaning || !chosen) return meantPane()?.replaceChildren();
    await htmx.ajax("GET", `${location.pathname}/meant?entry=${chosen}`, { target: "#meant-pane", swap: "innerHTML settle:0ms" });
  };
  const openMeant = async (entry) => {
    if (!entry) return;
    [chosen, meaning] = [entry, true];
    choose(entry);
    await showMeant();
    focus("meant-text");
  };
  const closeMeant = () => {
    meaning = false;
    showMeant();
  };

  const choose = (entry, { scroll = true } = {}) => {
    const isOther = entry !== chosen;
    chosen = entry;
    if (isOther) showMeant();
    const all = rows();
    const own = all.find((row) => row.dataset.entry === entry);
    const marked = all.filter((row) => row.classList.contains("chosen"));
    if (marked.length !== (own ? 1 : 0) || marked[0] !== own) {
      const before = own?.getBoundingClientRect().top;
      for (const row of all) {
        row.classList.toggle("chosen", row === own);
        row.setAttribute("aria-selected", row === own);
      }
      // What another row gives up above it is made up for, so that the chosen one stays under the hand.
      if (own) own.closest(".entry-list").scrollTop += own.getBoundingClientRect().top - before;
    }
    if (own && scroll) own.scrollIntoView({ block: "nearest" });
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
      const next = { ...looking(), ...waiting.shift(), read_at: work().dataset.readAt };
      try {
        await htmx.ajax("POST", work().dataset.change, { values: next, target: "#work", swap: "keep settle:0ms" });
      } catch {
        waiting.length = 0; // told by the events below; what was pressed meanwhile was not saved either
      }
      if (next.kind === "add") choose(rows().find((row) => !known.has(row.dataset.entry))?.dataset.entry ?? chosen);
      else choose(rows().some((row) => row.dataset.entry === chosen) ? chosen : null, { scroll: false });
      known = new Set(rows().map((row) => row.dataset.entry));
    }
    sending = false;
    work().removeAttribute("aria-busy"); // also where no answer came
    waitingFor.clear();
  };
  let known = new Set();
  const waitingFor = new Set(); // fields whose typed value is on its way, so that the answer's value is the one to show

  const sendForm = (form, submitter) => {
    const values = Object.fromEntries(new FormData(form, submitter));
    delete values.read_at;
    const field = form.querySelector(TYPED);
    if (field) waitingFor.add(nameOf(field));
    if (form.closest("#found")) closeFound(); // leaves the field, so that keys act again
    send(values);
  };

  document.addEventListener("submit", (event) => {
    if (!event.target.matches("form.change")) return;
    event.preventDefault();
    // Enter in a field has sent its change by the event below already.
    if (!event.target.querySelector(TYPED)) sendForm(event.target, event.submitter);
  });
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form.change");
    if (form) sendForm(form);
  });

  // What is being typed while an answer comes in stays; htmx itself puts the focus back where it was, and a field that
  // was marked whole is marked again, so that the next key still replaces what is in it.
  // Panes stay open or shut as they were.
  let typing = null;
  let marked = null;
  let open = new Map();
  // A field by its id or, without one, by the form it stands in and what that changes.
  const nameOf = (field) => {
    if (field.id) return field.id;
    const hidden = [...(field.form?.querySelectorAll("input[type=hidden]") ?? [])].filter((each) => each.name !== "read_at" && each.name !== "once");
    return [field.form?.getAttribute("action"), ...hidden.map((each) => `${each.name}=${each.value}`), field.name].join("|");
  };
  const findField = (name) => [...document.querySelectorAll("#work input:not([type=hidden]), #work textarea")].find((field) => nameOf(field) === name);
  const isMarkedWhole = (field) =>
    field?.matches("#work input:not([type=hidden])") && field.value !== "" && field.selectionStart === 0 && field.selectionEnd === field.value.length;
  document.addEventListener("htmx:beforeSwap", () => {
    const field = document.activeElement;
    const unsaved = field?.matches("#work input:not([type=hidden]), #work textarea") && field.value !== field.defaultValue;
    open = new Map([...document.querySelectorAll("#work details[id]")].map((pane) => [pane.id, pane.open]));
    marked = isMarkedWhole(field) ? nameOf(field) : null;
    typing = unsaved && !waitingFor.has(nameOf(field)) ? { name: nameOf(field), value: field.value, at: field.selectionStart } : null;
  });
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.target.id === "meant-pane") return;
    if (meaning && !work().dataset.fault.startsWith("meant ")) showMeant();
    const field = typing && findField(typing.name);
    if (field) {
      field.value = typing.value;
      laying.touch(field);
      field.focus();
      if (typing.at !== null) field.setSelectionRange(typing.at, typing.at);
    }
    if (marked && document.activeElement.form && nameOf(document.activeElement) === marked) document.activeElement.select();
    for (const pane of document.querySelectorAll("#work details[id]")) if (open.has(pane.id)) pane.open = open.get(pane.id);
    choose(rows().some((row) => row.dataset.entry === chosen) ? chosen : null, { scroll: false });
    markPicked();
    heads.settleSoon();
  });

  // Enter adds the first of what was found for the words that stand there now: who types fast waits for their answer.
  let waitsToAdd = false;
  const addFirst = () => {
    waitsToAdd = document.querySelector("#found [data-for]")?.dataset.for !== document.getElementById("add")?.value;
    if (!waitsToAdd) document.querySelector("#found .choice")?.click();
  };
  document.addEventListener("input", () => (waitsToAdd = false));
  document.addEventListener("htmx:afterSettle", (event) => {
    if (waitsToAdd && event.target.id === "found") addFirst();
  });

  // A head is dragged on the picture; how far, in cm of the piece, is sent, and where that leads is reckoned there.
  let drag = null;
  let dropped = false;
  document.addEventListener("pointerdown", (event) => {
    const piece = event.target.closest(".drawing .piece [data-piece]");
    if (!piece || event.button !== 0 || sending) return;
    dropped = false;
    const scale = piece.ownerSVGElement.getScreenCTM().a;
    drag = { piece, scale, x: event.clientX, y: event.clientY, moved: false };
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    if (!drag.moved && Math.hypot(dx, dy) < 4) return;
    drag.moved = true;
    drag.piece.classList.add("dragged");
    drag.piece.setAttribute("transform", `translate(${dx / drag.scale} ${dy / drag.scale})`);
  });
  document.addEventListener("pointerup", (event) => {
    if (!drag) return;
    const { piece, scale, moved } = drag;
    const [right, up] = [(event.clientX - drag.x) / scale / 10, (drag.y - event.clientY) / scale / 10];
    drag = null;
    if (!moved) return;
    dropped = true; // the click that ends a drag chooses nothing
    const name = `${piece.dataset.entry}.${piece.dataset.piece}`;
    chosen = piece.dataset.entry;
    const on = piece.closest("[data-view]").dataset.view;
    send({ kind: "move", piece: name, on, right: right.toFixed(2), up: up.toFixed(2) });
  });
  document.addEventListener("pointercancel", () => {
    drag?.piece.removeAttribute("transform");
    drag = null;
  });
  ordering.begin({ rows, send });
  const carry = (right, up) => looking().piece && send({ kind: "move", piece: looking().piece, on: "front", right, up });
  const carries = { ArrowLeft: ["-0.5", "0"], ArrowRight: ["0.5", "0"], ArrowUp: ["0", "0.5"], ArrowDown: ["0", "-0.5"] };

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
  // The pieces of the chosen entry (or of all) one after the other, as they stand in the list of entries.
  const pick = (by) => {
    const all = new Map();
    for (const piece of document.querySelectorAll(".drawing .piece [data-piece]")) {
      if (chosen === null || piece.dataset.entry === chosen) all.set(`${piece.dataset.entry}.${piece.dataset.piece}`, Number(piece.dataset.piece));
    }
    const names = [...all.keys()].sort((one, other) => one.split(".")[0].localeCompare(other.split(".")[0], undefined, { numeric: true }) || all.get(one) - all.get(other));
    if (!names.length) return;
    const at = names.indexOf(looking().piece);
    look("piece", names[at < 0 ? (by > 0 ? 0 : names.length - 1) : (at + by + names.length) % names.length]);
  };
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
    ",": () => turn("left"),
    ".": () => turn("right"),
    "/": () => focus("add"),
    p: () => focus("price"),
    v: () => focus("vessel"),
    m: () => focus("factor"),
    i: () => openMeant(chosen ?? rows()[0]?.dataset.entry),
    s: () => document.getElementById(`split-${chosen}`)?.click(),
    u: () => send({ kind: "undo" }),
    U: () => send({ kind: "redo" }),
    o: () => pick(1),
    O: () => pick(-1),
    f: () => document.getElementById("ask-fit").click(),
    w: () => document.getElementById("ask-extras").click(),
    r: () => document.querySelector(".mend-it")?.click(),
    k: () => document.getElementById("card-link").click(),
    "?": openKeys,
  };
  const keysAreOn = () => localStorage.getItem("single-keys") !== "off";

  document.addEventListener("keydown", (event) => {
    const field = event.target.closest("input, select, textarea, dialog");
    if (event.key === "Escape" && field && !field.matches("dialog")) {
      if (field.id === "add") closeFound();
      if (field.closest("#meant-pane")) closeMeant();
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
      addFirst();
      event.preventDefault();
      return;
    }
    if (!field && event.shiftKey && event.key in carries && keysAreOn()) {
      event.preventDefault();
      carry(...carries[event.key]);
      return;
    }
    if (!field && event.altKey && chosen && keysAreOn() && /^Arrow(Up|Down)$/.test(event.key)) {
      event.preventDefault();
      send({ kind: "order", entry: chosen, by: event.key === "ArrowUp" ? "-1" : "1" });
      return;
    }
    if (field || event.ctrlKey || event.metaKey || event.altKey || !keysAreOn() || !(event.key in keys)) return;
    event.preventDefault();
    keys[event.key]();
  });

  document.addEventListener("click", (event) => {
    if (dropped) {
      dropped = false;
      return;
    }
    if (event.target.closest("[data-open-keys]")) openKeys();
    if (event.target.closest("#meant-close")) closeMeant();
    const asked = event.target.closest("[data-meant]");
    if (asked) openMeant(asked.dataset.meant);
    const turner = event.target.closest("button.turn");
    if (turner) look("hour", turner.dataset.hour);
    const piece = event.target.closest(".drawing .piece [data-piece]");
    if (piece) look("piece", `${piece.dataset.entry}.${piece.dataset.piece}`);
    const row = event.target.closest("tr.entry") ?? event.target.closest(".drawing [data-entry]");
    if (row) choose(row.dataset.entry, { scroll: !row.matches("tr") });
    else if (event.target.closest(".sheet")) choose(null);
  });

  // A press of the mouse or a finger chooses when it is let go, not before: rows grow, and it would miss what it is on.
  let isPressed = false;
  document.addEventListener("pointerdown", () => { isPressed = true; }, true);
  for (const ended of ["pointerup", "pointercancel", "keydown"]) document.addEventListener(ended, () => { isPressed = false; }, true);
  document.addEventListener("focusin", (event) => {
    const row = event.target.closest("tr.entry");
    if (row && !isPressed && row.dataset.entry !== chosen) choose(row.dataset.entry, { scroll: false });
  });

  document.addEventListener("DOMContentLoaded", () => {
    known = new Set(rows().map((row) => row.dataset.entry));
    const box = document.getElementById("single-keys");
    box.checked = keysAreOn();
    box.addEventListener("change", () => localStorage.setItem("single-keys", box.checked ? "on" : "off"));
  });
  const tell = (words) => {
    const line = Object.assign(document.createElement("div"), { className: "problems", textContent: words });
    line.setAttribute("role", "alert");
    document.querySelectorAll(".entry-list > .problems").forEach((old) => old.remove());
    document.querySelector(".entry-list").prepend(line);
    waiting.length = 0;
  };
  const unsaved = "Your last change was not saved; what you see is the last saved state. Try it again in a moment.";
  document.addEventListener("htmx:sendError", () => tell(`Mirvel does not answer. ${unsaved}`));
  document.addEventListener("htmx:responseError", (event) => {
    const id = event.detail.xhr.getResponseHeader("X-Request-Id");
    tell(`Something went wrong${id ? ` (request ${id})` : ""}. ${unsaved}`);
  });
})();
