// What would be placed, under the pointer, with what it would change; a swatch can be dragged onto the drawing.

const DRAG_PX = 8;

export class Ghost {
  #label;
  #layer;
  #isWanted = false;

  /**
   * `page` answers with `ask(place)`, what would be placed there; `placeOf(event)`, the place under a point of
   * the screen or null; `drop(place)`.
   */
  constructor(svg, tray, label, page) {
    this.page = page;
    this.svg = svg;
    this.#label = label;
    this.#layer = document.createElementNS(svg.namespaceURI, "g");
    this.#layer.setAttribute("class", "ghost-piece");
    svg.querySelector("#beam").append(this.#layer);
    svg.addEventListener("pointermove", (event) => event.pointerType === "mouse" && this.follow(event));
    svg.addEventListener("pointerleave", () => this.hide());
    this.#dragFrom(tray);
  }

  /** Shows what would be placed where the pointer is. */
  follow(event) {
    const place = this.page.placeOf(event);
    if (!place) return this.hide();
    const { left, top, width } = this.svg.parentElement.getBoundingClientRect();
    const x = Math.min(Math.max(event.clientX - left, 90), width - 90);
    Object.assign(this.#label.style, { left: `${x}px`, top: `${Math.max(0, event.clientY - top - 44)}px` });
    this.ask(place);
  }

  /** Asks what would be placed there, for somebody who uses the keyboard. */
  ask(place) {
    this.#isWanted = true;
    this.page.ask(place);
  }

  /** What the server made of it: its shapes, and what it would change or why it cannot be there. */
  show({ paths = [], text }) {
    if (!this.#isWanted) return;
    this.#layer.replaceChildren(...paths.map((d) => this.#path(d)));
    this.#label.textContent = text;
    this.#label.hidden = false;
  }

  hide() {
    this.#isWanted = false;
    this.#layer.replaceChildren();
    this.#label.hidden = true;
  }

  #path(d) {
    const path = document.createElementNS(this.svg.namespaceURI, "path");
    path.setAttribute("d", d);
    return path;
  }

  /** A swatch that is dragged takes the ghost along and is placed where it is let go. */
  #dragFrom(tray) {
    let from = null;
    let isDragging = false;
    tray.addEventListener("pointerdown", (event) => {
      const swatch = event.target.closest(".swatch");
      from = swatch && event.button === 0 ? { swatch, x: event.clientX, y: event.clientY } : null;
      isDragging = false;
    });
    tray.addEventListener("pointermove", (event) => {
      if (!from) return;
      const [dx, dy] = [event.clientX - from.x, event.clientY - from.y];
      // Sideways the row of swatches is scrolled; up, out of the tray, is a drag.
      if (!isDragging && (Math.hypot(dx, dy) < DRAG_PX || Math.abs(dx) > Math.abs(dy))) return;
      if (!isDragging) this.#begin(from.swatch, event);
      isDragging = true;
      this.follow(event);
    });
    const end = (event) => {
      const place = isDragging && event.type === "pointerup" ? this.page.placeOf(event) : null;
      if (isDragging) this.hide();
      from = null;
      if (place) this.page.drop(place);
    };
    tray.addEventListener("pointerup", end);
    tray.addEventListener("pointercancel", end);
    tray.addEventListener("dragstart", (event) => event.preventDefault());
  }

  #begin(swatch, event) {
    const choice = swatch.querySelector("input");
    choice.checked = true;
    choice.dispatchEvent(new Event("change", { bubbles: true }));
    event.currentTarget.setPointerCapture(event.pointerId);
  }
}
