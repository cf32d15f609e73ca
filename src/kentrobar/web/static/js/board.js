// The plan board: selecting, laying, dragging, the table and the keys. Every number is the server's.

import { Beam, tipOf } from "./beam.js";
import { Ghost } from "./ghost.js";
import { Rings } from "./rings.js";
import { Transport } from "./transport.js";
import { keepTyping } from "./typing.js";

const root = document.getElementById("plan");
const svg = document.getElementById("board");
const byId = (id) => document.getElementById(id);
const SETTLE_MS = 400; // keys held or pressed in a row become one change
const DRAG_PX = 3;
const TOAST_MS = 6000;
const beam = new Beam(svg, root.dataset);

let numbers = { live: new Map(), resting: new Map() }; // the table's wait until the hand rests
let selected = null;
let drag = null;
let keyed = null;
let justDragged = false;
let rested = tipOf(byId("fulcrum")); // where the balance point came to rest
const typing = keepTyping(byId("pieces"));

// -- showing ------------------------------------------------------------------------------

function indexNumbers() {
  numbers = { live: new Map(), resting: new Map() };
  for (const place of root.querySelectorAll("[data-n]")) {
    const index = place.closest("#pieces") ? numbers.resting : numbers.live;
    const known = index.get(place.dataset.n);
    if (known) known.push(place);
    else index.set(place.dataset.n, [place]);
  }
}

/** Sets an attribute that differs: to set it anew would paint its shape anew. */
function attribute(shape, name, value) {
  if (shape && shape.getAttribute(name) !== String(value)) shape.setAttribute(name, value);
}

const OF_A_PIECE = /^(?:lever|share|percent|mass|place)-(\d+)$/;
const REST_MS = 120;
let rest = null;

function showNumbers(entries, index) {
  for (const [name, text] of entries) {
    for (const place of index.get(name) ?? []) {
      if (place.textContent !== text) place.textContent = text;
    }
  }
}

/** The specs and the piece in hand at once; the other pieces and the table when the hand rests. */
function showPreview(answer, asked) {
  if (asked.action === "add") return ghost.show(answer);
  const ofOthers = ([name]) => (OF_A_PIECE.exec(name)?.[1] ?? selected) !== selected;
  const entries = Object.entries(answer.numbers);
  showNumbers(
    entries.filter((entry) => !ofOthers(entry)),
    numbers.live,
  );
  clearTimeout(rest);
  rest = setTimeout(() => {
    showNumbers(entries.filter(ofOthers), numbers.live);
    showNumbers(entries, numbers.resting);
    byId("selected-numbers").textContent = selected ? numbersOf(selected) : "";
  }, REST_MS);
  for (const [piece, paths] of Object.entries(answer.paths)) {
    const shapes = pieceShape(piece)?.querySelectorAll("path");
    // A pair that joins or parts on the way has another number of shapes: wait for the drop.
    if (shapes?.length === 2 * paths.length) {
      for (const [i, shape] of shapes.entries()) attribute(shape, "d", paths[i % paths.length]);
    }
  }
  for (const [piece, x] of Object.entries(answer.levers)) {
    const lever = svg.querySelector(`[data-lever="${piece}"]`);
    attribute(lever?.querySelector("line"), "x2", x);
    attribute(lever?.querySelector("circle"), "cx", x);
  }
  if (answer.fulcrum) attribute(byId("fulcrum"), "points", answer.fulcrum);
}

function showSaved(parts) {
  clearTimeout(rest);
  ghost.hide();
  const focusedPiece = document.activeElement?.closest?.("[data-piece]")?.dataset.piece;
  const focusedRing = document.activeElement?.closest?.("[data-site]")?.dataset.site;
  const tip = tipOf(byId("fulcrum"));
  const focusedAim = document.activeElement?.dataset?.aim;
  typing.around(() => {
    byId("placed").innerHTML = parts.html.placed;
    for (const name of ["start", "pieces", "specs", "compared", "cautions", "hold", "steps", "warned"])
      byId(name).innerHTML = parts.html[name];
  });
  if (parts.fulcrum) byId("fulcrum")?.setAttribute("points", parts.fulcrum);
  beam.settle(rested ?? tip, tipOf(byId("fulcrum")));
  rested = tipOf(byId("fulcrum"));
  byId("spoken").textContent = parts.spoken;
  byId("undo").disabled = !parts.undo;
  byId("redo").disabled = !parts.redo;
  if (document.activeElement !== byId("plan-title")) byId("plan-title").value = parts.name;
  if (document.activeElement !== byId("axis")) byId("axis").value = parts.axis;
  clearErrors();
  indexNumbers();
  if (parts.placed) selected = parts.placed;
  select(pieceShape(selected) ? selected : null);
  if (focusedAim) byId("specs").querySelector(`[data-aim="${focusedAim}"]`)?.focus({ preventScroll: true });
  if (focusedPiece) pieceShape(focusedPiece)?.focus({ preventScroll: true });
  if (focusedRing) rings.focus(focusedRing);
  offerUndo(parts);
}

let toasted = null;

/** What was just done, with its undo beside it. */
function offerUndo({ said, undo, version }) {
  const toast = byId("toast");
  clearTimeout(toasted);
  toast.hidden = !undo || version === Number(root.dataset.version);
  toast.firstElementChild.textContent = said;
  toasted = setTimeout(() => {
    toast.hidden = true;
  }, TOAST_MS);
}
byId("toast").addEventListener("click", (event) => {
  if ("undo" in event.target.dataset) history("undo");
});

const SAYINGS = {
  saved: "Saved",
  saving: "Saving…",
  "caught-up": "Saved · shows a change from elsewhere",
  offline: "Not saved: no connection",
  conflict: "Not saved: changed elsewhere",
  "signed-out": "Not saved: signed out",
};

function showState(state, waiting) {
  byId("saved").textContent = SAYINGS[state];
  byId("saved").dataset.state = state;
  const changes = waiting === 1 ? "1 change is" : `${waiting} changes are`;
  const notices = {
    offline: waiting
      ? `No connection. ${changes} kept on this device and will be saved when it is back; you can go on.`
      : "No connection. What you see was saved; new changes will be kept on this device.",
    "signed-out": `You were signed out. ${changes} kept on this device: sign in again in another tab, \
then come back here.`,
  };
  byId("notice").textContent = notices[state] ?? "";
  byId("notice").hidden = !notices[state];
}

async function refused(change, error) {
  if (change.action === "edit") {
    typing.refuse(change, error.message);
  } else if (change.action === "axis" || change.action === "rename") {
    const field = byId(change.action === "axis" ? "axis" : "plan-title");
    field.value = change.value;
    field.setAttribute("aria-invalid", "true");
    byId("notice").textContent = error.message;
    byId("notice").hidden = false;
  } else {
    // A shape that was dragged goes back first: showing the plan again clears every error.
    if (change.action !== "add") await transport.refresh();
    byId(panelOf(change)).querySelector(":scope > .error").textContent = error.message;
    showWaysOut(change, error);
    if (change.action === "meet") keepAim(change);
  }
}

/** An aim that was refused stays as it was typed. */
function keepAim({ spec, value }) {
  const field = byId("specs").querySelector(`[data-aim="${spec}"]`);
  if (!field) return;
  field.value = value;
  field.setAttribute("aria-invalid", "true");
}

const PANELS = ["aiming", "holding", "completing", "taking-away"];

/** Where a refusal of this change is said: at the panel it came from. */
const panelOf = ({ action, kind }) =>
  kind === "hold"
    ? "holding"
    : ({ complete: "completing", round: "completing", take_away: "taking-away", meet: "aiming" }[action] ??
      "tray");

/** Buttons that lay a refused piece otherwise, or as it is all the same. */
function showWaysOut(change, error) {
  const box = byId(panelOf(change)).querySelector(":scope > .ways-out");
  if (!box) return;
  box.replaceChildren();
  box.hidden = !error.code;
  if (!error.code) return;
  const offer = (label, addition) => {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "btn btn-sm btn-outline-secondary";
    button.textContent = label;
    button.addEventListener("click", () => {
      clearErrors();
      const { mark: _mark, ...order } = change;
      transport.send({ ...order, ...addition });
    });
    box.append(button);
  };
  for (const [i, label] of error.fixes.entries()) offer(label, { fix: i });
  offer("Place it anyway", { overrule: error.code });
}

function clearErrors() {
  for (const panel of ["tray", ...PANELS]) {
    byId(panel).querySelector(":scope > .error").textContent = "";
    const box = byId(panel).querySelector(":scope > .ways-out");
    if (box) box.hidden = true;
  }
}

function conflict(answer) {
  const dialog = byId("conflict");
  byId("theirs").textContent = answer.theirs;
  dialog.dataset.version = answer.version;
  if (!dialog.open) dialog.showModal();
}

const transport = new Transport(root, {
  onPreview: showPreview,
  onPreviewRefused: (change, error) => {
    if (change.action === "meet") tellAim(error.message);
    if (change.action === "add") ghost.show({ text: error.message });
  },
  onSaved: showSaved,
  onRefused: refused,
  onConflict: conflict,
  onState: showState,
});

// -- selecting ----------------------------------------------------------------------------

function pieceShape(number) {
  return number && svg.querySelector(`[data-piece="${number}"]`);
}

function select(number) {
  selected = number && String(number);
  for (const shape of svg.querySelectorAll("[data-piece], [data-lever]")) {
    const own = shape.dataset.piece ?? shape.dataset.lever;
    shape.classList.toggle("selected", own === selected);
    if (shape.dataset.piece) shape.setAttribute("aria-pressed", String(own === selected));
  }
  for (const row of root.querySelectorAll("[data-row]")) {
    row.classList.toggle("selected", row.dataset.row === selected);
  }
  byId("nudge").hidden = !selected;
  byId("selected-name").textContent = selected ? `Piece ${selected}` : "";
  byId("selected-numbers").textContent = selected ? numbersOf(selected) : "";
}

/** Grams and place of a piece, as its row has them. */
function numbersOf(number) {
  const [mass, place] = ["mass", "place"].map(
    (name) => numbers.resting.get(`${name}-${number}`)?.[0].textContent,
  );
  return mass ? `${mass} ${root.dataset.mass} · ${place}` : "";
}

// -- placing and dragging --------------------------------------------------------------------

const onFrame = (event) => beam.onFrame(event);

/** What the tray holds, to be placed. */
function order() {
  const { site: _site, at: _at, ...kept } = Object.fromEntries(new FormData(byId("tray")));
  return { action: "add", ...kept };
}

function lay(place) {
  settleKeys();
  clearErrors();
  transport.send({ ...order(), ...place });
}

const placeOf = ({ x, y }) => ({ x: x.toFixed(3), y: y.toFixed(3) });

svg.addEventListener("pointerdown", (event) => {
  const shape = event.target.closest("[data-piece]");
  justDragged = false;
  if (!shape || event.button !== 0) return;
  settleKeys();
  select(shape.dataset.piece);
  shape.focus({ preventScroll: true });
  const at = onFrame(event);
  drag = {
    piece: shape.dataset.piece,
    from: [event.clientX, event.clientY],
    // The piece keeps its distance from the hand.
    offset: { x: Number(shape.dataset.x) - at.x, y: Number(shape.dataset.y) - at.y },
    place: null,
  };
  svg.setPointerCapture(event.pointerId);
  event.preventDefault();
});

svg.addEventListener("pointermove", (event) => {
  if (!drag) return;
  const [x, y] = drag.from;
  if (!drag.place && Math.hypot(event.clientX - x, event.clientY - y) < DRAG_PX) return;
  const at = onFrame(event);
  drag.place = placeOf({ x: at.x + drag.offset.x, y: at.y + drag.offset.y });
  transport.preview({ action: "drag", piece: drag.piece, ...drag.place });
});

const drop = (event) => {
  if (!drag) return;
  const { piece, place } = drag;
  drag = null;
  justDragged = Boolean(place);
  if (place && event.type === "pointerup") transport.send({ action: "drag", piece, ...place });
  else if (place) transport.preview({ action: "nudge", piece, toward: "tip", by_cm: 0 });
};
svg.addEventListener("pointerup", drop);
svg.addEventListener("pointercancel", drop);

svg.addEventListener("click", (event) => {
  // A piece that was taken hold of has the pointer captured: what is under it counts, not the target.
  const there = document.elementFromPoint(event.clientX, event.clientY);
  if (justDragged || there?.closest("[data-piece]")) return;
  const place = placeUnder(event);
  if (place) lay(place);
  else select(null);
});

/** The place under a point of the screen: the nearest ring, else a spot of the frame. */
function placeUnder(event) {
  const there = document.elementFromPoint(event.clientX, event.clientY);
  if (!there || !svg.contains(there) || there.closest("[data-piece]")) return null;
  const ring = rings.at({ clientX: event.clientX, clientY: event.clientY, target: there });
  if (ring) return { site: ring.dataset.site };
  return there.closest(".frame") ? placeOf(onFrame(event)) : null;
}

const rings = new Rings(svg, beam, {
  onChosen: (ring) => lay({ site: ring.dataset.site }),
  onFocused: (ring) => ghost.ask({ site: ring.dataset.site }),
});
const ghost = new Ghost(svg, byId("tray"), byId("ghost"), {
  ask: (place) => transport.preview({ ...order(), ...place }),
  placeOf: (event) => (drag ? null : placeUnder(event)),
  drop: lay,
});

// Not on the SVG itself: listening for focus would make it a stop of the Tab key.
svg.parentElement.addEventListener("focusin", (event) => {
  const shape = event.target.closest("[data-piece]");
  if (shape && !drag) select(shape.dataset.piece);
});

// -- the tray -----------------------------------------------------------------------------

function fitTray() {
  const chosen = byId("tray").querySelector("[name=material]:checked");
  if (!chosen) return;
  const { form, amount, caution } = chosen.dataset;
  byId("tray-caution").textContent = caution;
  // What was typed stays, unless it is a length and this is no tape.
  const typed = byId("amount").dataset.typed ? byId("amount").value : "";
  if (!typed || (form !== "tape" && /(cm|mm|in|")\s*$/.test(typed))) byId("amount").value = amount;
  byId("face").disabled = form !== "tape";
  for (const each of byId("tray").querySelectorAll(".of-tape input")) each.disabled = form !== "tape";
}
byId("tray").addEventListener("change", (event) => event.target.name === "material" && fitTray());
byId("amount").addEventListener("input", (event) => {
  event.target.dataset.typed = "1";
});
byId("tray").addEventListener("submit", (event) => {
  event.preventDefault();
  const at = byId("at").value.trim();
  lay(at ? { at } : { site: byId("site").value });
});

// -- the table, the bar, the head of the page -------------------------------------------------

byId("pieces").addEventListener("change", (event) => {
  const field = event.target.closest("[data-field]");
  if (!field) return;
  const value = field.type === "checkbox" ? (field.checked ? "1" : "0") : field.value;
  const piece = field.closest("[data-row]").dataset.row;
  transport.send({ action: "edit", piece, field: field.dataset.field, value });
});
byId("pieces").addEventListener("keydown", (event) => {
  if (event.key === "Enter" && event.target.matches("input[data-field]")) event.target.blur();
});
// -- an aim typed at a spec ---------------------------------------------------------------------

const AIM_MS = 250; // typing rests so long before it is tried

const tellAim = (sentence) => {
  byId("aim-error").textContent = sentence;
};

/** The change that has the selected piece meet what is typed; with one piece alone, that one. */
function aimed(field) {
  const pieces = svg.querySelectorAll("[data-piece]");
  if (!selected && pieces.length === 1) select(pieces[0].dataset.piece);
  if (!selected) tellAim("Select a piece first: it changes until the target is met.");
  const change = { action: "meet", piece: selected, spec: field.dataset.aim, value: field.value.trim() };
  return selected && { ...change, by: byId("meet-by").value };
}

let aiming = null;
byId("specs").addEventListener("input", (event) => {
  const field = event.target.closest("[data-aim]");
  if (!field) return;
  tellAim("");
  clearTimeout(aiming);
  if (!/\d/.test(field.value)) return;
  aiming = setTimeout(() => {
    const change = aimed(field);
    if (change) transport.preview(change);
  }, AIM_MS);
});
byId("specs").addEventListener("keydown", (event) => {
  const field = event.target.closest("[data-aim]");
  if (!field || event.key !== "Enter") return;
  event.preventDefault();
  clearTimeout(aiming);
  settleKeys();
  const change = field.value.trim() && aimed(field);
  if (change) transport.send(change);
});

byId("steps").addEventListener("click", (event) => {
  const chosen = event.target.closest("[data-select]")?.dataset.select;
  if (!chosen) return;
  select(chosen);
  pieceShape(chosen)?.focus();
});
byId("pieces").addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (!button) return;
  const { select: chosen, remove, useDensity, fix, overrule, code, of: piece } = button.dataset;
  if (chosen) {
    select(chosen);
    pieceShape(chosen)?.focus();
  } else if (fix) transport.send({ action: "fix", piece, code, fix });
  else if (overrule) transport.send({ action: "overrule", piece, code, value: overrule });
  else if (remove) transport.send({ action: "delete", piece: remove });
  else if (useDensity) transport.send({ action: "use_density", material: useDensity });
});

/** What is typed and ticked beside a button, by name. */
function typedIn(button) {
  const row = button.closest(".further-row");
  const fields = row ? [...row.querySelectorAll("input, select")] : [];
  const used = fields.filter((field) => field.type !== "checkbox" || field.checked);
  return Object.fromEntries(used.map((field) => [field.name, field.value]));
}

for (const panel of PANELS) {
  byId(panel).addEventListener("click", (event) => {
    const button = event.target.closest("button");
    const amount = button?.closest(".further-row")?.querySelector("[data-amount]")?.value ?? "";
    if (!button) return;
    settleKeys();
    clearErrors();
    const { complete, take, fitting } = button.dataset;
    const material = byId(panel).querySelector("select")?.value ?? "";
    if (complete) transport.send({ action: "complete", kind: complete, amount, material });
    else if (take) transport.send({ action: "take_away", how: take, fitting, ...typedIn(button) });
    else if ("round" in button.dataset) transport.send({ action: "round", amount });
  });
}

byId("nudge").addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (!button || !selected) return;
  const { nudge, grow } = button.dataset;
  if (nudge) press("nudge", nudge, 0.1);
  else if (grow) press("grow", grow, 1);
  else useTool(button);
});

for (const [id, action] of [
  ["axis", "axis"],
  ["plan-title", "rename"],
]) {
  byId(id).addEventListener("change", (event) => {
    event.target.removeAttribute("aria-invalid");
    byId("notice").hidden = true;
    transport.send({ action, value: event.target.value });
  });
}
byId("undo").addEventListener("click", () => history("undo"));
byId("redo").addEventListener("click", () => history("redo"));
function showDrawer(isOpen) {
  byId("drawer").hidden = !isOpen;
  byId("open-drawer").setAttribute("aria-expanded", String(isOpen));
  if (isOpen) byId("close-drawer").focus();
  else byId("open-drawer").focus();
}
byId("open-drawer").addEventListener("click", () => showDrawer(byId("drawer").hidden));
byId("close-drawer").addEventListener("click", () => showDrawer(false));
byId("drawer").addEventListener("keydown", (event) => event.key === "Escape" && showDrawer(false));
if (window.location.hash) byId("drawer").hidden = !byId("drawer").querySelector(window.location.hash);
byId("help").addEventListener("click", () => byId("keys").showModal());
byId("conflict").addEventListener("cancel", (event) => event.preventDefault());
byId("conflict").addEventListener("click", (event) => {
  const choice = event.target.closest("[data-choice]")?.dataset.choice;
  if (!choice) return;
  byId("conflict").close();
  transport.resolve(choice, byId("conflict").dataset.version);
});

function history(action) {
  settleKeys();
  transport.send({ action });
}

/** A tool of the selected piece: its action, with what stands in its field. */
function useTool(button) {
  settleKeys();
  clearErrors();
  const amount = button.parentElement.querySelector("[data-amount]")?.value;
  transport.send({ action: button.dataset.act, piece: selected, ...(amount && { amount }) });
}

const toolFor = (key) => byId("nudge").querySelector(`[data-key="${CSS.escape(key)}"]`);

// -- keys -----------------------------------------------------------------------------------

/** Presses of one kind add up, are shown at once and saved as one change when they stop. */
function press(action, kind, amount) {
  if (keyed && (keyed.action !== action || keyed.kind !== kind || keyed.piece !== selected)) {
    settleKeys();
  }
  keyed ??= { action, kind, piece: selected, amount: 0 };
  keyed.amount += amount;
  clearTimeout(keyed.timer);
  keyed.timer = setTimeout(settleKeys, SETTLE_MS);
  transport.preview(keyedChange());
}

function keyedChange() {
  const { action, kind, piece, amount } = keyed;
  return action === "nudge"
    ? { action, piece, toward: kind, by_cm: amount.toFixed(2) }
    : { action, piece, steps: Number(kind) * amount };
}

function settleKeys() {
  if (!keyed) return;
  clearTimeout(keyed.timer);
  const change = keyedChange();
  keyed = null;
  transport.send(change);
}
window.addEventListener("pagehide", settleKeys);

const GROWTH = { "+": "1", "=": "1", "-": "-1", "−": "-1" };
const LYING = { ArrowRight: "tip", ArrowLeft: "butt", ArrowUp: "left", ArrowDown: "right" };
const UPRIGHT = { ArrowUp: "tip", ArrowDown: "butt", ArrowLeft: "left", ArrowRight: "right" };

function pressedKey(event) {
  if (event.target.closest("input, select, textarea, dialog")) return false;
  if (event.ctrlKey || event.metaKey) {
    if (event.key.toLowerCase() !== "z") return false;
    const button = byId(event.shiftKey ? "redo" : "undo");
    if (keyed || !button.disabled) history(button.id);
    return true;
  }
  if (event.altKey) return false;
  const act = keyAction(event);
  act?.();
  return Boolean(act);
}

function keyAction(event) {
  if (event.key === "?") return () => byId("keys").showModal();
  if (!selected) return null;
  const step = event.shiftKey ? 1 : 0.1;
  const toward = (beam.isUpright ? UPRIGHT : LYING)[event.key];
  if (toward) return () => press("nudge", toward, step);
  if (GROWTH[event.key]) return () => press("grow", GROWTH[event.key], 1);
  const key = event.key.toLowerCase();
  if (key === "escape") return () => select(null);
  const tool = /^[a-z]+$/.test(key) && toolFor(key);
  return tool ? () => useTool(tool) : null;
}
document.addEventListener("keydown", (event) => {
  if (pressedKey(event)) event.preventDefault();
});

indexNumbers();
fitTray();
transport.pump();
