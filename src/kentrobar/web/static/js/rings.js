// The named places as rings: one stop of the Tab key, arrows from ring to ring, the nearest one for a finger.

const NEXT = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, Home: -Infinity, End: Infinity };

export class Rings {
  #svg;

  /** `page` answers with `onChosen(ring)`, and with `onFocused(ring)` where the keyboard comes to one. */
  constructor(svg, beam, page) {
    this.#svg = svg;
    this.beam = beam;
    svg.addEventListener("keydown", (event) => {
      const ring = event.target.closest?.("[data-site]");
      if (!ring) return;
      if (event.key === "Enter" || event.key === " ") page.onChosen(ring);
      else if (event.key in NEXT) this.#go(ring, NEXT[event.key]);
      else return;
      event.preventDefault();
      event.stopPropagation();
    });
    svg.addEventListener("focusin", (event) => {
      const ring = event.target.closest?.("[data-site]");
      if (ring?.matches(":focus-visible")) page.onFocused(ring);
    });
  }

  get #all() {
    return [...this.#svg.querySelectorAll("[data-site]")];
  }

  #go(ring, by) {
    const all = this.#all;
    const next = all[Math.min(all.length - 1, Math.max(0, all.indexOf(ring) + by))];
    for (const each of all) each.setAttribute("tabindex", each === next ? "0" : "-1");
    next.focus();
  }

  /** The ring that a finger meant: where several are within reach, the nearest. */
  at(event) {
    if (!event.target.closest?.("[data-site]")) return null;
    const point = this.beam.inDrawing(event);
    const away = (ring) => {
      const { cx, cy } = ring.querySelector(".ring");
      return Math.hypot(cx.baseVal.value - point.x, cy.baseVal.value - point.y);
    };
    return this.#all.reduce((nearest, each) => (away(each) < away(nearest) ? each : nearest));
  }

  /** After the drawing was renewed the ring that was focused is again. */
  focus(key) {
    const ring = this.#svg.querySelector(`[data-site="${key}"]`);
    if (!ring) return;
    for (const each of this.#all) each.setAttribute("tabindex", each === ring ? "0" : "-1");
    ring.focus({ preventScroll: true });
  }
}
