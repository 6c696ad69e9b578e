// One observer of sizes for all elements of a page: each measures before any of them changes
// anything, so that the page is laid out once.

/** Measures, and gives what is to be changed after that.
 * @typedef {(box?: DOMRectReadOnly) => (() => void)} Settle */

/** By what is watched, as long as it stands on the page. @type {Map<Element, Settle>} */
const settles = new Map();
/** Those that settle before the next frame. @type {Set<Settle>} */
const waiting = new Set();

/** @param {(() => void)[]} changes */
const apply = (changes) => changes.forEach((change) => change());

const observer = new ResizeObserver((entries) => {
  apply(entries.flatMap(({ target, contentRect }) => settles.get(target)?.(contentRect) ?? []));
});

/** @param {Element} target @param {Settle} settle */
export const watchSize = (target, settle) => {
  settles.set(target, settle);
  observer.observe(target);
};

/** @param {Element} target */
export const unwatchSize = (target) => {
  settles.delete(target);
  observer.unobserve(target);
};

// Letters of another font take other room.
document.fonts.addEventListener("loadingdone", () => {
  apply([...settles.values()].map((settle) => settle()));
});

/** Settles before the next frame, with all others that wait for it. @param {Settle} settle */
export const settleSoon = (settle) => {
  if (!waiting.size) {
    requestAnimationFrame(() => {
      const due = [...waiting];
      waiting.clear();
      apply(due.map((one) => one()));
    });
  }
  waiting.add(settle);
};
