// What every control of Mektel is: a custom element around a real <button>; no dependencies.
// A control's own file hands its design to define().
(() => {
  "use strict";

  const HOLD_MS = 600;
  const NUMERIC = ["number", "length", "duration"];
  const HEX = /^#(?:[0-9a-f]{6}|[0-9a-f]{8})$/i;
  // Text too long for its room is set smaller, down to this share of its size.
  const SMALLEST_FIT = 0.4;
  const SVG = "http://www.w3.org/2000/svg";

  /**
   * @typedef {object} Parameter
   * @property {string} type
   * @property {*} default
   * @property {boolean} required
   * @property {number | null} min
   * @property {number | null} max
   * @property {string[]} choices
   *
   * @typedef {object} Layer
   * @property {string} part its name for ::part()
   * @property {boolean} [slot] it shows the element's text
   * @property {string} [text] a text of its own
   * @property {string[]} [paths] an icon's lines in 24 units
   * @property {Layer[]} [layers] the layers of an embedded look
   *
   * @typedef {object} Scope what formulas know
   * @property {Record<string, *>} given every parameter's value, and the scheme's colours
   * @property {{width: number, height: number}} box the control's own box
   * @property {{width: number, height: number}} around the box of what it stands in
   * @property {string} text
   *
   * @typedef {object} Property a custom property that is worked out
   * @property {string} name
   * @property {() => string | number} value
   * @property {string} [parameter] the one that it is; not given, a style sheet may set it
   *
   * @typedef {object} Design
   * @property {string} tag
   * @property {string} name
   * @property {string} text
   * @property {"push" | "two-position" | "hold" | "group" | "busy"} behaviour
   * @property {string} base the address that font files are found from
   * @property {string} style the style sheet of its shadow root
   * @property {Layer[]} layers
   * @property {boolean} [hit] its outline is no rounded box and answers by itself
   * @property {(FontFaceDescriptors & {family: string, file: string})[]} fonts
   * @property {Record<string, Parameter>} [parameters]
   * @property {string[]} [schemes]
   * @property {Record<string, Record<string, string>>} [palette] colours by name, then scheme
   * @property {boolean} [textRequired]
   * @property {string} [fits] the part whose text is made to fit
   * @property {string[]} [repeats] parts in which a state sets the text in other letters
   * @property {number} [textWidth] as designed, where what stands beside the text makes room
   * @property {boolean} [followsSize]
   * @property {boolean} [followsParent]
   * @property {(scope: Scope) => Property[]} [properties]
   * @property {(scope: Scope) => Record<string, () => string>} [texts] by part
   * @property {(scope: Scope) => Record<string, () => boolean>} [files] whether a part shows one
   * @property {(scope: Scope) => string} [textOf] the element's own text
   */

  /** @param {Design} design @returns {Record<string, Parameter>} */
  const parametersOf = (design) => design.parameters ?? {};

  /** A parameter's name as an attribute. @param {string} name */
  const attribute = (name) => name.replaceAll("_", "-");

  /**
   * An argument as its parameter takes it; throws where it does not.
   * @param {Design} design @param {string} name @param {*} value
   */
  const checked = (design, name, value) => {
    const { type, min, max, choices } = parametersOf(design)[name];
    const refuse = (/** @type {string} */ wanted) => {
      throw new TypeError(
        `<${design.tag}>: ${name} must be ${wanted}, not ${JSON.stringify(value)}`);
    };
    if (NUMERIC.includes(type)) {
      const number = typeof value === "string" && value.trim() !== "" ? Number(value) : value;
      if (typeof number !== "number" || !Number.isFinite(number)) refuse("a number");
      if ((min !== null && number < min) || (max !== null && number > max)) {
        refuse(`from ${min} to ${max}`);
      }
      return number;
    }
    if (type === "yes-no") return typeof value === "string" ? value !== "false" : Boolean(value);
    if (type === "action") {
      return value === null || typeof value === "function" ? value : refuse("a function");
    }
    if (type === "colour" || type === "colours") {
      const many = Array.isArray(value) ? value : String(value).trim().split(/[\s,]+/);
      if (!many.every((colour) => HEX.test(colour))) refuse("#RRGGBB or #RRGGBBAA");
      const colours = many.map((colour) => colour.toUpperCase());
      return type === "colour" ? colours[0] : colours;
    }
    if (choices.length && !choices.includes(value)) refuse(`one of ${choices.join(", ")}`);
    return String(value);
  };

  /** @template {keyof HTMLElementTagNameMap} Tag @param {Tag} tag
   * @param {Record<string, string>} attributes @param {(Node | string)[]} children */
  const made = (tag, attributes, ...children) => {
    const element = document.createElement(tag);
    for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value);
    element.append(...children);
    return element;
  };

  /** @param {string[]} paths */
  const drawing = (paths) => {
    const svg = document.createElementNS(SVG, "svg");
    const attributes = { viewBox: "0 0 24 24", width: "100%", height: "100%", overflow: "visible" };
    for (const [name, value] of Object.entries(attributes)) svg.setAttribute(name, value);
    for (const data of paths) {
      const path = document.createElementNS(SVG, "path");
      path.setAttribute("d", data);
      svg.append(path);
    }
    return svg;
  };

  /** @param {Layer} layer @returns {HTMLElement} */
  const elementOf = (layer) => {
    /** @type {(Node | string)[]} */
    const inside = [];
    if (layer.slot) inside.push(document.createElement("slot"));
    else if (layer.text !== undefined) inside.push(made("span", {}, layer.text));
    else if (layer.paths) inside.push(drawing(layer.paths));
    const shown = made("span", { part: layer.part, class: "layer" },
      ...inside, ...(layer.layers ?? []).map(elementOf));
    if (!layer.slot) shown.setAttribute("aria-hidden", "true");
    return shown;
  };

  /** Sets a text that differs: setting the same again would fire slotchange.
   * @param {Element} element @param {string} text */
  const setText = (element, text) => {
    if (element.textContent !== text) element.textContent = text;
  };

  class DesignedButton extends HTMLElement {
    /** @type {Design} */
    static design;
    /** @type {CSSStyleSheet} */
    static sheet;

    /** @type {HTMLButtonElement} */
    #button;
    /** @type {HTMLSlotElement | null} */
    #slot;
    /** @type {Record<string, *>} */
    #given = {};
    #holding = 0;
    #watched = false;

    constructor() {
      super();
      const design = this.#design;
      const root = this.attachShadow({ mode: "open", delegatesFocus: true });
      root.adoptedStyleSheets = [/** @type {typeof DesignedButton} */ (this.constructor).sheet];
      const layers = made("span", { class: "layers" },
        ...(design.hit ? [made("span", { class: "hit" })] : []), ...design.layers.map(elementOf));
      this.#button = made("button", { part: "button", type: "button" }, layers);
      if (this.#checkable) {
        this.#button.setAttribute("role", design.behaviour === "group" ? "radio" : "switch");
        this.#button.setAttribute("aria-checked", "false");
      }
      if (!design.text) this.#button.setAttribute("aria-label", design.name);
      root.append(this.#button);
      this.#slot = root.querySelector("slot");
      if (this.#slot) this.#slot.textContent = design.text;
      this.#listen();
      this.#follow();
    }

    get #design() {
      return /** @type {typeof DesignedButton} */ (this.constructor).design;
    }

    get #checkable() {
      return ["two-position", "group"].includes(this.#design.behaviour);
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
      if (behaviour === "hold") this.#listenForHolding();
      for (const [name, { type }] of Object.entries(parametersOf(this.#design))) {
        if (type !== "action") continue;
        button.addEventListener("click", (event) => this.#given[name]?.call(this, event));
      }
    }

    #listenForHolding() {
      const button = this.#button;
      let pressed = false;
      const end = () => clearTimeout(this.#holding);
      const begin = () => {
        end();
        this.#holding = setTimeout(
          () => this.dispatchEvent(new Event("hold", { bubbles: true })), HOLD_MS);
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
      const { textWidth, fits, followsSize, followsParent, repeats } = this.#design;
      if (!this.#watched && (textWidth !== undefined || fits || followsSize || repeats)) {
        this.#watched = true;
        const settle = () => this.#settle();
        const watching = new ResizeObserver(settle);
        watching.observe(this.#button);
        if (followsParent && this.parentElement) watching.observe(this.parentElement);
        this.#slot?.addEventListener("slotchange", settle);
        document.fonts.ready.then(settle);
        // A state may set other letters, or others of them.
        if (fits) {
          for (const name of ["pointerenter", "pointerleave", "pointerdown", "pointerup",
            "pointercancel", "focusin", "focusout"]) {
            this.#button.addEventListener(name, () => requestAnimationFrame(settle));
          }
        }
      }
      this.#settle();
      // After what the page sets at once.
      setTimeout(() => this.#reportMissing());
    }

    /** What depends on how large it stands there. */
    #settle() {
      const { textWidth, followsSize, fits } = this.#design;
      if (textWidth !== undefined) this.#grow(textWidth);
      if (followsSize) this.#follow();
      if (fits) this.#fit(fits);
      this.#repeat();
    }

    #reportMissing() {
      const { tag, textRequired } = this.#design, parameters = parametersOf(this.#design);
      const missing = Object.keys(parameters).filter(
        (name) => parameters[name].required && !(name in this.#given));
      if (textRequired && !this.hasAttribute("label") && !this.textContent.trim()) {
        missing.unshift("label");
      }
      if (missing.length) reportError(new TypeError(`<${tag}> needs ${missing.join(" and ")}`));
    }

    /** @param {string} name @param {string | null} _ @param {string | null} value */
    attributeChangedCallback(name, _, value) {
      const design = this.#design, button = this.#button;
      const parameter = name.replaceAll("-", "_");
      if (design.parameters && parameter in design.parameters) {
        if (value === null) delete this.#given[parameter];
        else this.#given[parameter] = checked(design, parameter, value);
      }
      button.disabled = this.disabled;
      if (this.#checkable) button.setAttribute("aria-checked", String(this.checked));
      if (design.behaviour === "group" && this.checked) this.#turnOthersOff();
      if (design.behaviour === "busy") button.setAttribute("aria-busy", String(this.busy));
      const label = this.getAttribute("label");
      if (this.#slot) {
        setText(this.#slot, label ?? design.text);
        this.#slot.name = label === null ? "" : "unused"; // a label goes before the content
      }
      this.#follow();
      if (design.fits && this.isConnected) this.#fit(design.fits);
      this.#repeat();
      if (label !== null) button.setAttribute("aria-label", label);
      else if (design.text) button.removeAttribute("aria-label");
      else button.setAttribute("aria-label", design.name);
    }

    /** Works out what parameters and the size drive; where that fails, the last good value stays. */
    #follow() {
      const { palette = {}, followsSize, properties, texts, files, textOf } = this.#design;
      if (!properties && !texts && !files && !textOf) return;
      /** @type {Record<string, *>} */
      const given = {};
      for (const [name, parameter] of Object.entries(parametersOf(this.#design))) {
        given[name] = parameter.default;
      }
      const scheme = this.scheme;
      for (const [name, colours] of Object.entries(palette)) given[name] = colours[scheme];
      Object.assign(given, this.#given);
      const box = { width: this.#button.clientWidth, height: this.#button.clientHeight };
      if (followsSize && !box.width) return;
      const around = this.parentElement?.getBoundingClientRect() ?? box;
      const scope = { given, box, around, text: this.label };
      const attempt = (/** @type {() => void} */ act) => {
        try {
          act();
        } catch {
          // the last good value stays
        }
      };
      const slot = this.#slot;
      if (textOf && slot && !this.hasAttribute("label")) {
        attempt(() => setText(slot, textOf(scope)));
      }
      for (const [part, text] of Object.entries(texts?.(scope) ?? {})) {
        attempt(() => setText(this.#part(part), text()));
      }
      for (const [part, shows] of Object.entries(files?.(scope) ?? {})) {
        attempt(() => this.#part(part).toggleAttribute("data-file", shows()));
      }
      const style = this.#button.style;
      for (const { name, value, parameter } of properties?.(scope) ?? []) {
        if (parameter && !(parameter in this.#given)) style.removeProperty(name);
        else attempt(() => style.setProperty(name, String(value())));
      }
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

    /** What stands beside the text makes room for it as it grows. @param {number} designed */
    #grow(designed) {
      this.#button.style.setProperty("--grown", `${this.#textWidth() - designed}px`);
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
      return this.#given[name] ?? parametersOf(this.#design)[name].default;
    }

    /** @param {string} name @param {*} value */
    setArgument(name, value) {
      this.#given[name] = checked(this.#design, name, value);
      this.#follow();
    }

    /** The palette's scheme that it is drawn in; "" in a kit without a palette. @type {string} */
    get scheme() {
      const { schemes = [] } = this.#design, scheme = this.getAttribute("scheme") ?? "";
      return schemes.includes(scheme) ? scheme : schemes[0] ?? "";
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

  /** Makes a design a custom element. @param {Design} design */
  const define = (design) => {
    for (const { family, file, ...descriptors } of design.fonts) {
      const face = new FontFace(family, `url("${new URL(file, design.base)}")`, descriptors);
      document.fonts.add(face);
      face.load().catch(() => {}); // without the file the text shows in the page's own sans-serif
    }
    const parameters = parametersOf(design);
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(design.style);
    const attributes = Object.keys(parameters).filter((name) => parameters[name].type !== "action");
    const observed = ["disabled", "label", "scheme", "checked", "busy", ...attributes.map(attribute)];
    const Control = class extends DesignedButton {
      static design = design;
      static sheet = sheet;
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

  /** @type {{define?: typeof define}} */
  const shared = (/** @type {any} */ (globalThis).mektelControls ??= {});
  shared.define ??= define;
})();
