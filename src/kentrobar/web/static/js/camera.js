// A camera, or a video, watches the swing: how bright a small square of the picture is, picture by picture.
// What it saw goes to the server as a recording, which finds the passes.

const byId = (id) => document.getElementById(id);
const form = byId("swing");
const video = byId("video");
const square = byId("square");
const LONGEST_S = 120;
const NUDGE = 0.02; // of the picture's width
const SAMPLE_PX = 24; // a side of the square, as it is looked at

const box = { x: 0.5, y: 0.6, size: 0.12 }; // middle and side, in parts of the picture's width
const small = document.createElement("canvas");
small.width = small.height = SAMPLE_PX;
const looking = small.getContext("2d", { willReadFrequently: true });
let film = null;
let stream = null;

const tell = (sentence) => {
  byId("camera-told").textContent = sentence;
};
const refuse = (sentence) => {
  byId("camera-error").textContent = sentence;
};

// -- the square ---------------------------------------------------------------------------

function draw() {
  square.width = video.clientWidth;
  square.height = video.clientHeight;
  const pen = square.getContext("2d");
  const side = box.size * square.width;
  const [left, top] = [box.x * square.width - side / 2, box.y * square.width - side / 2];
  pen.lineWidth = 4;
  pen.strokeStyle = "#fffdf8";
  pen.strokeRect(left, top, side, side);
  pen.lineWidth = 2;
  pen.strokeStyle = "#17626d";
  pen.strokeRect(left, top, side, side);
}

function place(x, y, size = box.size) {
  const height = video.videoHeight / video.videoWidth || 0.75;
  box.size = Math.min(Math.max(size, 0.03), 0.5);
  box.x = Math.min(Math.max(x, box.size / 2), 1 - box.size / 2);
  box.y = Math.min(Math.max(y, box.size / 2), height - box.size / 2);
  draw();
}

let corner = null;
const at = (event) => {
  const frame = square.getBoundingClientRect();
  return { x: (event.clientX - frame.left) / frame.width, y: (event.clientY - frame.top) / frame.width };
};
square.addEventListener("pointerdown", (event) => {
  corner = at(event);
  square.setPointerCapture(event.pointerId);
});
square.addEventListener("pointermove", (event) => {
  if (!corner) return;
  const now = at(event);
  const side = Math.max(Math.abs(now.x - corner.x), Math.abs(now.y - corner.y));
  if (side > 0.02) place((corner.x + now.x) / 2, (corner.y + now.y) / 2, side);
});
square.addEventListener("pointerup", (event) => {
  const now = at(event);
  if (corner && Math.hypot(now.x - corner.x, now.y - corner.y) <= 0.02) place(now.x, now.y);
  corner = null;
});
const KEYS = {
  ArrowLeft: [-NUDGE, 0, 1],
  ArrowRight: [NUDGE, 0, 1],
  ArrowUp: [0, -NUDGE, 1],
  ArrowDown: [0, NUDGE, 1],
  "+": [0, 0, 1.15],
  "-": [0, 0, 1 / 1.15],
};
square.addEventListener("keydown", (event) => {
  const move = KEYS[event.key];
  if (!move) return;
  event.preventDefault();
  place(box.x + move[0], box.y + move[1], box.size * move[2]);
});

// -- what is looked at ----------------------------------------------------------------------

/** The mean brightness of the square, 0 to 255. */
function brightness() {
  const width = video.videoWidth;
  const side = box.size * width;
  const [left, top] = [box.x * width - side / 2, box.y * width - side / 2];
  looking.drawImage(video, left, top, side, side, 0, 0, SAMPLE_PX, SAMPLE_PX);
  const { data } = looking.getImageData(0, 0, SAMPLE_PX, SAMPLE_PX);
  let sum = 0;
  for (let i = 0; i < data.length; i += 4) {
    sum += 0.2126 * data[i] + 0.7152 * data[i + 1] + 0.0722 * data[i + 2];
  }
  return sum / (data.length / 4);
}

function show() {
  byId("stage").hidden = false;
  byId("filming").hidden = false;
  refuse("");
  place(box.x, box.y);
}
video.addEventListener("loadeddata", show);
window.addEventListener("resize", () => !byId("stage").hidden && draw());

// -- camera and file --------------------------------------------------------------------------

const NO_CAMERA =
  "This browser allows no camera here: that needs HTTPS, or Kentrobar on this device. " +
  "Film the swing with the phone’s own camera and open the video instead.";
const REFUSALS = {
  NotAllowedError: "The camera is not allowed for this page; allow it beside the address, or open a video.",
  NotFoundError: "There is no camera on this device; open a video instead.",
  NotReadableError: "Another program holds the camera; close that first.",
};

byId("use-camera").addEventListener("click", async () => {
  if (!navigator.mediaDevices?.getUserMedia) return refuse(NO_CAMERA);
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      video: { facingMode: "environment", frameRate: { ideal: 60 }, width: { ideal: 640 } },
    });
  } catch (error) {
    return refuse(REFUSALS[error.name] ?? `The camera cannot be used (${error.name}); open a video instead.`);
  }
  video.srcObject = stream;
  await video.play();
  return tell("Draw the square, set the frame swinging, then start.");
});

byId("video-file").addEventListener("change", (event) => {
  const [file] = event.target.files;
  if (!file) return;
  letGo();
  video.srcObject = null;
  video.src = URL.createObjectURL(file);
  tell("Draw the square, then start: the video is played through once.");
});
video.addEventListener(
  "error",
  () => video.src && refuse("This browser cannot play that video; save it as MP4 or WebM."),
);

function letGo() {
  for (const track of stream?.getTracks() ?? []) track.stop();
  stream = null;
}
window.addEventListener("pagehide", letGo);

// -- filming --------------------------------------------------------------------------------------

function take(_now, { mediaTime }) {
  if (!film) return;
  film.rows.push(`${mediaTime.toFixed(5)},${brightness().toFixed(2)}`);
  film.from ??= mediaTime;
  byId("film-count").textContent = `${(mediaTime - film.from).toFixed(0)} s`;
  if (mediaTime - film.from > LONGEST_S) stop();
  else video.requestVideoFrameCallback(take);
}

async function start() {
  film = { rows: [], from: null };
  byId("film").textContent = "Stop";
  tell("Sixteen swings are plenty.");
  if (!stream) {
    video.currentTime = 0;
    await video.play();
  }
  video.requestVideoFrameCallback(take);
}

/** Hands over what was seen as a recording, as if a file had been chosen. */
function stop() {
  const { rows } = film;
  film = null;
  byId("film").textContent = "Start";
  if (!stream) video.pause();
  const text = `time (s),brightness\n${rows.join("\n")}\n`;
  const hand = new DataTransfer();
  hand.items.add(new File([text], "brightness.csv", { type: "text/csv" }));
  form.elements.recording.files = hand.files;
  form.elements.passes.value = "2"; // the square sees it pass both ways
  form.elements.recording.dispatchEvent(new Event("change", { bubbles: true }));
  tell(`${rows.length} pictures were taken over.`);
}

byId("film").addEventListener("click", () => (film ? stop() : start()));
video.addEventListener("ended", () => film && stop());
