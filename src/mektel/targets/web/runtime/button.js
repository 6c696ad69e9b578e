// What every control of Mektel is: a custom element around a real <button>; no dependencies.
// A control's own file hands its design to define().
import { Answers, registerAnswers } from "./answers.js";
import { attribute, checked, parametersOf } from "./design.js";
import { Follower } from "./follow.js";
import { FormPart } from "./forms.js";
import { elementOf, made, setText } from "./layers.js";
import { registerStops } from "./motion.js";
import { settleSoon, unwatchSize, watchSize } from "./sizes.js";

/** @import {Design} from "./design.js" */

const LONG_PRESS_MS = 600;
// Text too long for its room is set smaller, down to this share of its size.
const SMALLEST_FIT = 0.4;
// Attributes of the element that its button takes over.
const FORWARDED = ["aria-label", "aria-description", "aria-expanded", "aria-haspopup",
  "aria-pressed", "aria-current", "title"];
const FORM = ["required", "required-message", "value"];

class DesignedButton extends HTMLElement {
  /** @type {Design} */
  static design;
  /** @type {CSSStyleSheet} */
  static sheet;
  /** The button that each element has a copy of. @type {HTMLButtonElement} */
  static button;
  static formAssociated = true;

  /** @type {HTMLButtonElement} */
  #button;
  /** @type {HTMLSlotElement | null} */
  #slot;
  /** @type {Follower} */
  #values;
  #holding = 0;
  /** What it is told the size of. @type {Element[] | null} */
  #watched = null;
  #grown = 0;
  /** @type {Answers | null} */
  #answers = null;
  #form = new FormPart(this, ["two-position", "group"].includes(this.#design.behaviour));

  constructor() {
    super();
    const root = this.attachShadow({ mode: "open", delegatesFocus: true });
    const { sheet, button } = /** @type {typeof DesignedButton} */ (this.constructor);
    root.adoptedStyleSheets = [sheet];
    this.#button = /** @type {HTMLButtonElement} */ (button.cloneNode(true));
    root.append(this.#button);
    this.#slot = root.querySelector("slot");
    this.#slot?.addEventListener("slotchange", () => this.#collapse());
    if (this.#design.styled) root.append(made("span", { class: "watch" }));
    this.#values = new Follower(this, this.#button, this.#slot, this.#design);
    this.#listen();
    this.#listenForUse();
    if (this.#design.answers) this.#answers = new Answers(this, this.#button, this.#design);
  }

  get #design() {
    return /** @type {typeof DesignedButton} */ (this.constructor).design;
  }

  get #checkable() {
    return this.#form.checkable;
  }

  // Pointer and keys

  #listen() {
    const button = this.#button, { behaviour } = this.#design;
    // A key that is held down clicks once.
    button.addEventListener("keydown", (event) => {
      if (event.repeat && event.key === "Enter") event.preventDefault();
    });
    if (behaviour === "busy") {
      button.addEventListener("click", (event) => {
        if (this.busy) event.stopImmediatePropagation();
      }, true);
    }
    if (this.#checkable) button.addEventListener("click", () => this.#turn());
    button.addEventListener("pointerenter", () => this.#tellWhole());
    if (behaviour === "long-press") this.#listenForLongPress();
    for (const [name, { type }] of Object.entries(parametersOf(this.#design))) {
      if (type !== "action") continue;
      button.addEventListener("click", (event) => this.#values.given[name]?.call(this, event));
    }
  }

  /** A click on a label, or one by script, is a press of the button; a press is also the form's. */
  #listenForUse() {
    this.addEventListener("click", (event) => {
      if (event.composedPath()[0] === this) {
        event.stopImmediatePropagation();
        this.#button.click();
      } else {
        // After what the page does about it, which may prevent it.
        setTimeout(() => event.defaultPrevented || this.#form.press());
      }
    }, true);
  }

  #listenForLongPress() {
    const button = this.#button;
    let pressed = false;
    const end = () => clearTimeout(this.#holding);
    const begin = () => {
      end();
      this.#holding = setTimeout(
        () => this.dispatchEvent(new Event("longpress", { bubbles: true })), LONG_PRESS_MS);
    };
    button.addEventListener("pointerdown", () => ((pressed = true), begin()));
    // Sliding back presses again, from anew.
    button.addEventListener("pointerenter", (event) => {
      pressed &&= event.buttons > 0;
      if (pressed) begin();
    });
    // The space bar holds it down as the pointer does; Enter clicks at once.
    button.addEventListener("keydown", (event) => {
      if (event.key === " " && !event.repeat) begin();
    });
    button.addEventListener("keyup", (event) => event.key === " " && end());
    for (const name of ["pointerup", "pointercancel"]) {
      button.addEventListener(name, () => (pressed = false));
    }
    for (const name of ["pointerup", "pointerleave", "pointercancel", "blur"]) {
      button.addEventListener(name, end);
    }
  }

  #turn() {
    if (this.#design.behaviour === "group" && this.checked) return;
    this.checked = !this.checked;
    this.dispatchEvent(new Event("change", { bubbles: true }));
  }

  /** Of a group, or of those beside each other in a parent, a single control is checked. */
  #turnOthersOff() {
    const group = this.getAttribute("group");
    const root = /** @type {Document | ShadowRoot | Element} */ (this.getRootNode());
    const others = group === null ? this.parentElement?.children ?? []
      : root.querySelectorAll(`[group="${CSS.escape(group)}"]`);
    for (const other of others) {
      if (other === this || other.constructor !== this.constructor) continue;
      if (group === null && other.hasAttribute("group")) continue;
      /** @type {DesignedButton} */ (other).checked = false;
    }
  }

  // What changes

  connectedCallback() {
    this.#takeEarly();
    this.#form.connected();
    this.#form.tell(this.#button);
    this.#name();
    this.#values.watchPlatform();
    if (this.#settles) this.#watch();
    // After the page is read, and what it sets at once.
    const report = () => setTimeout(() => this.#reportMissing());
    if (document.readyState !== "loading") report();
    else document.addEventListener("DOMContentLoaded", report, { once: true });
  }

  /** Whether something depends on how large it stands there. */
  get #settles() {
    const { textWidth, fits, followsSize, repeats } = this.#design;
    return textWidth !== undefined || Boolean(fits || followsSize || repeats);
  }

  #watch() {
    if (!this.#watched) {
      this.#slot?.addEventListener("slotchange", this.#later);
      // A state may set other letters, or others of them.
      if (this.#design.fits) {
        for (const name of ["pointerenter", "pointerleave", "pointerdown", "pointerup",
          "pointercancel", "focusin", "focusout"]) {
          this.#button.addEventListener(name, this.#later);
        }
      }
    }
    this.#watched = [this.#button];
    if (this.#design.followsParent && this.parentElement) this.#watched.push(this.parentElement);
    for (const target of this.#watched) watchSize(target, this.#settle);
    this.#repeat();
  }

  #later = () => settleSoon(this.#settle);

  disconnectedCallback() {
    this.#watched?.forEach(unwatchSize);
    this.#values.watchPlatform();
    clearTimeout(this.#holding);
  }

  /** Properties that were set before the element was defined. */
  #takeEarly() {
    const own = [...Object.keys(parametersOf(this.#design)), "label", "scheme", "checked", "busy",
      "disabled"];
    const early = /** @type {Record<string, *>} */ (/** @type {unknown} */ (this));
    for (const name of own) {
      if (!Object.hasOwn(this, name)) continue;
      const value = early[name];
      delete early[name];
      early[name] = value;
    }
  }

  formResetCallback() {
    this.#form.reset();
  }

  /** @param {boolean} disabled */
  formDisabledCallback(disabled) {
    this.#form.disabled = disabled;
    this.#button.disabled = disabled || this.disabled;
  }

  /** @param {string} state what the browser kept of the form */
  formStateRestoreCallback(state) {
    if (this.#checkable) this.checked = state !== null;
  }

  /** What depends on how large it stands there. @type {import("./sizes.js").Settle} */
  #settle = (box) => {
    const { textWidth, followsSize, followsParent, fits } = this.#design;
    const grown = textWidth === undefined ? 0 : this.#textWidth() - textWidth;
    return () => {
      if (textWidth !== undefined) this.#grow(grown);
      if (followsParent) this.#values.update();
      if (followsSize && box) this.#values.resized(box.width, box.height);
      if (fits && this.isConnected) this.#fit(fits);
      this.#repeat();
    };
  };

  #reportMissing() {
    const { tag, textRequired } = this.#design, parameters = parametersOf(this.#design);
    const missing = Object.keys(parameters).filter(
      (name) => parameters[name].required && !(name in this.#values.given));
    if (textRequired && !this.hasAttribute("label") && !this.textContent.trim()) {
      missing.unshift("label");
    }
    if (missing.length) reportError(new TypeError(`<${tag}> needs ${missing.join(" and ")}`));
  }

  /** @param {string} name @param {string | null} before @param {string | null} value */
  attributeChangedCallback(name, before, value) {
    const design = this.#design, button = this.#button;
    const parameter = name.replaceAll("-", "_");
    if (design.parameters && parameter in design.parameters) {
      if (value === null) delete this.#values.given[parameter];
      else this.#values.given[parameter] = checked(design, parameter, value);
    }
    button.disabled = this.disabled || this.#form.disabled;
    if (FORWARDED.includes(name)) {
      if (value === null) button.removeAttribute(name);
      else button.setAttribute(name, value);
    }
    this.#form.tell(button);
    if (this.#checkable) button.setAttribute("aria-checked", String(this.checked));
    if (design.behaviour === "group" && this.checked) this.#turnOthersOff();
    if (design.behaviour === "busy") button.setAttribute("aria-busy", String(this.busy));
    const label = this.getAttribute("label");
    if (this.#slot) {
      setText(this.#slot, label ?? design.text);
      this.#slot.name = label === null ? "" : "unused"; // a label goes before the content
    }
    this.#values.watchPlatform();
    this.#values.update();
    // A text made to fit decides on the element's size, which a page may ask for at once.
    if (design.fits && this.isConnected) this.#fit(design.fits);
    else if (this.#settles && this.isConnected) this.#later();
    this.#repeat();
    this.#name();
    const turned = (before === null) !== (value === null);
    if (turned && name === "checked") this.#answers?.due("check");
    if (turned && name === "busy" && value === null) this.#answers?.due("done");
  }

  /** White space of the page's own text is as in all of HTML; that of a label stays. */
  #collapse() {
    const given = this.#slot?.assignedNodes().length;
    this.#slot?.style.setProperty("white-space-collapse", given ? "collapse" : "");
  }

  /** A text that ends in dots is told whole by a tool tip. */
  #tellWhole() {
    const text = this.#slot?.parentElement;
    if (!text || this.hasAttribute("title")) return;
    if (text.scrollWidth > text.clientWidth) this.#button.title = this.label;
    else this.#button.removeAttribute("title");
  }

  /** What it is called for those who cannot see it. */
  #name() {
    const { text, name } = this.#design;
    // Browsers look through the whole page for labels: only where there can be one.
    const labels = this.id || this.closest("label")
      ? [...this.#form.labels].map((label) => label.textContent?.trim()).join(", ") : "";
    const called = this.getAttribute("aria-label") ?? this.getAttribute("label")
      ?? (labels || (text ? null : name));
    if (called === null) this.#button.removeAttribute("aria-label");
    else this.#button.setAttribute("aria-label", called);
  }

  /** @param {string} name */
  #part(name) {
    return /** @type {HTMLElement} */ (this.#button.querySelector(`[part="${name}"]`));
  }

  /** The width of the text as it stands there, in px. */
  #textWidth() {
    const range = document.createRange();
    range.selectNodeContents(
      this.#slot && (this.hasAttribute("label") || !this.textContent) ? this.#slot : this);
    return range.getBoundingClientRect().width;
  }

  /** What stands beside the text makes room for it as it grows. @param {number} by px */
  #grow(by) {
    if (Math.abs(by - this.#grown) < 0.05) return; // as it is drawn already
    this.#grown = by;
    this.#button.style.setProperty("--grown", `${by}px`);
  }

  /** The text where a style sheet can set it in the letters of a state. */
  #repeat() {
    for (const part of this.#design.repeats ?? []) this.#part(part).dataset.text = this.label;
  }

  /** @param {string} part */
  #fit(part) {
    const text = this.#part(part);
    text.style.fontSize = text.style.textIndent = "";
    const style = getComputedStyle(text);
    const room = text.clientWidth - 2 * parseFloat(style.paddingLeft);
    const share = Math.max(SMALLEST_FIT, Math.min(1, room / this.#textWidth()));
    const size = parseFloat(style.getPropertyValue("--size")); // none where it is not to fit
    if (share < 1 && size) text.style.fontSize = `${size * share}px`;
    // A text that is still too long stays centred on its room.
    text.style.textIndent = size ? `${Math.min(0, (room - this.#textWidth()) / 2)}px` : "";
  }

  // What the page sets and reads

  /** An argument, or its default. @param {string} name */
  argument(name) {
    return this.#values.argument(name);
  }

  /** @param {string} name @param {*} value */
  setArgument(name, value) {
    this.#values.given[name] = checked(this.#design, name, value);
    this.#values.update();
  }

  /** The palette's scheme that it is drawn in; "" in a kit without a palette. @type {string} */
  get scheme() {
    return this.#values.scheme;
  }

  set scheme(scheme) {
    this.setAttribute("scheme", scheme);
  }

  /** The text: the attribute, or else the element's content, or else what it says by itself.
   * @type {string} */
  get label() {
    return this.getAttribute("label")
      ?? (this.textContent.trim() || (this.#slot?.textContent ?? this.#design.text));
  }

  set label(text) {
    this.setAttribute("label", text);
  }

  get checked() {
    return this.hasAttribute("checked");
  }

  set checked(on) {
    this.toggleAttribute("checked", Boolean(on));
  }

  /** While busy it keeps its look for that and answers no press. */
  get busy() {
    return this.hasAttribute("busy");
  }

  set busy(on) {
    this.toggleAttribute("busy", Boolean(on));
  }

  get disabled() {
    return this.hasAttribute("disabled");
  }

  set disabled(on) {
    this.toggleAttribute("disabled", Boolean(on));
  }

  click() {
    this.#button.click();
  }
}

/** @param {Design} design */
const buttonOf = (design) => {
  const layers = made("span", { class: "layers" },
    ...(design.hit ? [made("span", { class: "hit" })] : []), ...design.layers.map(elementOf));
  const button = made("button", { part: "button", type: "button" }, layers);
  if (["two-position", "group"].includes(design.behaviour)) {
    button.setAttribute("role", design.behaviour === "group" ? "radio" : "switch");
    button.setAttribute("aria-checked", "false");
  }
  if (!design.text) button.setAttribute("aria-label", design.name);
  const slot = button.querySelector("slot");
  if (slot) slot.textContent = design.text;
  return button;
};

/** Loads a font file once for all controls. @param {Design["fonts"][number]} font
 * @param {string} [base] */
const load = ({ family, file, url, ...descriptors }, base) => {
  const known = [...document.fonts].some((face) => face.family.replaceAll('"', "") === family
    && face.weight === descriptors.weight);
  if (known) return;
  const face = new FontFace(family, `url("${url ?? new URL(file, base).href}")`, descriptors);
  document.fonts.add(face);
  face.load().catch(() => {}); // without the file the text shows in the page's own sans-serif
};

/** Makes a design a custom element. @param {Design} design */
export const define = (design) => {
  const known = customElements.get(design.tag);
  if (known) return known;
  for (const font of design.fonts) load(font, design.base);
  registerStops(design.stops ?? 0);
  registerAnswers(design.answers ?? []);
  const parameters = parametersOf(design);
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(design.style);
  const attributes = Object.keys(parameters).filter((name) => parameters[name].type !== "action");
  const observed = ["disabled", "label", "scheme", "checked", "busy", ...FORM, ...FORWARDED,
    ...attributes.map(attribute)];
  const Control = class extends DesignedButton {
    static design = design;
    static sheet = sheet;
    static button = buttonOf(design);
    static observedAttributes = observed;
  };
  for (const name of Object.keys(parameters)) {
    Object.defineProperty(Control.prototype, name, {
      get() {
        return this.argument(name);
      },
      set(value) {
        this.setArgument(name, value);
      },
    });
  }
  customElements.define(design.tag, Control);
  return Control;
};
