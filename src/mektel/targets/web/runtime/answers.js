// How a control answers the hand: marks on its face, blows, sounds, and where the pointer is.
import { made } from "./layers.js";

/**
 * @typedef {object} Answer times in ms
 * @property {string} kind
 * @property {string} [cause] what it is due to
 * @property {string} [colour]
 * @property {string} [easing]
 * @property {number} [grows]
 * @property {number} [fades]
 * @property {number} [lasts]
 * @property {boolean} [centred]
 * @property {boolean} [within]
 * @property {string[]} [frames] transforms from which and to which a blow goes
 * @property {string} [sound]
 * @property {number} [gain]
 * @property {number} [next] after which share of an iris what comes next is to be shown
 * @property {number} [count] how many followers of the pointer there are
 * @property {number[]} [levels] swings that need a condition
 */

const LEVEL = "--mektel-level-";
// A sound is not begun anew within so many ms.
const APART = 30;
const CLEARS = 250;
/** When each sound began last. @type {Map<string, number>} */
const begun = new Map();

const isCalm = () => matchMedia("(prefers-reduced-motion: reduce)").matches;

/** Properties that move only if CSS knows their type. @param {Answer[]} answers */
export const registerAnswers = (answers) => {
  /** @type {[string, string][]} */
  const names = [];
  for (const { kind, count = 0, levels = [] } of answers) {
    if (kind === "pressed") names.push(["--mektel-pressed", "0"]);
    for (let at = 0; at < count; at += 1) {
      names.push([`--mektel-x-${at}`, "0.5"], [`--mektel-y-${at}`, "0.5"],
        [`--mektel-inside-${at}`, "0"]);
    }
    for (const at of levels) names.push([`${LEVEL}${at}`, "0"]);
  }
  for (const [name, initialValue] of names) {
    try {
      CSS.registerProperty?.({ name, syntax: "<number>", initialValue, inherits: true });
    } catch {
      // Another control has done so.
    }
  }
};

export class Answers {
  #host;
  #button;
  #layers;
  #answers;
  /** Ends what the press that goes on has set off. @type {(() => void)[]} */
  #held = [];
  #pressed = false;
  /** Where it was touched, px of the box; nothing for the keyboard. @type {DOMPoint | null} */
  #place = null;

  #design;

  /** @param {HTMLElement} host @param {HTMLButtonElement} button
   * @param {import("./design.js").Design} design */
  constructor(host, button, design) {
    const { answers = [] } = design;
    this.#design = design;
    this.#host = host;
    this.#button = button;
    this.#layers = /** @type {HTMLElement} */ (button.querySelector(".layers"));
    this.#answers = answers;
    this.#listen();
    const pointer = answers.find(({ kind }) => kind === "pointer");
    if (pointer?.count) this.#follow(pointer.count);
    if (answers.some(({ kind }) => kind === "swings")) this.#swing();
  }

  get #silent() {
    return this.#button.disabled || this.#button.getAttribute("aria-busy") === "true";
  }

  #listen() {
    const button = this.#button;
    button.addEventListener("pointerenter", (event) => {
      if (!this.#button.disabled) this.due("enter");
      if (this.#pressed && event.buttons > 0) this.#press(event);
    });
    button.addEventListener("pointerdown", (event) => {
      if (event.button !== 0) return;
      if (this.#silent) return this.due("refuse");
      this.#pressed = true;
      this.#press(event);
    });
    for (const name of ["pointerup", "pointercancel", "pointerleave", "blur"]) {
      button.addEventListener(name, () => {
        if (name !== "pointerleave") this.#pressed = false;
        this.#release();
      });
    }
    button.addEventListener("keydown", (event) => {
      if (event.repeat || (event.key !== " " && event.key !== "Enter")) return;
      if (this.#silent) return this.due("refuse");
      this.#press();
      if (event.key === "Enter") this.#release();
    });
    button.addEventListener("keyup", (event) => event.key === " " && this.#release());
  }

  /** @param {PointerEvent} [event] */
  #press(event) {
    const box = this.#layers.getBoundingClientRect();
    this.#place = event ? new DOMPoint(event.clientX - box.x, event.clientY - box.y) : null;
    this.#release();
    this.#held.push(() => this.due("release"));
    this.due("press");
  }

  #release() {
    for (const end of this.#held.splice(0)) end();
  }

  /** Plays what is due to something that has happened. @param {string} cause */
  due(cause) {
    for (const answer of this.#answers) {
      if (answer.kind === "ripple" && cause === "press") this.#ripple(answer);
      if (answer.kind === "iris" && cause === "done") this.#open(answer);
      if (answer.cause !== cause) continue;
      const calm = isCalm();
      if (answer.kind === "sound") this.#sound(answer);
      if (answer.kind === "flash" && !calm) this.#flash(answer);
      if (answer.kind === "kick" && !calm) {
        this.#layers.animate({ transform: answer.frames ?? [] }, {
          duration: answer.lasts, easing: answer.easing, composite: "add",
        });
      }
    }
  }

  /** A disc on the face. @param {Answer} answer @param {number} x @param {number} y
   * @param {number} radius px */
  #mark(answer, x, y, radius) {
    const mark = made("span", {});
    Object.assign(mark.style, {
      position: "absolute", left: `${x - radius}px`, top: `${y - radius}px`,
      width: `${2 * radius}px`, height: `${2 * radius}px`, borderRadius: "50%",
      background: answer.colour,
    });
    const place = answer.within === false ? ".beyond" : ".marks";
    this.#layers.querySelector(place)?.append(mark);
    return mark;
  }

  /** @param {HTMLElement} mark @param {number} [duration] */
  #fade(mark, duration = 0) {
    mark.animate([{ opacity: 1 }, { opacity: 0 }], { duration, fill: "forwards" }).finished
      .then(() => mark.remove(), () => {});
  }

  /** @param {Answer} answer */
  #ripple(answer) {
    if (isCalm()) return;
    const { offsetWidth: width, offsetHeight: height } = this.#layers;
    const middle = new DOMPoint(width / 2, height / 2);
    const { x, y } = (answer.centred ? null : this.#place) ?? middle;
    const far = Math.hypot(Math.max(x, width - x), Math.max(y, height - y));
    const mark = this.#mark(answer, x, y, far);
    mark.animate([{ scale: 0 }, { scale: 1 }], { duration: answer.grows, easing: answer.easing });
    this.#held.push(() => this.#fade(mark, answer.fades));
  }

  /** @param {Answer} answer */
  #flash(answer) {
    const { offsetWidth: width, offsetHeight: height } = this.#layers;
    this.#fade(this.#mark(answer, width / 2, height / 2, Math.hypot(width, height)), answer.fades);
  }

  /** @param {Answer} answer */
  #sound({ sound = "", gain = 1 }) {
    const now = performance.now();
    if (now - (begun.get(sound) ?? -APART) < APART) return;
    begun.set(sound, now);
    this.#host.dispatchEvent(new CustomEvent("sound", { detail: { sound, gain } }));
    const { sounds, base } = this.#design;
    const audio = new Audio(sounds?.[sound] ?? new URL(`sounds/${sound}.wav`, base).href);
    audio.volume = gain;
    audio.play().catch(() => {}); // before the first click a page makes no sound
  }

  /** Covers the page from the control on. @param {Answer} answer */
  #open({ colour = "", grows = 0, easing, next = 1 }) {
    const tell = () => this.#host.dispatchEvent(new Event("next", { bubbles: true }));
    if (isCalm()) {
      tell();
      return;
    }
    const box = this.#button.getBoundingClientRect();
    const x = box.x + box.width / 2, y = box.y + box.height / 2;
    const far = Math.hypot(Math.max(x, innerWidth - x), Math.max(y, innerHeight - y)) + 1;
    const least = Math.min(box.width, box.height) / 2;
    const iris = made("div", { "aria-hidden": "true" });
    Object.assign(iris.style, {
      position: "fixed", inset: "0", background: colour, zIndex: "2147483647",
      pointerEvents: "none",
    });
    document.body.append(iris);
    const circle = (/** @type {number} */ radius) => ({
      clipPath: `circle(${radius}px at ${x}px ${y}px)`,
    });
    iris.animate([circle(least), circle(far)], { duration: grows, easing, fill: "forwards" })
      .finished.then(() => this.#fade(iris, CLEARS), () => iris.remove());
    setTimeout(tell, grows * next);
  }

  /** Says where the pointer is; transitions follow it. @param {number} count */
  #follow(count) {
    const { style } = this.#layers;
    let inside = false;
    const say = (/** @type {PointerEvent} */ event) => {
      if (this.#button.disabled || isCalm()) return;
      // By the button, that stands still.
      const box = this.#button.getBoundingClientRect();
      const x = (event.clientX - box.x) / box.width, y = (event.clientY - box.y) / box.height;
      for (let at = 0; at < count; at += 1) {
        const outside = Number(getComputedStyle(this.#layers).getPropertyValue(
          `--mektel-inside-${at}`)) === 0;
        // What comes in begins where it comes in.
        if (!inside && outside) style.transitionDuration = "0s";
        style.setProperty(`--mektel-x-${at}`, String(x));
        style.setProperty(`--mektel-y-${at}`, String(y));
        if (!inside && outside) {
          void getComputedStyle(this.#layers).getPropertyValue(`--mektel-x-${at}`);
          style.transitionDuration = "";
        }
        style.setProperty(`--mektel-inside-${at}`, "1");
      }
      inside = true;
    };
    this.#button.addEventListener("pointerenter", say);
    this.#button.addEventListener("pointermove", say);
    this.#button.addEventListener("pointerleave", () => {
      inside = false;
      for (let at = 0; at < count; at += 1) style.setProperty(`--mektel-inside-${at}`, "0");
    });
  }

  /** A swing runs from where its level leaves nothing until it is there again. */
  #swing() {
    const { style } = this.#layers;
    const at = (/** @type {TransitionEvent} */ event) => (
      event.target === this.#layers && event.propertyName.startsWith(LEVEL)
        ? event.propertyName.slice(LEVEL.length) : "");
    this.#layers.addEventListener("transitionrun", (event) => {
      if (at(event)) style.setProperty(`--swing-${at(event)}`, `mektel-swing-${at(event)}`);
    });
    this.#layers.addEventListener("transitionend", (event) => {
      const level = getComputedStyle(this.#layers).getPropertyValue(event.propertyName);
      if (at(event) && Number(level) === 0) style.removeProperty(`--swing-${at(event)}`);
    });
  }
}
