// An answer of the Table is laid over what stands: only what differs is exchanged, so that what did not move is not drawn
// again. The page says what it has, and of that the answer holds only the name.
"use strict";
globalThis.laying = (() => {
  const FIELDS = "input, select, textarea";
  // The symbols a drawing refers to are sent once, and stay on the page.
  const art = () => document.querySelector("#art defs");
  const takeArt = (answer) => {
    for (const fresh of answer.querySelectorAll(".new-art")) {
      art().append(...fresh.querySelectorAll("defs > *"));
      fresh.remove();
    }
  };
  // Every form says at which state it was read; with that said first, a form that has not changed is the same as before.
  const sayReadAt = (target, answer) => {
    const state = answer.querySelector("[data-read-at]")?.dataset.readAt;
    for (const each of state ? target.querySelectorAll("input[name=read_at]") : []) each.setAttribute("value", state);
  };
  // Who is chosen is not in an answer. With that said first the row keeps its height, and the page is laid out once.
  const sayChosen = (target, answer) => {
    const chosen = target.querySelector("tr.entry.chosen")?.dataset.entry;
    const row = [...answer.querySelectorAll("tr.entry")].find((each) => each.dataset.entry === chosen);
    row?.classList.add("chosen");
    row?.setAttribute("aria-selected", "true");
  };
  // The longest run of nodes that stand in the order wanted already: they stay, and only the others move past them.
  const findStaying = (nodes, places) => {
    const tails = [];
    const before = new Map();
    for (const node of nodes) {
      const place = places.get(node);
      if (place === undefined) continue;
      let [low, high] = [0, tails.length];
      while (low < high) {
        const middle = (low + high) >> 1;
        if (places.get(tails[middle]) < place) low = middle + 1;
        else high = middle;
      }
      before.set(node, tails[low - 1]);
      tails[low] = node;
    }
    const staying = new Set();
    for (let node = tails.at(-1); node; node = before.get(node)) staying.add(node);
    return staying;
  };
  // One drawing laid over another, piece by piece: what is the same is not touched, what moved is only placed anew.
  const keyOf = (node) => node.dataset?.key ?? "";
  const layOver = (old, fresh, shown) => {
    if (fresh.dataset?.same !== undefined) {
      for (const name of ["class", "transform"]) old.removeAttribute(name); // as a drag left it
      return old;
    }
    if (old.isEqualNode(fresh)) return old;
    if (old.nodeName !== fresh.nodeName || keyOf(old) !== keyOf(fresh)) return fresh;
    if (!old.attributes) {
      old.nodeValue = fresh.nodeValue;
      return old;
    }
    for (const each of [...old.attributes]) if (!fresh.hasAttribute(each.name)) old.removeAttribute(each.name);
    for (const each of fresh.attributes) if (old.getAttribute(each.name) !== each.value) old.setAttribute(each.name, each.value);
    const named = new Map([...old.children].filter(keyOf).map((each) => [keyOf(each), each]));
    const others = [...old.childNodes].filter((each) => !keyOf(each));
    const wanted = [...fresh.childNodes].map((each) => {
      const was = keyOf(each) ? (named.get(keyOf(each)) ?? shown.get(keyOf(each))) : others.shift();
      return was ? layOver(was, each, shown) : each;
    });
    const places = new Map([...old.childNodes].map((each, place) => [each, place]));
    const staying = findStaying(wanted, places);
    const kept = new Set(wanted);
    for (const each of places.keys()) if (!kept.has(each)) each.remove();
    let next = null;
    for (const each of wanted.reverse()) {
      if (!staying.has(each)) old.insertBefore(each, next);
      next = each;
    }
    return old;
  };
  // What need not be sent again: the symbols that stand on the page, and its parts by the marks of what is in them.
  const sayHas = (parameters) => {
    parameters.has = [...art().children].map((each) => each.id).join(",");
    parameters.marks = [...document.querySelectorAll("[data-mark]")].map((each) => `${each.id}=${each.dataset.mark}`).join(",");
  };
  // A part that was not sent stays; what was typed or chosen in it goes back to what it was sent with.
  const touched = new Set();
  const touch = (field) => touched.add(field);
  for (const kind of ["input", "change"]) document.addEventListener(kind, (event) => touch(event.target), true);
  addEventListener("pageshow", () => document.querySelectorAll(FIELDS).forEach(touch)); // what a browser remembered
  const resetFields = (part) => {
    for (const field of touched) {
      if (!part.contains(field)) continue;
      if (field.matches("select")) field.selectedIndex = Math.max(0, [...field.options].findIndex((each) => each.defaultSelected));
      else [field.value, field.checked] = [field.defaultValue, field.defaultChecked];
      touched.delete(field);
    }
  };
  // Whether a part says the same and what is typed, ticked and chosen in it is what the answer has: then it stays as it is.
  const fieldsOf = (part) => (part.matches?.(FIELDS) ? [part] : [...(part.querySelectorAll?.(FIELDS) ?? [])]);
  const isAsBefore = (old, fresh) => {
    if (!old.isEqualNode(fresh)) return false;
    const answered = fieldsOf(fresh);
    return fieldsOf(old).every((field, at) => field.value === answered[at].value && field.checked === answered[at].checked);
  };
  const morphing = {
    beforeNodeMorphed: (old, fresh) => {
      if (fresh.dataset?.same !== undefined) {
        resetFields(old);
        return false;
      }
      if (isAsBefore(old, fresh) || old.id === "meant-pane") return false;
      if (!(old instanceof SVGSVGElement) || !(fresh instanceof SVGSVGElement)) return true;
      const shown = new Map([...old.querySelectorAll("[data-key]")].map((each) => [keyOf(each), each]));
      layOver(old, fresh, shown);
      return false;
    },
    afterNodeAdded: (added) => {
      if (added instanceof HTMLElement) htmx.process(added);
    },
  };
  htmx.defineExtension("keep", {
    isInlineSwap: (style) => style === "keep",
    handleSwap: (style, target, answer) => {
      if (!style.startsWith("keep")) return false;
      takeArt(answer);
      sayReadAt(target, answer);
      sayChosen(target, answer);
      for (const piece of target.querySelectorAll(".drawing .lit, .drawing .picked")) piece.removeAttribute("class");
      for (const field of touched) if (!field.isConnected) touched.delete(field);
      Idiomorph.morph(target, answer.children, { morphStyle: style === "keep" ? "outerHTML" : "innerHTML", callbacks: morphing });
      // What the answer only named and the page has lost after all: then all of it is asked for again.
      if (document.querySelector("#work [data-same]")) location.reload();
      return true; // what stood is known to htmx, what is new was told above: it need not look through all again
    },
  });
  document.addEventListener("htmx:configRequest", (event) => {
    if (/^\/table\/\d+\/(change|drawing)$/.test(event.detail.path)) sayHas(event.detail.parameters);
  });
  return { touch };
})();
