// What CSS moves only if it knows its type: the stops of gradients.

let registered = 0;

/** Registers colours and places of stops, so that transitions move them. @param {number} count */
export const registerStops = (count) => {
  while (registered < count && CSS.registerProperty) {
    registered += 1;
    const types = { stop: ["<color>", "transparent"], place: ["<percentage>", "0%"] };
    for (const [name, [syntax, initialValue]] of Object.entries(types)) {
      try {
        CSS.registerProperty({
          name: `--mektel-${name}-${registered}`, syntax, initialValue, inherits: false,
        });
      } catch {
        // Another copy of this runtime has done so.
      }
    }
  }
};

/** The latest reason to stand still, by button. @type {WeakMap<Element, object>} */
const reasons = new WeakMap();

/** What is set now is there at once: only states take time. @param {Element} button */
export const standStill = (button) => {
  const reason = {};
  reasons.set(button, reason);
  button.classList.add("still");
  // Until it has been drawn so.
  requestAnimationFrame(() => requestAnimationFrame(() => {
    if (reasons.get(button) === reason) button.classList.remove("still");
  }));
};
