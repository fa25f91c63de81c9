// An entry is dragged by its number to another line of the order of building; how many lines is sent, and what comes of
// that is reckoned there. Works with a mouse, a pen and a finger.
"use strict";
globalThis.ordering = (() => {
  const begin = ({ rows, send }) => {
    let drag = null; // the row, and before which of all it would go

    const clear = () => {
      for (const row of rows()) row.classList.remove("goes-before", "goes-after", "carried");
    };
    // Before which row the pointer is: the first whose middle lies below it.
    const findPlace = (y) => {
      const at = rows().findIndex((row) => {
        const box = row.getBoundingClientRect();
        return y < box.top + box.height / 2;
      });
      return at < 0 ? rows().length : at;
    };
    const show = () => {
      clear();
      drag.row.classList.add("carried");
      const all = rows();
      if (drag.to < all.length) all[drag.to].classList.add("goes-before");
      else all.at(-1).classList.add("goes-after");
    };

    document.addEventListener("pointerdown", (event) => {
      const handle = event.target.closest("tr.entry > .number");
      if (!handle || event.button) return;
      event.preventDefault();
      drag = { row: handle.parentElement, to: null };
      handle.setPointerCapture(event.pointerId);
    });
    document.addEventListener("pointermove", (event) => {
      if (!drag) return;
      drag.to = findPlace(event.clientY);
      show();
    });
    document.addEventListener("pointerup", () => {
      if (!drag) return;
      const { row, to } = drag;
      drag = null;
      clear();
      const at = rows().indexOf(row);
      if (at < 0 || to === null || to === at || to === at + 1) return;
      send({ kind: "order", entry: row.dataset.entry, by: String(to > at ? to - 1 - at : to - at) });
    });
    document.addEventListener("pointercancel", () => {
      drag = null;
      clear();
    });
  };
  return { begin };
})();
