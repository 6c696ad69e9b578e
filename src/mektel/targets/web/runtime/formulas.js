// What formulas call, in every control of Mektel. Colours are #RRGGBB or #RRGGBBAA; lightness is
// that of OKLCH.
(() => {
  "use strict";
  const channels = (colour) => {
    if (!/^#(?:[0-9a-f]{6}|[0-9a-f]{8})$/i.test(colour)) throw new TypeError(`${colour} is not a colour`);
    return colour.slice(1).match(/../g).map((digits) => parseInt(digits, 16) / 255);
  };
  const written = (values, alpha) =>
    "#" + (alpha >= 1 ? values : [...values, Math.max(0, alpha)])
      .map((one) => Math.floor(Math.min(1, Math.max(0, one)) * 255 + 0.5).toString(16).padStart(2, "0"))
      .join("").toUpperCase();
  const linear = (value) => (value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4);
  const encoded = (value) => (value <= 0.0031308 ? value * 12.92 : 1.055 * value ** (1 / 2.4) - 0.055);
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
  const fits = (rgb) => rgb.every((one) => one >= -0.0005 && one <= 1.0005);
  // What a screen cannot show is brought in by lowering chroma.
  const shown = (lightness, a, b) => {
    const light = Math.min(1, Math.max(0, lightness));
    let low = 0;
    let high = 1;
    if (fits(srgb(light, a, b))) low = 1;
    else
      for (let turn = 0; turn < 20; turn++) {
        const middle = (low + high) / 2;
        if (fits(srgb(light, a * middle, b * middle))) low = middle;
        else high = middle;
      }
    return srgb(light, a * low, b * low).map((one) => encoded(Math.min(1, Math.max(0, one))));
  };
  const alphaOf = (values) => (values.length === 4 ? values[3] : 1);
  const lighten = (colour, amount) => {
    const values = channels(colour);
    const [light, a, b] = oklab(values.slice(0, 3));
    return written(shown(light + amount, a, b), alphaOf(values));
  };
  const darken = (colour, amount) => lighten(colour, -amount);
  const wash = (colour, amount) => {
    const values = channels(colour);
    const [light, a, b] = oklab(values.slice(0, 3));
    const keep = 1 - amount;
    return written(shown(light + (0.72 - light) * amount, a * keep, b * keep), alphaOf(values));
  };
  const mix = (one, other, part) => {
    const [first, second] = [channels(one), channels(other)];
    const share = Math.min(1, Math.max(0, part));
    const [from, to] = [oklab(first.slice(0, 3)), oklab(second.slice(0, 3))];
    return written(
      shown(...from.map((x, at) => x + (to[at] - x) * share)),
      alphaOf(first) + (alphaOf(second) - alphaOf(first)) * share);
  };
  const fade = (colour, alpha) => {
    const values = channels(colour);
    return written(values.slice(0, 3), alphaOf(values) * Math.min(1, Math.max(0, alpha)));
  };
  const luminance = (colour) => {
    const [r, g, b] = channels(colour).slice(0, 3).map(linear);
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const readable_on = (colour, light = "#FFFFFF", dark = "#000000") => {
    const ground = luminance(colour) + 0.05;
    const [one, other] = [light, dark].map((tone) => {
      const value = luminance(tone) + 0.05;
      return Math.max(ground, value) / Math.min(ground, value);
    });
    return one >= other ? light : dark;
  };
  const clamp = (value, low, high) => Math.max(low, Math.min(high, value));
  const round_ = (value) => Math.floor(value + 0.5);
  const floor = Math.floor;
  const ceil = Math.ceil;
  const text_of = (value) => {
    const thousandths = Math.floor(Math.abs(value) * 1000 + 0.5);
    const digits = `${Math.floor(thousandths / 1000)}.${String(thousandths % 1000).padStart(3, "0")}`
      .replace(/0+$/, "").replace(/\.$/, "");
    return value < 0 && thousandths ? `-${digits}` : digits;
  };
  // Numbers that are none must not become a look: the last good value stays instead.
  const finite = (value) => {
    if (typeof value === "number" && !Number.isFinite(value)) throw new RangeError("no number");
    return value;
  };
  /** Colours as a gradient's stops in CSS, evenly apart. */
  const stops_of = (colours) => {
    const last = Math.max(1, colours.length - 1);
    const many = colours.length > 1 ? colours : [colours[0], colours[0]];
    return many.map((one, at) => `${one} ${(at / last) * 100}%`).join(", ");
  };

  const shared = (globalThis.mektelControls ??= {});
  shared.formulas ??= {
    lighten, darken, wash, mix, fade, luminance, readable_on,
    clamp, round_, floor, ceil, text_of, finite, stops_of,
  };
})();
