// What formulas call, in every control of Mektel. Colours are #RRGGBB or #RRGGBBAA; lightness is
// that of OKLCH.
/** @typedef {[number, number, number]} Triple linear or encoded RGB, or OKLab */

/** @type {(value: number, low: number, high: number) => number} */
const clamp = (value, low, high) => Math.max(low, Math.min(high, value));
/** Red, green, blue and alpha, from 0 to 1. @param {string} colour */
const channels = (colour) => {
  if (!/^#(?:[0-9a-f]{6}|[0-9a-f]{8})$/i.test(colour)) throw new TypeError(`${colour} is not a colour`);
  const at = (/** @type {number} */ place) => parseInt(colour.slice(place, place + 2), 16) / 255;
  const alpha = colour.length > 7 ? at(7) : 1;
  return { rgb: /** @type {Triple} */ ([at(1), at(3), at(5)]), alpha };
};
/** @param {Triple} rgb @param {number} alpha */
const written = (rgb, alpha) =>
  "#" + (alpha >= 1 ? rgb : [...rgb, alpha])
    .map((value) => Math.floor(clamp(value, 0, 1) * 255 + 0.5).toString(16).padStart(2, "0"))
    .join("").toUpperCase();
/** The transfer function of sRGB and its inverse. @type {(value: number) => number} */
const linear = (value) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4);
/** @type {(value: number) => number} */
const encoded = (value) => (value <= 0.0031308 ? value * 12.92 : 1.055 * value ** (1 / 2.4) - 0.055);
/** Björn Ottosson, A perceptual color space for image processing, 2020.
 * @type {(rgb: Triple) => Triple} */
const oklab = (rgb) => {
  const [r, g, b] = rgb.map(linear);
  const long = (0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b) ** (1 / 3);
  const middle = (0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b) ** (1 / 3);
  const short = (0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b) ** (1 / 3);
  return [
    0.2104542553 * long + 0.793617785 * middle - 0.0040720468 * short,
    1.9779984951 * long - 2.428592205 * middle + 0.4505937099 * short,
    0.0259040371 * long + 0.7827717662 * middle - 0.808675766 * short,
  ];
};
/** Linear RGB, beyond 0 to 1 where no screen shows it. @type {(...lab: Triple) => Triple} */
const srgb = (light, a, b) => {
  const long = (light + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const middle = (light - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const short = (light - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * long - 3.3077115913 * middle + 0.2309699292 * short,
    -1.2684380046 * long + 2.6097574011 * middle - 0.3413193965 * short,
    -0.0041960863 * long - 0.7034186147 * middle + 1.707614701 * short,
  ];
};
/** @param {Triple} rgb */
const fits = (rgb) => rgb.every((value) => value >= -0.0005 && value <= 1.0005);
/** What a screen cannot show is brought in by lowering chroma. @type {(...lab: Triple) => Triple} */
const shown = (lightness, a, b) => {
  const light = clamp(lightness, 0, 1);
  let low = 0;
  let high = 1;
  if (fits(srgb(light, a, b))) {
    low = 1;
  } else {
    for (let turn = 0; turn < 20; turn++) {
      const middle = (low + high) / 2;
      if (fits(srgb(light, a * middle, b * middle))) low = middle;
      else high = middle;
    }
  }
  const [red, green, blue] = srgb(light, a * low, b * low);
  return [encoded(clamp(red, 0, 1)), encoded(clamp(green, 0, 1)), encoded(clamp(blue, 0, 1))];
};
/** @type {(colour: string, amount: number) => string} */
const lighten = (colour, amount) => {
  const { rgb, alpha } = channels(colour);
  const [light, a, b] = oklab(rgb);
  return written(shown(light + amount, a, b), alpha);
};
/** @type {(colour: string, amount: number) => string} */
const darken = (colour, amount) => lighten(colour, -amount);
/** @type {(colour: string, amount: number) => string} */
const wash = (colour, amount) => {
  const { rgb, alpha } = channels(colour);
  const [light, a, b] = oklab(rgb);
  const keep = 1 - amount;
  return written(shown(light + (0.72 - light) * amount, a * keep, b * keep), alpha);
};
/** @type {(first: string, second: string, part: number) => string} */
const mix = (first, second, part) => {
  const share = clamp(part, 0, 1);
  const between = (/** @type {number} */ from, /** @type {number} */ to) => from + (to - from) * share;
  const start = channels(first), end = channels(second);
  const [light, a, b] = oklab(start.rgb);
  const [light2, a2, b2] = oklab(end.rgb);
  return written(
    shown(between(light, light2), between(a, a2), between(b, b2)), between(start.alpha, end.alpha));
};
/** @type {(colour: string, share: number) => string} */
const translucent = (colour, share) => {
  const { rgb, alpha } = channels(colour);
  return written(rgb, alpha * clamp(share, 0, 1));
};
/** Relative luminance, WCAG 2.2. @param {string} colour */
const luminance = (colour) => {
  const [r, g, b] = channels(colour).rgb;
  return 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
};
/** @type {(colour: string, light?: string, dark?: string) => string} */
const readable_on = (colour, light = "#FFFFFF", dark = "#000000") => {
  const ground = luminance(colour) + 0.05;
  const contrast = (/** @type {string} */ tone) => {
    const value = luminance(tone) + 0.05;
    return Math.max(ground, value) / Math.min(ground, value);
  };
  return contrast(light) >= contrast(dark) ? light : dark;
};
/** @type {(value: number) => number} */
const round_ = (value) => Math.floor(value + 0.5);
const floor = Math.floor;
const ceil = Math.ceil;
/** A number with at most three decimals. @type {(value: number) => string} */
const text_of = (value) => {
  const thousandths = Math.floor(Math.abs(value) * 1000 + 0.5);
  const digits = `${Math.floor(thousandths / 1000)}.${String(thousandths % 1000).padStart(3, "0")}`
    .replace(/0+$/, "").replace(/\.$/, "");
  return value < 0 && thousandths ? `-${digits}` : digits;
};
/** Numbers that are none must not become a look: the last good value stays instead.
 * @template T @param {T} value */
const finite = (value) => {
  if (typeof value === "number" && !Number.isFinite(value)) throw new RangeError("no number");
  return value;
};
/** Colours as a gradient's stops in CSS, evenly apart. @param {string[]} colours */
const stops_of = (colours) => {
  const last = Math.max(1, colours.length - 1);
  const many = colours.length > 1 ? colours : [colours[0], colours[0]];
  return many.map((colour, at) => `${colour} ${(at / last) * 100}%`).join(", ");
};

export const formulas = {
  lighten, darken, wash, mix, translucent, luminance, readable_on,
  clamp, round_, floor, ceil, text_of, finite, stops_of,
};
