// What follows parameters, the colour scheme and the size: custom properties, texts and pictures.
import { attribute, fromStyle, parametersOf } from "./design.js";
import { setText } from "./layers.js";
import { standStill } from "./motion.js";

/** @import {Design, Property, Scope} from "./design.js" */

const DARK = "(prefers-color-scheme: dark)";

/** Works out a control's values from its arguments; as designed, its style sheet has them all. */
export class Follower {
  /** Arguments that were given. @type {Record<string, *>} */
  given = {};
  /** Arguments that a style sheet of the page gives. @type {Record<string, *>} */
  #styled = {};
  #host;
  #button;
  #slot;
  #design;
  /** Whether custom properties are set that need not be as designed. */
  #changed = false;
  /** The button's width and height, once it is laid out. */
  #box = { width: 0, height: 0 };
  /** @type {MediaQueryList | null} */
  #platform = null;
  #again = () => this.update();

  /** @param {HTMLElement} host @param {HTMLButtonElement} button
   * @param {HTMLSlotElement | null} slot @param {Design} design */
  constructor(host, button, slot, design) {
    this.#host = host;
    this.#button = button;
    this.#slot = slot;
    this.#design = design;
    if (design.styled) {
      const read = () => this.readStyle();
      // A transition begins where a custom property changes; the others serve older browsers.
      /** @type {ShadowRoot} */ (host.shadowRoot).addEventListener("transitionrun", (event) => {
        if (/** @type {TransitionEvent} */ (event).propertyName.startsWith("--")) read();
      });
      for (const name of ["pointerenter", "focusin"]) host.addEventListener(name, read);
    }
  }

  /** An argument, or its default. @param {string} name */
  argument(name) {
    return this.given[name] ?? this.#styled[name] ?? parametersOf(this.#design)[name].default;
  }

  /** The palette's scheme that it is drawn in; "" in a kit without a palette. */
  get scheme() {
    const { schemes = [], lightAndDark } = this.#design;
    const scheme = this.#host.getAttribute("scheme") ?? "";
    if (scheme === "auto" && lightAndDark) return lightAndDark[Number(matchMedia(DARK).matches)];
    return schemes.includes(scheme) ? scheme : schemes[0] ?? "";
  }

  /** Follows the platform's light or dark while it stands on the page and is asked to. */
  watchPlatform() {
    const wanted = this.#host.isConnected && this.#host.getAttribute("scheme") === "auto";
    if (wanted === Boolean(this.#platform)) return;
    this.#platform?.removeEventListener("change", this.#again);
    this.#platform = wanted ? matchMedia(DARK) : null;
    this.#platform?.addEventListener("change", this.#again);
  }

  /** Reads what style sheets of the page set parameters to. */
  readStyle() {
    const style = getComputedStyle(this.#host);
    let differs = false;
    for (const name of this.#design.styled ?? []) {
      const text = style.getPropertyValue(`--${attribute(name)}`).trim();
      const value = text ? fromStyle(this.#design, name, text) : undefined;
      differs ||= String(value) !== String(this.#styled[name]);
      if (value === undefined) delete this.#styled[name];
      else this.#styled[name] = value;
    }
    if (differs) this.update();
  }

  /** @param {number} width @param {number} height in px */
  resized(width, height) {
    this.#box = { width, height };
    if (this.#design.followsSize) this.update();
  }

  /** Works out what is driven; where that fails, the last good value stays. */
  update() {
    const { properties, texts, files, textOf } = this.#design;
    if (!properties && !texts && !files && !textOf) return;
    const scope = this.#scope(), slot = this.#slot;
    const attempt = (/** @type {() => void} */ act) => {
      try {
        act();
      } catch {
        // the last good value stays
      }
    };
    if (textOf && slot && !this.#host.hasAttribute("label")) {
      attempt(() => setText(slot, textOf(scope)));
    }
    for (const [part, text] of Object.entries(texts?.(scope) ?? {})) {
      attempt(() => setText(this.#part(part), text()));
    }
    for (const [part, shows] of Object.entries(files?.(scope) ?? {})) {
      attempt(() => this.#part(part).toggleAttribute("data-file", shows()));
    }
    if (properties && (this.#changed || !this.#isAsDesigned())) {
      this.#setProperties(properties(scope), attempt);
    }
  }

  /** @param {Property[]} properties @param {(act: () => void) => void} attempt */
  #setProperties(properties, attempt) {
    const { followsSize } = this.#design, style = this.#button.style;
    if (followsSize && !this.#box.width) return;
    this.#changed = true;
    if (this.#design.moves) standStill(this.#button);
    for (const { name, value, parameter } of properties) {
      if (parameter && !(parameter in this.given)) style.removeProperty(name);
      else attempt(() => style.setProperty(name, String(value())));
    }
  }

  /** Whether the style sheet's own values are right. */
  #isAsDesigned() {
    const { schemes = [], followsSize, followsParent, size } = this.#design;
    if (Object.keys(this.given).some((name) => parametersOf(this.#design)[name].type !== "action")
      || Object.keys(this.#styled).length || this.scheme !== (schemes[0] ?? "")) return false;
    if (followsParent) return false;
    const { width, height } = this.#box;
    return !followsSize || !width || (width === size[0] && height === size[1]);
  }

  /** @returns {Scope} */
  #scope() {
    const { palette = {}, followsSize, followsParent } = this.#design;
    /** @type {Record<string, *>} */
    const given = {};
    for (const [name, parameter] of Object.entries(parametersOf(this.#design))) {
      given[name] = parameter.default;
    }
    const scheme = this.scheme;
    for (const [name, colours] of Object.entries(palette)) given[name] = colours[scheme];
    Object.assign(given, this.#styled, this.given);
    const box = this.#box, host = this.#host;
    if (followsSize && !box.width && host.isConnected && Object.keys(this.given).length) {
      box.width = this.#button.clientWidth;
      box.height = this.#button.clientHeight;
    }
    const around = (followsParent && host.parentElement?.getBoundingClientRect()) || box;
    const text = /** @type {HTMLElement & {label: string}} */ (host).label;
    return { given, box, around, text };
  }

  /** @param {string} name */
  #part(name) {
    return /** @type {HTMLElement} */ (this.#button.querySelector(`[part="${name}"]`));
  }
}
