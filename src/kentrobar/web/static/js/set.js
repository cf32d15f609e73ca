// The page of a set: the box of the target in the hand, and the fields that the kind of target needs.

const root = document.getElementById("set");
const form = document.getElementById("aim-at");
const kind = document.getElementById("id_kind");
const KEY_STEP = 2;
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Shows what belongs to the kind of target that is chosen, and nothing else. */
function showKind() {
  for (const part of document.querySelectorAll("#asked [data-kind]"))
    part.hidden = part.dataset.kind !== kind.value;
}

const target = () => {
  const { csrfmiddlewaretoken: _, ...wanted } = Object.fromEntries(new FormData(form));
  return wanted;
};

let asking = false;
let again = false;

/** Asks what a target costs, or which one costs least; the last question wins. */
async function ask(wanted = target()) {
  if (asking) {
    again = true;
    return;
  }
  asking = true;
  const answer = await fetch(`${root.dataset.costs}?${new URLSearchParams(wanted)}`).catch(() => null);
  asking = false;
  if (answer?.ok) show(await answer.json());
  if (again) {
    again = false;
    ask();
  }
}

function show({ frames, total, target: told }) {
  for (const cell of document.querySelectorAll("[data-frame]"))
    cell.textContent = frames[cell.dataset.frame] ?? "";
  document.getElementById("total").textContent = total;
  for (const box of document.querySelectorAll(".target-box")) box.setAttribute("aria-valuetext", total);
  if ("free" in root.dataset) {
    delete root.dataset.free;
    for (const [key, value] of Object.entries(told)) put(key, value);
  }
}

/** Gives one spec of the target a value, in the form and in every picture that shows it. */
function put(key, value) {
  const field = form.elements[key];
  if (!field) return;
  const by = value - Number(field.value);
  field.value = value;
  for (const box of document.querySelectorAll(".target-box")) {
    const { xKey, yKey, xUnit, yUnit } = box.ownerSVGElement.dataset;
    const x = Number(box.dataset.dx ?? 0) + (key === xKey ? by * Number(xUnit) : 0);
    const y = Number(box.dataset.dy ?? 0) + (key === yKey ? by * Number(yUnit) : 0);
    Object.assign(box.dataset, { dx: x, dy: y });
    box.setAttribute("transform", `translate(${x} ${y})`);
  }
}

/** Moves the box of one picture by so much of it, and the target with it. */
function move(box, dx, dy) {
  const { xKey, yKey, xUnit, yUnit } = box.ownerSVGElement.dataset;
  put(xKey, Number(form.elements[xKey].value) + dx / Number(xUnit));
  put(yKey, Number(form.elements[yKey].value) + dy / Number(yUnit));
  form.hidden = false;
  ask();
}

function hold(box) {
  const svg = box.ownerSVGElement;
  let last = null;
  box.addEventListener("pointerdown", (event) => {
    last = event;
    box.setPointerCapture(event.pointerId);
  });
  box.addEventListener("pointermove", (event) => {
    if (!last) return;
    const scale = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
    move(box, (event.clientX - last.clientX) * scale, (event.clientY - last.clientY) * scale);
    last = event;
  });
  for (const end of ["pointerup", "pointercancel"])
    box.addEventListener(end, () => {
      last = null;
    });
  box.addEventListener("keydown", (event) => {
    const by = ARROWS[event.key];
    if (!by) return;
    event.preventDefault();
    move(box, by[0] * KEY_STEP, by[1] * KEY_STEP);
  });
}

kind.addEventListener("change", showKind);
showKind();
for (const box of document.querySelectorAll(".target-box")) hold(box);
if (form) ask("free" in root.dataset ? {} : target());
document.getElementById("set-title").addEventListener("change", ({ target: title }) => title.form.submit());
