// A control's design as its own file hands it to define(), and what its parameters take.
const NUMERIC = ["number", "length", "duration"];
const HEX = /^#(?:[0-9a-f]{6}|[0-9a-f]{8})$/i;

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
 * @property {string} [part] its name for ::part()
 * @property {string} [marks] it is none: what holds the marks of answers, ``marks`` or ``beyond``
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
 * @property {"push" | "two-position" | "long-press" | "group" | "busy"} behaviour
 * @property {string} [base] the address that font files are found from, where they have no url
 * @property {string} style the style sheet of its shadow root
 * @property {Layer[]} layers
 * @property {boolean} [hit] its outline is not a rounded box and answers by itself
 * @property {(FontFaceDescriptors & {family: string, file: string, url?: string})[]} fonts
 * @property {Record<string, Parameter>} [parameters]
 * @property {string[]} [schemes]
 * @property {[string, string]} [lightAndDark] the schemes for a platform's light and dark
 * @property {[number, number]} size width and height as designed, px
 * @property {string[]} [styled] parameters that a style sheet of the page can set
 * @property {Record<string, Record<string, string>>} [palette] colours by name, then scheme
 * @property {boolean} [textRequired]
 * @property {string} [fits] the part whose text is made to fit
 * @property {string[]} [repeats] parts in which a state sets the text in other letters
 * @property {number} [textWidth] as designed, where what stands beside the text makes room
 * @property {boolean} [moves] a change of state takes time
 * @property {number} [stops] how many stops of gradients move
 * @property {import("./answers.js").Answer[]} [answers]
 * @property {Record<string, string>} [sounds] their addresses, where they are not by ``base``
 * @property {boolean} [followsSize]
 * @property {boolean} [followsParent]
 * @property {(scope: Scope) => Property[]} [properties]
 * @property {(scope: Scope) => Record<string, () => string>} [texts] by part
 * @property {(scope: Scope) => Record<string, () => boolean>} [files] whether a part shows one
 * @property {(scope: Scope) => string} [textOf] the element's own text
 */

/** @param {Design} design @returns {Record<string, Parameter>} */
export const parametersOf = (design) => design.parameters ?? {};

/** A parameter's name as an attribute. @param {string} name */
export const attribute = (name) => name.replaceAll("_", "-");

/**
 * An argument as a style sheet writes it, such as ``oklch(0.5 0.1 200)`` or ``4px``; undefined where
 * the parameter does not take it.
 * @param {Design} design @param {string} name @param {string} text
 */
export const fromStyle = (design, name, text) => {
  const { type } = parametersOf(design)[name];
  try {
    if (NUMERIC.includes(type)) return checked(design, name, parseFloat(text));
    if (type === "colour" && !HEX.test(text)) return checked(design, name, hexOf(text));
    return checked(design, name, text.replace(/^(["'])(.*)\1$/, "$2"));
  } catch {
    return undefined;
  }
};

/** Any CSS colour as #RRGGBBAA. @param {string} text */
const hexOf = (text) => {
  if (!CSS.supports("color", text)) return "";
  const canvas = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  if (!canvas) return "";
  canvas.fillStyle = text;
  canvas.fillRect(0, 0, 1, 1);
  const channels = [...canvas.getImageData(0, 0, 1, 1).data];
  return `#${channels.map((channel) => channel.toString(16).padStart(2, "0")).join("")}`;
};

/**
 * An argument as its parameter takes it; throws where it does not.
 * @param {Design} design @param {string} name @param {*} value
 */
export const checked = (design, name, value) => {
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
