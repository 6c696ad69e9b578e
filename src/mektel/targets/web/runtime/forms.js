// Controls in forms: their value, submitting and resetting, being disabled with a fieldset, labels.

/** What forms know of a control. */
export class FormPart {
  #host;
  #internals;
  #initial = false;
  /** Whether a fieldset around it is disabled. */
  disabled = false;

  /** @param {HTMLElement & {checked: boolean}} host @param {boolean} checkable */
  constructor(host, checkable) {
    this.#host = host;
    this.#internals = host.attachInternals();
    this.checkable = checkable;
  }

  get labels() {
    return /** @type {NodeListOf<HTMLLabelElement>} */ (this.#internals.labels);
  }

  get form() {
    return this.#internals.form;
  }

  get validity() {
    return this.#internals.validity;
  }

  /** What a reset goes back to is how it stood when it came to the page. */
  connected() {
    this.#initial = this.#host.checked;
  }

  reset() {
    if (this.checkable) this.#host.checked = this.#initial;
  }

  /** Tells the form its value, and whether it may be sent so. @param {HTMLElement} anchor */
  tell(anchor) {
    if (!this.checkable) return;
    const { checked } = this.#host;
    this.#internals.setFormValue(checked ? this.value : null);
    const missing = this.#host.hasAttribute("required") && !checked;
    const message = this.#host.getAttribute("required-message") ?? "This has to be on.";
    if (missing) this.#internals.setValidity({ valueMissing: true }, message, anchor);
    else this.#internals.setValidity({});
  }

  get value() {
    return this.#host.getAttribute("value") ?? "on";
  }

  /** A press of one of type submit or reset does as those buttons do. */
  press() {
    const { form } = this, type = this.#host.getAttribute("type");
    if (!form || this.checkable) return;
    if (type === "reset") form.reset();
    if (type !== "submit") return;
    this.#internals.setFormValue(this.#host.getAttribute("value"));
    form.requestSubmit();
    this.#internals.setFormValue(null);
  }
}
