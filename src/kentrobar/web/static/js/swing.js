// Takes the moments of passes by tap or key; the server tells what they come to.
import { drawLines } from "./chart.js";

const form = document.getElementById("swing");
const tapButton = document.getElementById("tap");
const instrument = document.getElementById("instrument");
const gate = document.getElementById("gate");
let taps = JSON.parse(form.elements.times.value || "[]");
let asking = 0;

const drawFit = () => {
  const data = document.getElementById("drawn");
  if (!data) return;
  const { t, signal, fit, name } = JSON.parse(data.textContent);
  drawLines(
    "fit",
    t,
    [
      { name, values: signal, isPoints: true },
      { name: "fit", values: fit },
    ],
    "s",
  );
};

async function summarize() {
  const mine = ++asking;
  form.elements.times.value = JSON.stringify(taps);
  const answer = await fetch(form.dataset.summary, { method: "POST", body: new FormData(form) }).catch(
    () => null,
  );
  if (!answer?.ok || mine !== asking) return;
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  document.getElementById("swing-summary").replaceWith(page.getElementById("swing-summary"));
  drawFit();
}

const show = () => {
  const count = taps.length;
  document.getElementById("tap-count").textContent = `${count} tap${count === 1 ? "" : "s"}`;
};

const tap = (event) => {
  if (form.elements.timed_by.value === "gate") taps = [];
  form.elements.timed_by.value = "tap";
  form.elements.recording.value = "";
  taps.push(Math.round(event.timeStamp * 10) / 10000);
  tapButton.classList.toggle("beat");
  show();
  if (taps.length > 3) summarize();
};

tapButton.addEventListener("pointerdown", tap);
document.addEventListener("keydown", (event) => {
  const typing = event.target.matches("input, select, textarea");
  if (event.code !== "Space" || event.repeat || typing) return;
  if (event.target.matches("button, a, summary") && event.target !== tapButton) return;
  event.preventDefault();
  tap(event);
});

document.getElementById("untap").addEventListener("click", () => {
  taps.pop();
  show();
  summarize();
});
document.getElementById("anew").addEventListener("click", () => {
  taps = [];
  form.elements.recording.value = "";
  show();
  summarize();
});

form.addEventListener("change", (event) => {
  if (event.target === form.elements.recording && form.elements.recording.files.length) taps = [];
  if (event.target === form.elements.totals && form.elements.totals.value.trim()) {
    taps = [];
    form.elements.recording.value = "";
  }
  show();
  offerGate();
  summarize();
});

const gateOf = () => instrument.selectedOptions[0]?.dataset.gate;
const offerGate = () => {
  gate.hidden = !gateOf();
};

gate.addEventListener("click", async () => {
  const sentence = document.getElementById("gate-error");
  sentence.textContent = "";
  gate.disabled = true;
  gate.classList.add("waiting");
  try {
    const answer = await fetch(gateOf(), {
      method: "POST",
      headers: { "X-CSRFToken": form.elements.csrfmiddlewaretoken.value },
    });
    const passes = await answer.json();
    if (!answer.ok) {
      sentence.textContent = passes.message;
    } else {
      taps = passes.times;
      form.elements.timed_by.value = "gate";
      form.elements.recording.value = "";
      show();
      await summarize();
    }
  } catch {
    sentence.textContent = "No connection. Nothing was recorded; try again.";
  } finally {
    gate.disabled = false;
    gate.classList.remove("waiting");
  }
});

form.addEventListener("submit", () => {
  form.elements.times.value = JSON.stringify(taps);
});
show();
offerGate();
drawFit();
