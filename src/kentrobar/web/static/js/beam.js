// The drawing on its balance board: which way it lies on this screen, and how it tilts and settles.
// Only movement is worked out here; where the balance point is comes from the server.

const SETTLE_MS = 700;
const MOST_TILT = 2.5; // degrees, whatever the change
const TILT_A_UNIT = 0.6; // degrees a millimetre of the balance point
const RING_PX = 22; // half of what a finger needs

export class Beam {
  #svg;
  #turned;
  #beam;
  #upright = window.matchMedia("(max-width: 48rem) and (orientation: portrait)");

  constructor(svg, { middle, margin }) {
    this.#svg = svg;
    this.#turned = svg.querySelector("#turned");
    this.#beam = svg.querySelector("#beam");
    this.middle = Number(middle);
    this.margin = Number(margin);
    this.#upright.addEventListener("change", () => this.#lay());
    new ResizeObserver(() => this.#fitRings()).observe(svg);
    this.#lay();
  }

  /** Whether the tip is up, as on a phone. */
  get isUpright() {
    return this.#upright.matches;
  }

  #lay() {
    const { width, height, end } = this.#svg.dataset; // a paddle ends before the drawing does
    this.#svg.setAttribute("viewBox", this.isUpright ? `0 0 ${height} ${end}` : `0 0 ${width} ${height}`);
    this.#turned.setAttribute("transform", this.isUpright ? `rotate(-90) translate(${-end} 0)` : "");
    this.#svg.setAttribute("preserveAspectRatio", this.isUpright ? "xMaxYMid meet" : "xMidYMid meet");
    this.#svg.classList.toggle("upright", this.isUpright);
    this.#fitRings();
  }

  /** A ring can be hit with a finger however small the drawing is. */
  #fitRings() {
    const scale = Math.abs(this.#turned.getScreenCTM()?.a || this.#turned.getScreenCTM()?.b || 1);
    this.#svg.style.setProperty("--ring", `${Math.max(5, RING_PX / scale).toFixed(1)}px`);
  }

  /** Coordinates in the drawing, butt left, of a point of the screen. */
  inDrawing(event) {
    return new DOMPoint(event.clientX, event.clientY).matrixTransform(this.#turned.getScreenCTM().inverse());
  }

  /** Frame coordinates in cm of a point of the screen. */
  onFrame(event) {
    const point = this.inDrawing(event);
    return { x: (point.y - this.middle) / 10, y: (point.x - this.margin) / 10 };
  }

  /** The beam leans toward where the balance point went, and comes to rest there. */
  settle(from, to) {
    const moved = to - from;
    if (!moved || window.matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const tilt = Math.sign(moved) * Math.min(MOST_TILT, Math.abs(moved) * TILT_A_UNIT);
    this.#beam.style.transformOrigin = `${to}px ${this.#svg.dataset.pivot}px`;
    this.#beam.animate(
      [0, tilt, -tilt / 3, tilt / 8, 0].map((angle) => ({ transform: `rotate(${angle}deg)` })),
      { duration: SETTLE_MS, easing: "ease-in-out" },
    );
  }
}

/** Where a fulcrum's tip is along the beam. */
export const tipOf = (fulcrum) => Number(fulcrum?.getAttribute("points")?.split(" ")[0]);
