// Each head is painted once, to the size it is shown at, and placed as that picture: a press that moves a hundred of them
// then moves pictures, and draws no petal again. What can be pointed at stays the head's own outline.
"use strict";
globalThis.heads = (() => {
  const SVG = "http://www.w3.org/2000/svg";
  const FINER = 1.6; // than the screen, so that a head turned or squeezed stays sharp
  const [LEAST_PX, MOST_PX] = [48, 640];
  const STEP = 1.25; // between the sizes painted at: a drawing that grows a little needs no new ones
  const MARGIN = 2; // in units of a drawing, whose heads are 100 wide
  const SEEN = 40; // alpha from which a spot belongs to the head
  const paintedAt = new WeakMap(); // symbol: how large, so that it is done anew only for a screen that shows it larger
  const vectors = new WeakMap(); // symbol: what it was drawn of

  const said = document.documentElement.dataset; // whether all that is shown has been painted

  const make = (name, attributes) => {
    const made = document.createElementNS(SVG, name);
    for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
    return made;
  };

  // The largest size each symbol is shown at, in the screen's own dots.
  const measure = () => {
    const sizes = new Map();
    for (const use of document.querySelectorAll(".drawing use")) {
      const box = use.getBoundingClientRect();
      const name = use.getAttribute("href").slice(1);
      sizes.set(name, Math.max(sizes.get(name) ?? 0, box.width, box.height));
    }
    return sizes;
  };

  const getBox = (symbol, bench) => {
    const copy = make("g", {});
    copy.innerHTML = vectors.get(symbol);
    bench.append(copy);
    const box = copy.getBBox();
    copy.remove();
    return { x: box.x - MARGIN, y: box.y - MARGIN, width: box.width + 2 * MARGIN, height: box.height + 2 * MARGIN };
  };

  // The outline of what is painted, as the hull of each row's first and last seen spot.
  const getOutline = (brush, width, height) => {
    const alpha = brush.getImageData(0, 0, width, height).data;
    const [left, right] = [[], []];
    const step = Math.max(1, Math.round(height / 24));
    for (let y = 0; y < height; y += step) {
      let [first, last] = [-1, -1];
      for (let x = 0; x < width; x += 1) {
        if (alpha[4 * (y * width + x) + 3] < SEEN) continue;
        if (first < 0) first = x;
        last = x;
      }
      if (first < 0) continue;
      left.unshift(`${first} ${y}`);
      right.push(`${last + 1} ${y}`);
    }
    return right.length ? `M${[...right, ...left].join("L")}Z` : "";
  };

  const paint = async (symbol, box, dots) => {
    const scale = dots / Math.max(box.width, box.height);
    const [width, height] = [Math.ceil(box.width * scale), Math.ceil(box.height * scale)];
    const view = `${box.x} ${box.y} ${box.width} ${box.height}`;
    const text = `<svg xmlns="${SVG}" width="${width}" height="${height}" viewBox="${view}" preserveAspectRatio="none">${vectors.get(symbol)}</svg>`;
    const picture = new Image();
    picture.src = `data:image/svg+xml,${encodeURIComponent(text)}`;
    await picture.decode();
    const canvas = Object.assign(document.createElement("canvas"), { width, height });
    const brush = canvas.getContext("2d", { willReadFrequently: true });
    brush.drawImage(picture, 0, 0, width, height);
    const painted = make("image", { ...box, href: canvas.toDataURL(), preserveAspectRatio: "none", "pointer-events": "none" });
    const place = `matrix(${box.width / width} 0 0 ${box.height / height} ${box.x} ${box.y})`;
    const outline = make("path", { d: getOutline(brush, width, height), transform: place, class: "head-outline", fill: "none", "pointer-events": "all" });
    return [painted, outline];
  };

  // Paint what is not painted yet, or too small, and put it in place all at once.
  const settle = async () => {
    const sizes = measure();
    const wanted = [];
    for (const symbol of document.querySelectorAll("#art defs > *")) {
      const shown = (sizes.get(symbol.id) ?? 0) * devicePixelRatio * FINER;
      const steps = Math.max(0, Math.ceil(Math.log(shown / LEAST_PX) / Math.log(STEP)));
      const dots = Math.min(MOST_PX, Math.ceil(LEAST_PX * STEP ** steps));
      if (!shown || dots <= (paintedAt.get(symbol) ?? 0)) continue;
      if (!vectors.has(symbol)) vectors.set(symbol, symbol.innerHTML);
      paintedAt.set(symbol, dots);
      wanted.push([symbol, dots]);
    }
    if (wanted.length) await paintAll(wanted);
    said.heads = "painted";
  };

  const paintAll = async (wanted) => {
    const bench = make("svg", { width: 0, height: 0, visibility: "hidden" });
    document.body.append(bench);
    const boxes = wanted.map(([symbol]) => getBox(symbol, bench));
    bench.remove();
    const painted = [];
    for (const [at, [symbol, dots]] of wanted.entries()) {
      painted.push([symbol, await paint(symbol, boxes[at], dots).catch(() => null)]);
      await new Promise((next) => requestIdleCallback(next, { timeout: 500 })); // whoever presses meanwhile comes first
    }
    for (const [symbol, drawn] of painted) if (drawn) symbol.replaceChildren(...drawn);
  };

  let waits = null;
  const settleSoon = () => {
    if (said.heads) said.heads = "painting";
    clearTimeout(waits);
    waits = setTimeout(settle, 150); // once nobody presses
  };
  addEventListener("load", settleSoon);
  addEventListener("resize", settleSoon);
  return { settleSoon };
})();
