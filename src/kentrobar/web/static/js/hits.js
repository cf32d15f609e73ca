// Hits are tapped on the drawing; a photo under it stays in this browser, only its four corners are asked for.

const marked = document.getElementById("marked");
const under = document.getElementById("photo-under");
const box = document.getElementById("photo-taps");
const holder = box.querySelector(".photo");
const canvas = holder.querySelector("canvas");
const hint = box.querySelector("[role=status]");
const again = box.querySelector("[data-again]");
const away = box.querySelector("[data-away]");
const ROUND = ["top (toward the tip)", "right side", "bottom (toward the handle)", "left side"];
const LONGEST_PX = 1600;

// -- hits ------------------------------------------------------------------------------------

let waiting = [];
let busy = false;

const drawing = () => marked.querySelector("svg.tapped");

/** Where an event lies in units of the drawing. */
function placeOf(event) {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(drawing().getScreenCTM().inverse());
  return { x: at.x.toFixed(1), y: at.y.toFixed(1) };
}

function send() {
  if (busy || !waiting.length) return;
  const form = document.getElementById("taps");
  form.elements.taps.value = waiting.join(" ");
  waiting = [];
  busy = true;
  form.requestSubmit();
}

marked.addEventListener("click", (event) => {
  if (!drawing()?.contains(event.target)) return;
  const { x, y } = placeOf(event);
  const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
  for (const [name, value] of Object.entries({ cx: x, cy: y, r: 2.4 })) dot.setAttribute(name, value);
  drawing().querySelector(".marks").append(dot);
  waiting.push(`${x},${y}`);
  send();
});

for (const ending of ["htmx:afterSettle", "htmx:sendError", "htmx:responseError"])
  document.body.addEventListener(ending, () => {
    busy = false;
    lay();
    send();
  });

// -- the photo -------------------------------------------------------------------------------

let picture = null;
let taps = [];
let matrix = null;

/** Lays the straightened photo under the drawing, in its units and at its size on the screen. */
function lay() {
  under.replaceChildren();
  marked.classList.toggle("over-photo", Boolean(matrix));
  if (!matrix) return;
  const svg = drawing();
  const view = svg.viewBox.baseVal;
  const scale = svg.getScreenCTM().a;
  const from = under.parentElement.getBoundingClientRect();
  const corner = new DOMPoint(view.x, view.y).matrixTransform(svg.getScreenCTM());
  const sheet = document.createElement("div");
  sheet.style.cssText = `left:${corner.x - from.left}px;top:${corner.y - from.top}px;width:${view.width * scale}px;height:${view.height * scale}px`;
  const shown = picture.cloneNode();
  shown.getContext("2d").drawImage(picture, 0, 0);
  shown.style.transform = `scale(${scale}) translate(${-view.x}px,${-view.y}px) matrix3d(${matrix.join(",")})`;
  sheet.append(shown);
  under.append(sheet);
}

function ask() {
  const left = taps.length < 4;
  holder.hidden = !left;
  again.hidden = left;
  away.hidden = false;
  hint.textContent = left
    ? `Tap the ${ROUND[taps.length]} of the face in the photo.`
    : "It lies under the drawing; tap the marks. If the edges do not meet, tap the four places again.";
}

function draw() {
  canvas.width = picture.width;
  canvas.height = picture.height;
  const pen = canvas.getContext("2d");
  pen.drawImage(picture, 0, 0);
  pen.fillStyle = pen.strokeStyle = getComputedStyle(canvas).color;
  pen.lineWidth = picture.width / 300;
  for (const { x, y } of taps) {
    pen.beginPath();
    pen.arc(x, y, picture.width / 80, 0, 2 * Math.PI);
    pen.stroke();
  }
}

async function straighten() {
  const query = taps.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(" ");
  const answer = await fetch(`${under.dataset.straighten}?taps=${encodeURIComponent(query)}`);
  const told = await answer.json();
  if (!answer.ok) return restart(told.error);
  matrix = told.matrix;
  drawing().scrollIntoView({ block: "center" });
  return lay();
}

function restart(sentence = "") {
  taps = [];
  matrix = null;
  lay();
  draw();
  ask();
  if (sentence) hint.textContent = sentence;
}

canvas.addEventListener("click", (event) => {
  const shown = canvas.getBoundingClientRect();
  const scale = canvas.width / shown.width;
  taps.push({ x: (event.clientX - shown.left) * scale, y: (event.clientY - shown.top) * scale });
  draw();
  ask();
  if (taps.length === 4) straighten();
});

box.querySelector("input").addEventListener("change", async (event) => {
  const [file] = event.target.files;
  if (!file) return;
  try {
    const read = await createImageBitmap(file, { imageOrientation: "from-image" });
    const scale = Math.min(1, LONGEST_PX / Math.max(read.width, read.height));
    picture = document.createElement("canvas");
    picture.width = Math.round(read.width * scale);
    picture.height = Math.round(read.height * scale);
    picture.getContext("2d").drawImage(read, 0, 0, picture.width, picture.height);
  } catch {
    hint.textContent = "This is no picture that this browser can read; choose another.";
    return;
  }
  restart();
});

again.addEventListener("click", () => restart());
away.addEventListener("click", () => {
  restart();
  holder.hidden = again.hidden = away.hidden = true;
  box.querySelector("input").value = "";
  hint.textContent = "It stays on this device and is never sent.";
});
addEventListener("resize", lay);
