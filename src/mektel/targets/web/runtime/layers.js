// The elements that layers are drawn by.
/** @import {Layer} from "./design.js" */

const SVG = "http://www.w3.org/2000/svg";

/** @template {keyof HTMLElementTagNameMap} Tag @param {Tag} tag
 * @param {Record<string, string>} attributes @param {(Node | string)[]} children */
export const made = (tag, attributes, ...children) => {
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
export const elementOf = (layer) => {
  /** @type {(Node | string)[]} */
  const inside = [];
  if (layer.marks) return made("span", { class: layer.marks, "aria-hidden": "true" });
  if (layer.slot) inside.push(document.createElement("slot"));
  else if (layer.text !== undefined) inside.push(made("span", {}, layer.text));
  else if (layer.paths) inside.push(drawing(layer.paths));
  const shown = made("span", { part: layer.part ?? "", class: "layer" },
    ...inside, ...(layer.layers ?? []).map(elementOf));
  if (!layer.slot) shown.setAttribute("aria-hidden", "true");
  return shown;
};

/** Sets a text that differs: setting the same again would fire slotchange.
 * @param {Element} element @param {string} text */
export const setText = (element, text) => {
  if (element.textContent !== text) element.textContent = text;
};
